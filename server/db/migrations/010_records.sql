-- Records to read from: what screens show without reading the states of runs. All of it can be made again from the rest
-- (npm run rebuild-records).

-- When what has not been sent is to be sent, also while its workflow is paused. Null for what is settled, or held.
ALTER TABLE effects
  -- Which part of an act is at fault that a person is asked about.
  ADD COLUMN fault VARCHAR(20) NULL,
  ADD COLUMN open_at DATETIME(3) AS (
    CASE WHEN status IN ('due', 'sending', 'account') THEN COALESCE(due_at, parked_due_at, created_at) END) PERSISTENT,
  ADD INDEX open (brand_id, open_at);

-- When a run begins or wakes, also while its workflow is paused. Null for one that has ended, or waits for something else.
ALTER TABLE runs
  ADD COLUMN wakes_at DATETIME(3) AS (
    CASE WHEN status IN ('new', 'waiting', 'held') THEN COALESCE(due_at, parked_due_at) END) PERSISTENT,
  ADD INDEX wakes (brand_id, wakes_at),
  ADD INDEX by_item (item_id, status);

-- What appeared lately; the newest of a source; and what has changed since a screen last asked, by the database's clock.
ALTER TABLE items
  ADD COLUMN moment DATETIME(3) AS (COALESCE(published_at, seen_at)) PERSISTENT,
  ADD COLUMN touched_at DATETIME(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3) ON UPDATE CURRENT_TIMESTAMP(3),
  ADD INDEX appeared (brand_id, past, seen_at),
  ADD INDEX newest (watch_id, moment, id),
  ADD INDEX touched (watch_id, touched_at);

-- What an outlet has said lately.
ALTER TABLE logbook ADD INDEX said (outlet_id, at);

-- Which revision of a draft a change is of.
ALTER TABLE changes ADD COLUMN revision INT NULL;

-- Which posts a version may come to, from its beginning on.
CREATE TABLE version_posts (
  workflow_id BIGINT NOT NULL,
  version INT NOT NULL,
  step VARCHAR(60) COLLATE utf8mb4_bin NOT NULL,
  outlet_id BIGINT NOT NULL,
  brand_id BIGINT NOT NULL,
  -- Nothing before it may end the run or take another way.
  sure TINYINT(1) NOT NULL,
  -- As on the sheet.
  place INT NOT NULL,
  PRIMARY KEY (workflow_id, version, step, outlet_id),
  FOREIGN KEY (workflow_id) REFERENCES workflows (id) ON DELETE CASCADE
);

-- Which posts a run that waits for a moment may still come to.
CREATE TABLE posts_ahead (
  run_id BIGINT NOT NULL,
  step VARCHAR(60) COLLATE utf8mb4_bin NOT NULL,
  outlet_id BIGINT NOT NULL,
  brand_id BIGINT NOT NULL,
  sure TINYINT(1) NOT NULL,
  place INT NOT NULL,
  PRIMARY KEY (run_id, step, outlet_id),
  FOREIGN KEY (run_id) REFERENCES runs (id) ON DELETE CASCADE
);

-- What waits for a person.
CREATE TABLE held (
  run_id BIGINT NOT NULL,
  -- Empty when the run itself is stuck.
  effect_key VARCHAR(240) COLLATE utf8mb4_bin NOT NULL,
  brand_id BIGINT NOT NULL,
  workflow_id BIGINT NOT NULL,
  item_id BIGINT NOT NULL,
  outlet_id BIGINT NULL,
  action VARCHAR(20) NULL,
  input LONGTEXT NULL,
  says VARCHAR(2000) NOT NULL,
  trouble VARCHAR(20) NOT NULL,
  -- Which part of it is at fault.
  fault VARCHAR(20) NULL,
  -- The order in which the run holds them.
  place INT NOT NULL,
  since DATETIME(3) NOT NULL,
  PRIMARY KEY (run_id, effect_key),
  INDEX (brand_id, since, run_id, place),
  FOREIGN KEY (run_id) REFERENCES runs (id) ON DELETE CASCADE
);

-- How many runs and acts there were, by the brand's days; the day 1000-01-01 has all of them together.
CREATE TABLE counts (
  brand_id BIGINT NOT NULL,
  day DATE NOT NULL,
  workflow_id BIGINT NOT NULL,
  -- What is counted: runs, on the day they were made, by where they stand; acts that were done, by what they are.
  what ENUM('run', 'act') NOT NULL,
  state VARCHAR(20) NOT NULL,
  -- 0 for what has none.
  outlet_id BIGINT NOT NULL,
  n INT NOT NULL,
  PRIMARY KEY (brand_id, day, workflow_id, what, state, outlet_id)
);
-- What is still to be added to them. Only inserted, so that nobody waits for anybody to count.
CREATE TABLE counts_to_add (
  id BIGINT PRIMARY KEY AUTO_INCREMENT,
  brand_id BIGINT NOT NULL,
  at DATETIME(3) NOT NULL,
  workflow_id BIGINT NOT NULL,
  what ENUM('run', 'act') NOT NULL,
  state VARCHAR(20) NOT NULL,
  outlet_id BIGINT NOT NULL,
  n INT NOT NULL,
  INDEX (brand_id)
);

-- What is put on a board is a picture; a community's members who are called together are a group.
UPDATE items i JOIN watches w ON w.id = i.watch_id
  SET i.identity = CONCAT('picture:', SUBSTRING(i.identity, 5)),
    i.identity_hash = UNHEX(SHA2(CONCAT('picture:', SUBSTRING(i.identity, 5)), 256))
  WHERE w.kind = 'network' AND JSON_VALUE(w.params, '$.what') = 'pins' AND i.identity LIKE 'pin:%';
UPDATE watches
  SET source_key = REPLACE(source_key, ':pins:', ':pictures:'), things = 'pictures', name = REPLACE(name, ': pins', ': pictures'),
    memory = REPLACE(memory, '"pin:', '"picture:'), params = JSON_REPLACE(params, '$.what', 'pictures')
  WHERE kind = 'network' AND JSON_VALUE(params, '$.what') = 'pins';
UPDATE outlets SET details = REPLACE(details, '"roles":', '"groups":') WHERE kind = 'room';
