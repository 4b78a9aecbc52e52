-- What is gathered over many runs knows of its things, so that one that changes or is withdrawn reaches it, also between
-- its being complete and its going out: until then it is kept.
ALTER TABLE gathered
  ADD COLUMN run_id BIGINT NULL,
  -- Where in its run it was asked for.
  ADD COLUMN place VARCHAR(120) COLLATE utf8mb4_bin NOT NULL DEFAULT '',
  ADD INDEX of_run (run_id);
UPDATE gathered e JOIN runs r ON r.uuid = SUBSTRING_INDEX(e.ask_key, '.', 1)
  SET e.run_id = r.id, e.place = SUBSTRING_INDEX(SUBSTRING_INDEX(e.ask_key, '.', 2), '.', -1);

ALTER TABLE gatherings
  -- Where in the run that carries it on.
  ADD COLUMN place VARCHAR(120) COLLATE utf8mb4_bin NOT NULL DEFAULT '',
  -- Whether the last to come carries it on, not the first.
  ADD COLUMN by_last TINYINT(1) NOT NULL DEFAULT 0,
  ADD COLUMN closed_at DATETIME(3) NULL,
  -- Whether something in it has changed that the run that carries it on has yet to hear of.
  ADD COLUMN stale TINYINT(1) NOT NULL DEFAULT 0,
  -- One of them takes what comes; those that are complete do not.
  ADD COLUMN open_hash BINARY(32) AS (IF(closed_at IS NULL, group_hash, NULL)) PERSISTENT,
  ADD UNIQUE INDEX open_one (workflow_id, step, open_hash),
  ADD INDEX of_run (run_id),
  ADD INDEX of_brand (brand_id);
ALTER TABLE gatherings DROP INDEX workflow_id;
UPDATE gatherings g JOIN (SELECT gathering_id, MIN(id) AS first FROM gathered GROUP BY gathering_id) f ON f.gathering_id = g.id
  JOIN gathered e ON e.id = f.first SET g.place = e.place;
