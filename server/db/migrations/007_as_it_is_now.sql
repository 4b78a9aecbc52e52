-- What a person decides is what goes out, about the thing as it is now.

ALTER TABLE runs
  -- The thing it is about says something else since: it is brought up to date when it is next taken.
  ADD COLUMN changed TINYINT(1) NOT NULL DEFAULT 0,
  -- It ended because the thing changed, before anything was done: another change may bring it back.
  ADD COLUMN withdrawn TINYINT(1) NOT NULL DEFAULT 0;

ALTER TABLE items
  -- The source no longer has it.
  ADD COLUMN gone TINYINT(1) NOT NULL DEFAULT 0,
  -- Playa itself has published it: it is shown, and starts nothing unless a workflow wants it.
  ADD COLUMN own TINYINT(1) NOT NULL DEFAULT 0;

-- Which act says something, so that two workflows do not answer the same, or say the same words, beside each other.
CREATE TABLE claims (
  brand_id BIGINT NOT NULL,
  -- SHA-256 of what is claimed.
  about_hash BINARY(32) NOT NULL,
  effect_key VARCHAR(240) COLLATE utf8mb4_bin NOT NULL,
  run_id BIGINT NOT NULL,
  workflow_id BIGINT NOT NULL,
  at DATETIME(3) NOT NULL,
  PRIMARY KEY (brand_id, about_hash),
  INDEX (at),
  FOREIGN KEY (brand_id) REFERENCES brands (id)
);

-- What Playa itself has made, by SHA-256 of its place there or of its address, so that it is known again at a source.
CREATE TABLE own_things (
  brand_id BIGINT NOT NULL,
  about_hash BINARY(32) NOT NULL,
  -- What was last written into a row, by column; null for what was published.
  wrote LONGTEXT NULL,
  -- Which workflow did; null for what was published before this was kept.
  workflow_id BIGINT NULL,
  at DATETIME(3) NOT NULL,
  PRIMARY KEY (brand_id, about_hash),
  FOREIGN KEY (brand_id) REFERENCES brands (id)
);
INSERT IGNORE INTO own_things (brand_id, about_hash, wrote, at)
  SELECT brand_id, UNHEX(SHA2(CONCAT(outlet_id, '\n', remote_id), 256)), NULL, at FROM logbook
  WHERE action = 'publish' AND outlet_id IS NOT NULL AND remote_id <> '';
INSERT IGNORE INTO own_things (brand_id, about_hash, wrote, at)
  SELECT brand_id, UNHEX(SHA2(TRIM(TRAILING '/' FROM SUBSTRING_INDEX(SUBSTRING_INDEX(url, '#', 1), '?', 1)), 256)), NULL, at
  FROM logbook WHERE action = 'publish' AND url IS NOT NULL;

ALTER TABLE effects ADD INDEX sent_there (workflow_id, outlet_id, created_at);

ALTER TABLE workflows
  -- Since when it is paused: what appears from then on is kept for when it goes on.
  ADD COLUMN paused_at DATETIME(3) NULL,
  -- Posts before this moment no longer count towards the brake: somebody has let it go on.
  ADD COLUMN brake_from DATETIME(3) NULL;

-- A secret address that was replaced goes on working for a day, and can be taken back.
ALTER TABLE hooks
  ADD COLUMN old_token_hash BINARY(32) NULL UNIQUE,
  ADD COLUMN old_sealed_token VARBINARY(400) NULL,
  ADD COLUMN old_until DATETIME(3) NULL;
