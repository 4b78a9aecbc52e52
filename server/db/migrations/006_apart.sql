-- Each thing stands by itself: what cannot be taken is set aside with its reason, and holds up nothing else.

-- What Playa could not take or read, until a person has seen it.
CREATE TABLE set_aside (
  id BIGINT PRIMARY KEY AUTO_INCREMENT,
  brand_id BIGINT NOT NULL,
  -- delivery, item, act
  kind VARCHAR(20) NOT NULL,
  -- The same thing is told once, however often it is met.
  once_hash BINARY(32) NOT NULL,
  watch_id BIGINT NULL,
  workflow_id BIGINT NULL,
  run_id BIGINT NULL,
  -- What it is, in the words of whoever looks: a title, an identifier.
  what VARCHAR(300) NOT NULL,
  why VARCHAR(500) NOT NULL,
  at DATETIME(3) NOT NULL,
  seen_at DATETIME(3) NULL,
  UNIQUE (brand_id, once_hash),
  INDEX (brand_id, seen_at, id),
  INDEX (watch_id),
  FOREIGN KEY (brand_id) REFERENCES brands (id)
);

-- Playa's own documents are checked by Zod when they are read. The database's check of JSON refuses what is nested more
-- than 32 deep and takes the whole transaction down with it, so it is left to columns that SQL looks into.
ALTER TABLE runs
  MODIFY state LONGTEXT NULL,
  MODIFY trace LONGTEXT NOT NULL;
ALTER TABLE effects
  MODIFY outcome LONGTEXT NULL;
ALTER TABLE items MODIFY fields LONGTEXT NOT NULL;
ALTER TABLE item_versions MODIFY fields LONGTEXT NOT NULL;
ALTER TABLE gathered MODIFY value LONGTEXT NOT NULL;
ALTER TABLE hooks MODIFY json_schema LONGTEXT NOT NULL;

-- An act of a network that answers with long addresses or identifiers is done all the same.
ALTER TABLE logbook
  MODIFY text MEDIUMTEXT NOT NULL,
  MODIFY remote_id VARCHAR(1000) NOT NULL;
ALTER TABLE items MODIFY identity MEDIUMTEXT NOT NULL;

-- Somebody of one network is not whoever has the same number at another.
ALTER TABLE persons ADD COLUMN network VARCHAR(20) NOT NULL DEFAULT '';
ALTER TABLE persons DROP INDEX brand_id;
ALTER TABLE persons ADD UNIQUE person (brand_id, network, remote_hash), ADD INDEX (brand_id, name);
ALTER TABLE effects MODIFY input LONGTEXT NOT NULL;
ALTER TABLE watches MODIFY memory LONGTEXT NULL;
ALTER TABLE workflows MODIFY draft LONGTEXT NOT NULL;
ALTER TABLE versions MODIFY definition LONGTEXT NOT NULL;

-- What a sender without message ids is known by: the same body within an hour is the sender trying again.
ALTER TABLE deliveries
  ADD COLUMN body_hash BINARY(32) NULL,
  ADD INDEX (watch_id, body_hash, received_at);

-- Signing in: how many tries a person, a place or a device has left, counted in one statement each.
DROP TABLE sign_in_failures;
CREATE TABLE sign_in_tries (
  -- SHA-256 of what is counted for, so that this table tells nothing about people.
  scope BINARY(32) PRIMARY KEY,
  tokens DOUBLE NOT NULL,
  at DATETIME(3) NOT NULL,
  INDEX (at)
);
-- Devices at which a person has signed in before: they are counted for themselves.
CREATE TABLE devices (
  token_hash BINARY(32) PRIMARY KEY,
  user_id BIGINT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  last_at DATETIME(3) NOT NULL,
  INDEX (user_id),
  INDEX (last_at),
  FOREIGN KEY (user_id) REFERENCES users (id)
);
