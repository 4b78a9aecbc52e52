-- The engine: every sort of act, waits and gatherings, what runs have a say in together, more ways of noticing.

ALTER TABLE effects
  MODIFY effect_key VARCHAR(240) COLLATE utf8mb4_bin NOT NULL,
  MODIFY step VARCHAR(120) NOT NULL,
  -- What no network does (a call, a label, a notice) has neither.
  MODIFY outlet_id BIGINT NULL,
  MODIFY account_id BIGINT NULL,
  MODIFY status ENUM('due', 'sending', 'account', 'done', 'held', 'cancelled') NOT NULL;

ALTER TABLE logbook
  MODIFY effect_key VARCHAR(240) COLLATE utf8mb4_bin NOT NULL,
  MODIFY outlet_id BIGINT NULL,
  ADD COLUMN action VARCHAR(20) NOT NULL DEFAULT 'publish',
  ADD COLUMN step VARCHAR(120) NOT NULL DEFAULT '',
  ADD INDEX (run_id);

ALTER TABLE items
  -- Grows when the source changes what it says; what it said before is in item_versions.
  ADD COLUMN revision INT NOT NULL DEFAULT 0,
  ADD INDEX (watch_id, seen_at);

CREATE TABLE item_versions (
  item_id BIGINT NOT NULL,
  revision INT NOT NULL,
  fields JSON NOT NULL,
  PRIMARY KEY (item_id, revision),
  FOREIGN KEY (item_id) REFERENCES items (id)
);

ALTER TABLE runs
  MODIFY status ENUM('new', 'waiting', 'held', 'done', 'stopped', 'cancelled') NOT NULL,
  -- An item that changes may be run again: 0 is its first appearance.
  ADD COLUMN occurrence INT NOT NULL DEFAULT 0,
  ADD COLUMN item_revision INT NOT NULL DEFAULT 0,
  -- Runs with the same value follow one another; SHA-256 of it.
  ADD COLUMN order_hash BINARY(32) NULL,
  -- Waits for other runs, not for a moment.
  ADD COLUMN queued TINYINT(1) NOT NULL DEFAULT 0,
  -- Part of the past that a workflow began with, so that it can be stopped.
  ADD COLUMN backfill TINYINT(1) NOT NULL DEFAULT 0,
  -- Its trace was let go by the retention rule.
  ADD COLUMN thinned TINYINT(1) NOT NULL DEFAULT 0,
  ADD UNIQUE appearance (workflow_id, item_id, occurrence),
  DROP INDEX workflow_id,
  ADD INDEX (workflow_id, status, id),
  ADD INDEX (workflow_id, order_hash, id),
  ADD INDEX (status, thinned, changed_at);

ALTER TABLE workflows
  ADD COLUMN failures_in_row INT NOT NULL DEFAULT 0,
  -- Why Playa itself paused it.
  ADD COLUMN paused_because VARCHAR(500) NULL;

-- Grows when something changes that compiled workflows are made of: outlets, renamed fields.
ALTER TABLE brands ADD COLUMN epoch INT NOT NULL DEFAULT 0;

ALTER TABLE watches
  -- Fields that people have renamed: from the path at the source to the name in Playa.
  ADD COLUMN names JSON NOT NULL DEFAULT '{}',
  -- When the source was slow to be seen, usually; milliseconds.
  ADD COLUMN usual_delay BIGINT NULL,
  -- How long until the next look, as its history suggests; milliseconds.
  ADD COLUMN interval_ms BIGINT NULL,
  -- Sources at one host share a budget of looks.
  ADD COLUMN host VARCHAR(255) NULL,
  ADD INDEX (host);

-- Who (or what) a workflow has let through, for "once per person".
CREATE TABLE passed (
  workflow_id BIGINT NOT NULL,
  by_hash BINARY(32) NOT NULL,
  brand_id BIGINT NOT NULL,
  run_id BIGINT NOT NULL,
  at DATETIME(3) NOT NULL,
  PRIMARY KEY (workflow_id, by_hash),
  FOREIGN KEY (workflow_id) REFERENCES workflows (id)
);

-- Which of several wordings was used last, by step.
CREATE TABLE turns (
  workflow_id BIGINT NOT NULL,
  step VARCHAR(120) COLLATE utf8mb4_bin NOT NULL,
  brand_id BIGINT NOT NULL,
  choice INT NOT NULL,
  PRIMARY KEY (workflow_id, step),
  FOREIGN KEY (workflow_id) REFERENCES workflows (id)
);

-- What is being gathered over many runs. The row goes when it is complete.
CREATE TABLE gatherings (
  id BIGINT PRIMARY KEY AUTO_INCREMENT,
  brand_id BIGINT NOT NULL,
  workflow_id BIGINT NOT NULL,
  step VARCHAR(120) COLLATE utf8mb4_bin NOT NULL,
  group_hash BINARY(32) NOT NULL,
  -- The run that carries it on.
  run_id BIGINT NOT NULL,
  closing JSON NOT NULL,
  opened_at DATETIME(3) NOT NULL,
  last_at DATETIME(3) NOT NULL,
  UNIQUE (workflow_id, step, group_hash),
  FOREIGN KEY (workflow_id) REFERENCES workflows (id)
);
CREATE TABLE gathered (
  id BIGINT PRIMARY KEY AUTO_INCREMENT,
  gathering_id BIGINT NOT NULL,
  ask_key VARCHAR(240) COLLATE utf8mb4_bin NOT NULL,
  value JSON NOT NULL,
  UNIQUE (gathering_id, ask_key),
  FOREIGN KEY (gathering_id) REFERENCES gatherings (id) ON DELETE CASCADE
);

