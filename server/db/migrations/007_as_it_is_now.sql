-- What a person decides is what goes out, about the thing as it is now.

ALTER TABLE runs
  -- The thing it is about says something else since: it is brought up to date when it is next taken.
  ADD COLUMN changed TINYINT(1) NOT NULL DEFAULT 0,
  -- It ended because the thing changed, before anything was done: another change may bring it back.
  ADD COLUMN withdrawn TINYINT(1) NOT NULL DEFAULT 0;

ALTER TABLE items
  -- The source no longer has it.
  ADD COLUMN gone TINYINT(1) NOT NULL DEFAULT 0;

-- Which act answers what somebody wrote, so that two workflows do not answer it beside each other.
CREATE TABLE answering (
  brand_id BIGINT NOT NULL,
  account_id BIGINT NOT NULL,
  -- SHA-256 of the network's own id of what is answered.
  about_hash BINARY(32) NOT NULL,
  effect_key VARCHAR(240) COLLATE utf8mb4_bin NOT NULL,
  run_id BIGINT NOT NULL,
  workflow_id BIGINT NOT NULL,
  at DATETIME(3) NOT NULL,
  PRIMARY KEY (brand_id, account_id, about_hash),
  INDEX (at),
  FOREIGN KEY (brand_id) REFERENCES brands (id)
);
