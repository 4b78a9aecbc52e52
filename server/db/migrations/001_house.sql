-- The house: people and brands, accounts and outlets, watches and items, workflows and runs, effects and the logbook.
-- Times are UTC with milliseconds. What belongs to a brand carries brand_id, and every query for it names it.

CREATE TABLE users (
  id BIGINT PRIMARY KEY AUTO_INCREMENT,
  email VARCHAR(254) NOT NULL UNIQUE,
  name VARCHAR(80) NOT NULL,
  password_hash VARCHAR(200) NOT NULL
);

CREATE TABLE brands (
  id BIGINT PRIMARY KEY AUTO_INCREMENT,
  name VARCHAR(80) NOT NULL,
  time_zone VARCHAR(64) NOT NULL,
  locale VARCHAR(35) NOT NULL
);

CREATE TABLE memberships (
  user_id BIGINT NOT NULL,
  brand_id BIGINT NOT NULL,
  PRIMARY KEY (user_id, brand_id),
  FOREIGN KEY (user_id) REFERENCES users (id),
  FOREIGN KEY (brand_id) REFERENCES brands (id)
);

CREATE TABLE sessions (
  -- SHA-256 of the token in the cookie, so that a copy of this table opens nothing.
  token_hash BINARY(32) PRIMARY KEY,
  user_id BIGINT NOT NULL,
  csrf CHAR(43) NOT NULL,
  created_at DATETIME(3) NOT NULL,
  expires_at DATETIME(3) NOT NULL,
  INDEX (expires_at),
  FOREIGN KEY (user_id) REFERENCES users (id)
);

CREATE TABLE sign_in_failures (
  id BIGINT PRIMARY KEY AUTO_INCREMENT,
  email VARCHAR(254) NOT NULL,
  address VARCHAR(64) NOT NULL,
  at DATETIME(3) NOT NULL,
  INDEX (email, at),
  INDEX (address, at)
);

CREATE TABLE accounts (
  id BIGINT PRIMARY KEY AUTO_INCREMENT,
  brand_id BIGINT NOT NULL,
  kind VARCHAR(20) NOT NULL,
  name VARCHAR(120) NOT NULL,
  -- Who it is at the network.
  remote_id VARCHAR(200) NOT NULL,
  remote_name VARCHAR(200) NOT NULL,
  -- Tokens, sealed by the vault. Null once disconnected.
  sealed VARBINARY(4000) NULL,
  token_expires_at DATETIME(3) NULL,
  status ENUM('ok', 'reconnect', 'disconnected') NOT NULL DEFAULT 'ok',
  trouble VARCHAR(500) NULL,
  connected_at DATETIME(3) NOT NULL,
  last_ok_at DATETIME(3) NULL,
  UNIQUE (brand_id, kind, remote_id),
  FOREIGN KEY (brand_id) REFERENCES brands (id)
);

CREATE TABLE consents (
  -- SHA-256 of the OAuth state.
  state_hash BINARY(32) PRIMARY KEY,
  brand_id BIGINT NOT NULL,
  user_id BIGINT NOT NULL,
  kind VARCHAR(20) NOT NULL,
  sealed_verifier VARBINARY(400) NOT NULL,
  back_to VARCHAR(300) NOT NULL,
  expires_at DATETIME(3) NOT NULL
);

CREATE TABLE outlets (
  id BIGINT PRIMARY KEY AUTO_INCREMENT,
  brand_id BIGINT NOT NULL,
  account_id BIGINT NOT NULL,
  kind VARCHAR(20) NOT NULL,
  remote_id VARCHAR(200) NOT NULL,
  name VARCHAR(200) NOT NULL,
  address VARCHAR(2000) NULL,
  feed VARCHAR(2000) NULL,
  -- When the network stopped listing it.
  gone_at DATETIME(3) NULL,
  UNIQUE (account_id, remote_id),
  INDEX (brand_id),
  FOREIGN KEY (account_id) REFERENCES accounts (id)
);

CREATE TABLE watches (
  id BIGINT PRIMARY KEY AUTO_INCREMENT,
  brand_id BIGINT NOT NULL,
  -- What makes two sources the same.
  source_key VARCHAR(600) COLLATE utf8mb4_bin NOT NULL,
  kind VARCHAR(20) NOT NULL,
  params JSON NOT NULL,
  name VARCHAR(200) NOT NULL,
  things VARCHAR(40) NOT NULL,
  -- ETag, Last-Modified and the last window, as the watcher of this kind remembers them.
  memory JSON NULL,
  every_seconds INT NOT NULL,
  first_look_at DATETIME(3) NULL,
  last_look_at DATETIME(3) NULL,
  last_ok_at DATETIME(3) NULL,
  failures INT NOT NULL DEFAULT 0,
  trouble VARCHAR(500) NULL,
  note VARCHAR(500) NULL,
  -- When it is to be looked at next; during a look, when the look counts as lost. Null while nothing uses it.
  due_at DATETIME(3) NULL,
  lease CHAR(36) NULL,
  UNIQUE (brand_id, source_key),
  INDEX (due_at),
  FOREIGN KEY (brand_id) REFERENCES brands (id)
);

CREATE TABLE items (
  id BIGINT PRIMARY KEY AUTO_INCREMENT,
  brand_id BIGINT NOT NULL,
  watch_id BIGINT NOT NULL,
  identity_hash BINARY(32) NOT NULL,
  identity TEXT NOT NULL,
  published_at DATETIME(3) NULL,
  seen_at DATETIME(3) NOT NULL,
  -- Already there when Playa first looked, or older than what was last seen: never started a workflow by itself.
  past TINYINT(1) NOT NULL,
  fields JSON NOT NULL,
  UNIQUE (watch_id, identity_hash),
  INDEX (watch_id, published_at),
  FOREIGN KEY (watch_id) REFERENCES watches (id)
);

