-- Lagoon's own tables. Times are milliseconds since 1970, in Lagoon's own clock.
CREATE TABLE IF NOT EXISTS people (
  id INT PRIMARY KEY AUTO_INCREMENT,
  name VARCHAR(80) NOT NULL UNIQUE
);
CREATE TABLE IF NOT EXISTS sign_ins (token CHAR(43) PRIMARY KEY, person_id INT NOT NULL);
CREATE TABLE IF NOT EXISTS codes (
  code CHAR(43) PRIMARY KEY,
  service VARCHAR(20) NOT NULL,
  client_id VARCHAR(80) NOT NULL,
  person_id INT NOT NULL,
  redirect_uri VARCHAR(500) NOT NULL,
  challenge VARCHAR(128) NOT NULL,
  scope VARCHAR(200) NOT NULL,
  expires_at BIGINT NOT NULL,
  used TINYINT NOT NULL DEFAULT 0,
  grant_id CHAR(43) NULL
);
CREATE TABLE IF NOT EXISTS grants (
  id CHAR(43) PRIMARY KEY,
  service VARCHAR(20) NOT NULL,
  client_id VARCHAR(80) NOT NULL,
  person_id INT NOT NULL,
  scope VARCHAR(200) NOT NULL,
  revoked TINYINT NOT NULL DEFAULT 0,
  created_at BIGINT NOT NULL
);
CREATE TABLE IF NOT EXISTS tokens (
  token CHAR(43) PRIMARY KEY,
  grant_id CHAR(43) NOT NULL,
  kind ENUM('access', 'refresh') NOT NULL,
  expires_at BIGINT NOT NULL,
  used TINYINT NOT NULL DEFAULT 0,
  INDEX (grant_id)
);
CREATE TABLE IF NOT EXISTS channels (
  id CHAR(14) PRIMARY KEY,
  handle VARCHAR(40) NOT NULL UNIQUE,
  title VARCHAR(100) NOT NULL,
  about TEXT NOT NULL,
  owner_id INT NOT NULL
);
CREATE TABLE IF NOT EXISTS videos (
  id CHAR(9) PRIMARY KEY,
  channel_id CHAR(14) NOT NULL,
  title VARCHAR(200) NOT NULL,
  description TEXT NOT NULL,
  seconds INT NOT NULL,
  picture VARCHAR(60) NOT NULL,
  views INT NOT NULL DEFAULT 0,
  published_at BIGINT NOT NULL,
  INDEX (channel_id, published_at)
);
CREATE TABLE IF NOT EXISTS pages (
  id INT PRIMARY KEY AUTO_INCREMENT,
  slug VARCHAR(40) NOT NULL UNIQUE,
  title VARCHAR(100) NOT NULL,
  about VARCHAR(300) NOT NULL,
  picture VARCHAR(60) NOT NULL,
  owner_id INT NOT NULL
);
CREATE TABLE IF NOT EXISTS posts (
  id BIGINT PRIMARY KEY AUTO_INCREMENT,
  page_id INT NOT NULL,
  message TEXT NOT NULL,
  link VARCHAR(2000) NULL,
  preview JSON NULL,
  created_at BIGINT NOT NULL,
  edited_at BIGINT NULL,
  INDEX (page_id, created_at)
);
CREATE TABLE IF NOT EXISTS repeat_keys (
  client_id VARCHAR(80) NOT NULL,
  repeat_key VARCHAR(255) NOT NULL,
  body_hash CHAR(64) NOT NULL,
  post_id BIGINT NULL,
  created_at BIGINT NOT NULL,
  PRIMARY KEY (client_id, repeat_key)
);
-- Whatever the smaller services hold: posts, comments, rows, files. What is in one, its service knows.
CREATE TABLE IF NOT EXISTS things (
  id BIGINT PRIMARY KEY AUTO_INCREMENT,
  service VARCHAR(20) NOT NULL,
  kind VARCHAR(20) NOT NULL,
  parent BIGINT NULL,
  owner_id INT NULL,
  -- What it is called by, unique among those of its kind: a handle, a number.
  name_key VARCHAR(190) NULL,
  body JSON NOT NULL,
  created_at BIGINT NOT NULL,
  updated_at BIGINT NOT NULL,
  UNIQUE (service, kind, name_key),
  INDEX (service, kind, parent, created_at),
  INDEX (service, kind, owner_id)
) AUTO_INCREMENT = 70001;
-- Keys and bots: what a person hands to an application instead of a consent.
CREATE TABLE IF NOT EXISTS given_keys (
  token VARCHAR(60) PRIMARY KEY,
  service VARCHAR(20) NOT NULL,
  person_id INT NOT NULL,
  -- The bot that acts with it, where it is a bot's.
  thing_id BIGINT NULL,
  name VARCHAR(80) NOT NULL,
  revoked TINYINT NOT NULL DEFAULT 0,
  used BIGINT NOT NULL DEFAULT 0
);
UPDATE given_keys SET service = 'text-model' WHERE service = 'drafter';
-- Who wants to be told of what.
CREATE TABLE IF NOT EXISTS tells (
  id CHAR(22) PRIMARY KEY,
  service VARCHAR(20) NOT NULL,
  topic VARCHAR(20) NOT NULL,
  about BIGINT NOT NULL,
  callback VARCHAR(2000) NOT NULL,
  secret VARCHAR(200) NOT NULL,
  person_id INT NOT NULL,
  INDEX (service, topic, about)
);
-- WebSub subscribers of feeds.
CREATE TABLE IF NOT EXISTS hub_subscribers (
  callback VARCHAR(700) NOT NULL PRIMARY KEY,
  topic VARCHAR(700) NOT NULL,
  secret VARCHAR(200) NULL,
  until BIGINT NOT NULL
);
ALTER TABLE posts ADD COLUMN IF NOT EXISTS media JSON NULL;
-- What was called otherwise before.
UPDATE things SET kind = 'picture' WHERE service = 'boards' AND kind = 'pin';
UPDATE things SET kind = 'community' WHERE service = 'rooms' AND kind = 'server';
UPDATE things SET kind = 'group' WHERE service = 'rooms' AND kind = 'role';
UPDATE things SET body = REPLACE(body, '"roles"', '"groups"') WHERE service = 'rooms' AND kind = 'message';
