-- Every kind of network: keys beside consents, outlets that say more of themselves, watches that ask a network, bells.

ALTER TABLE accounts
  MODIFY remote_id VARCHAR(300) NOT NULL,
  -- What was given at the consent, with spaces between; null when the network does not say, or a key was handed over.
  ADD COLUMN scopes VARCHAR(1000) NULL;

ALTER TABLE outlets
  MODIFY remote_id VARCHAR(300) NOT NULL,
  -- Columns of a table, roles of a room: what those who choose want to know.
  ADD COLUMN details JSON NOT NULL DEFAULT '{}',
  -- Added by its address, since the network does not list it.
  ADD COLUMN by_hand TINYINT(1) NOT NULL DEFAULT 0,
  -- What the last look at the permissions found missing, and how to mend it. Null when nothing is.
  ADD COLUMN trouble VARCHAR(500) NULL,
  ADD COLUMN remedy VARCHAR(500) NULL,
  ADD COLUMN checked_at DATETIME(3) NULL;

ALTER TABLE watches
  -- The account that is asked, for what only a sign-in can see.
  ADD COLUMN account_id BIGINT NULL,
  ADD INDEX (account_id);

-- Networks that tell: each bell has an address of its own that the network calls. What it says is not believed; it only
-- makes Playa look.
CREATE TABLE bells (
  watch_id BIGINT PRIMARY KEY,
  brand_id BIGINT NOT NULL,
  token_hash BINARY(32) NOT NULL UNIQUE,
  sealed_secret VARBINARY(400) NOT NULL,
  -- The network's own name for it.
  remote_id VARCHAR(300) NOT NULL,
  since DATETIME(3) NOT NULL,
  last_rung_at DATETIME(3) NULL,
  FOREIGN KEY (watch_id) REFERENCES watches (id)
);

-- How many calls an account has made, by the hour.
CREATE TABLE account_calls (
  account_id BIGINT NOT NULL,
  hour DATETIME(3) NOT NULL,
  calls INT NOT NULL,
  PRIMARY KEY (account_id, hour)
);