CREATE TABLE workflows (
  id BIGINT PRIMARY KEY AUTO_INCREMENT,
  brand_id BIGINT NOT NULL,
  name VARCHAR(120) NOT NULL,
  status ENUM('draft', 'live', 'paused') NOT NULL DEFAULT 'draft',
  draft JSON NOT NULL,
  -- Grows with every save, so that two editors cannot silently overwrite each other.
  draft_revision INT NOT NULL DEFAULT 1,
  live_version INT NULL,
  created_at DATETIME(3) NOT NULL,
  changed_at DATETIME(3) NOT NULL,
  INDEX (brand_id),
  FOREIGN KEY (brand_id) REFERENCES brands (id)
);

CREATE TABLE versions (
  workflow_id BIGINT NOT NULL,
  number INT NOT NULL,
  brand_id BIGINT NOT NULL,
  definition JSON NOT NULL,
  user_id BIGINT NULL,
  created_at DATETIME(3) NOT NULL,
  PRIMARY KEY (workflow_id, number),
  FOREIGN KEY (workflow_id) REFERENCES workflows (id)
);

CREATE TABLE subscriptions (
  workflow_id BIGINT NOT NULL,
  watch_id BIGINT NOT NULL,
  brand_id BIGINT NOT NULL,
  PRIMARY KEY (workflow_id, watch_id),
  INDEX (watch_id),
  FOREIGN KEY (workflow_id) REFERENCES workflows (id),
  FOREIGN KEY (watch_id) REFERENCES watches (id)
);

CREATE TABLE runs (
  id BIGINT PRIMARY KEY AUTO_INCREMENT,
  -- Random: keys of effects are made from it, and must differ even after a backup was restored.
  uuid CHAR(36) NOT NULL UNIQUE,
  brand_id BIGINT NOT NULL,
  workflow_id BIGINT NOT NULL,
  version INT NOT NULL,
  item_id BIGINT NOT NULL,
  status ENUM('new', 'waiting', 'held', 'done', 'stopped') NOT NULL,
  state JSON NULL,
  trace JSON NOT NULL,
  -- Why the run itself could not go on; a fault of Playa's, not of a network.
  trouble VARCHAR(500) NULL,
  due_at DATETIME(3) NULL,
  -- Where due_at is kept while the workflow is paused.
  parked_due_at DATETIME(3) NULL,
  created_at DATETIME(3) NOT NULL,
  changed_at DATETIME(3) NOT NULL,
  UNIQUE (workflow_id, item_id),
  INDEX (due_at),
  INDEX (brand_id, status),
  INDEX (workflow_id, id),
  FOREIGN KEY (workflow_id) REFERENCES workflows (id),
  FOREIGN KEY (item_id) REFERENCES items (id)
);

CREATE TABLE effects (
  id BIGINT PRIMARY KEY AUTO_INCREMENT,
  effect_key VARCHAR(160) COLLATE utf8mb4_bin NOT NULL UNIQUE,
  brand_id BIGINT NOT NULL,
  workflow_id BIGINT NOT NULL,
  run_id BIGINT NOT NULL,
  step VARCHAR(40) NOT NULL,
  outlet_id BIGINT NOT NULL,
  account_id BIGINT NOT NULL,
  action VARCHAR(20) NOT NULL,
  input JSON NOT NULL,
  -- due: to be done. sending: claimed, perhaps already sent. account: waits for the account to be connected again.
  status ENUM('due', 'sending', 'account', 'done', 'held') NOT NULL,
  -- Whether an earlier try may have gone out without our hearing of it.
  unsure TINYINT(1) NOT NULL DEFAULT 0,
  failures INT NOT NULL DEFAULT 0,
  -- When to try; while sending, when the claim counts as lost. Null when there is nothing to do.
  due_at DATETIME(3) NULL,
  parked_due_at DATETIME(3) NULL,
  lease CHAR(36) NULL,
  trouble VARCHAR(1000) NULL,
  outcome JSON NULL,
  first_sent_at DATETIME(3) NULL,
  created_at DATETIME(3) NOT NULL,
  INDEX (due_at),
  INDEX (run_id),
  INDEX (account_id, status),
  FOREIGN KEY (run_id) REFERENCES runs (id)
);

CREATE TABLE logbook (
  id BIGINT PRIMARY KEY AUTO_INCREMENT,
  effect_key VARCHAR(160) COLLATE utf8mb4_bin NOT NULL UNIQUE,
  brand_id BIGINT NOT NULL,
  workflow_id BIGINT NOT NULL,
  run_id BIGINT NOT NULL,
  outlet_id BIGINT NOT NULL,
  text TEXT NOT NULL,
  card VARCHAR(2000) NULL,
  url VARCHAR(2000) NULL,
  remote_id VARCHAR(200) NOT NULL,
  at DATETIME(3) NOT NULL,
  INDEX (brand_id, at),
  INDEX (workflow_id, at)
);

CREATE TABLE changes (
  id BIGINT PRIMARY KEY AUTO_INCREMENT,
  brand_id BIGINT NOT NULL,
  topic VARCHAR(20) NOT NULL,
  ref BIGINT NULL,
  at DATETIME(3) NOT NULL,
  INDEX (at)
);

-- What is true of this installation as a whole.
CREATE TABLE facts (
  name VARCHAR(60) PRIMARY KEY,
  value VARCHAR(500) NOT NULL
);