-- When something was last sent or will be, for keeping a distance: by workflow, account and outlet.
CREATE TABLE paces (
  brand_id BIGINT NOT NULL,
  scope VARCHAR(60) NOT NULL,
  last_at DATETIME(3) NOT NULL,
  PRIMARY KEY (brand_id, scope)
);

-- What a network still allows: token buckets shared by all workers.
CREATE TABLE buckets (
  scope VARCHAR(60) PRIMARY KEY,
  tokens DOUBLE NOT NULL,
  at DATETIME(3) NOT NULL,
  blocked_until DATETIME(3) NULL
);

-- People who wrote to the brand.
CREATE TABLE persons (
  id BIGINT PRIMARY KEY AUTO_INCREMENT,
  brand_id BIGINT NOT NULL,
  remote_hash BINARY(32) NOT NULL,
  remote_id VARCHAR(500) NOT NULL,
  name VARCHAR(200) NOT NULL,
  first_at DATETIME(3) NOT NULL,
  UNIQUE (brand_id, remote_hash),
  INDEX (brand_id, name),
  FOREIGN KEY (brand_id) REFERENCES brands (id)
);
CREATE TABLE person_labels (
  person_id BIGINT NOT NULL,
  label VARCHAR(60) NOT NULL,
  brand_id BIGINT NOT NULL,
  at DATETIME(3) NOT NULL,
  PRIMARY KEY (person_id, label),
  INDEX (brand_id, label),
  FOREIGN KEY (person_id) REFERENCES persons (id)
);

-- What workflows, or Playa itself, tell colleagues.
CREATE TABLE notices (
  id BIGINT PRIMARY KEY AUTO_INCREMENT,
  brand_id BIGINT NOT NULL,
  user_id BIGINT NOT NULL,
  -- The same thing is told to the same person once.
  once_key VARCHAR(240) COLLATE utf8mb4_bin NOT NULL,
  workflow_id BIGINT NULL,
  run_id BIGINT NULL,
  text VARCHAR(2000) NOT NULL,
  at DATETIME(3) NOT NULL,
  seen_at DATETIME(3) NULL,
  UNIQUE (user_id, once_key),
  INDEX (brand_id, user_id, seen_at),
  FOREIGN KEY (brand_id) REFERENCES brands (id)
);

-- Secrets that calls may send, sealed by the vault.
CREATE TABLE secrets (
  brand_id BIGINT NOT NULL,
  name VARCHAR(80) NOT NULL,
  sealed VARBINARY(8000) NOT NULL,
  changed_at DATETIME(3) NOT NULL,
  PRIMARY KEY (brand_id, name),
  FOREIGN KEY (brand_id) REFERENCES brands (id)
);

-- Web hooks in: a secret address per watch.
CREATE TABLE hooks (
  watch_id BIGINT PRIMARY KEY,
  brand_id BIGINT NOT NULL,
  -- SHA-256 of the secret part of the address, and that part itself, sealed.
  token_hash BINARY(32) NOT NULL UNIQUE,
  sealed_token VARBINARY(400) NOT NULL,
  -- The key that senders sign with (Standard Webhooks); null when signatures are not asked for.
  sealed_secret VARBINARY(400) NULL,
  -- The field that tells one thing from another; null for the sender's own message id, or the body as a whole.
  identity_field VARCHAR(300) NULL,
  -- JSON Schema of the bodies, as learned and as edited.
  json_schema JSON NOT NULL,
  FOREIGN KEY (watch_id) REFERENCES watches (id)
);
CREATE TABLE deliveries (
  id BIGINT PRIMARY KEY AUTO_INCREMENT,
  watch_id BIGINT NOT NULL,
  brand_id BIGINT NOT NULL,
  -- What makes a replayed delivery the same.
  message_hash BINARY(32) NOT NULL,
  body MEDIUMBLOB NOT NULL,
  content_type VARCHAR(200) NOT NULL,
  received_at DATETIME(3) NOT NULL,
  test TINYINT(1) NOT NULL DEFAULT 0,
  -- Null until it was read; then the item it made, or why it made none.
  read_at DATETIME(3) NULL,
  item_id BIGINT NULL,
  trouble VARCHAR(500) NULL,
  UNIQUE (watch_id, message_hash),
  INDEX (read_at, id),
  INDEX (watch_id, id),
  FOREIGN KEY (watch_id) REFERENCES watches (id)
);

-- WebSub subscriptions to the hubs of watched feeds.
CREATE TABLE websub (
  watch_id BIGINT PRIMARY KEY,
  brand_id BIGINT NOT NULL,
  hub VARCHAR(2000) NOT NULL,
  topic VARCHAR(2000) NOT NULL,
  callback_hash BINARY(32) NOT NULL UNIQUE,
  sealed_callback VARBINARY(400) NOT NULL,
  sealed_secret VARBINARY(400) NOT NULL,
  -- idle: no live workflow listens, so nothing is asked of the hub.
  status ENUM('idle', 'asked', 'active', 'denied') NOT NULL,
  -- When the hub's lease ends; renewed before that.
  until DATETIME(3) NULL,
  renew_at DATETIME(3) NULL,
  trouble VARCHAR(500) NULL,
  last_push_at DATETIME(3) NULL,
  INDEX (renew_at),
  FOREIGN KEY (watch_id) REFERENCES watches (id)
);
