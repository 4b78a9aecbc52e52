-- How a brand sounds when it answers; null as long as nobody has said anything.
ALTER TABLE brands ADD COLUMN voice LONGTEXT NULL;
-- What was answered last at a place: an answer that begins alike is not sent.
ALTER TABLE desk_entries ADD INDEX answered_last (outlet_id, answered_at);

-- Counting what people wrote over a stretch reads this index alone.
ALTER TABLE desk_entries
  ADD INDEX counted (brand_id, said_at, kind, outlet_id, stars, state, answered_by, answered_at);

-- People whom a workflow wrote to: when it first did, and when they wrote again. One for each run.
CREATE TABLE journeys (
  run_id BIGINT PRIMARY KEY,
  brand_id BIGINT NOT NULL,
  workflow_id BIGINT NOT NULL,
  person_id BIGINT NOT NULL,
  first_at DATETIME(3) NOT NULL,
  again_at DATETIME(3) NULL,
  stopped_at DATETIME(3) NULL,
  INDEX counted (workflow_id, first_at, again_at, stopped_at),
  INDEX of_person (person_id, first_at),
  FOREIGN KEY (brand_id) REFERENCES brands (id)
);
INSERT INTO journeys (run_id, brand_id, workflow_id, person_id, first_at, again_at, stopped_at)
  SELECT first.run_id, first.brand_id, first.workflow_id, first.person_id, first.at,
    (SELECT MIN(e.said_at) FROM desk_entries e WHERE e.person_id = first.person_id AND e.said_at > first.at),
    IF(p.left_alone_at > first.at, p.left_alone_at, NULL)
  FROM (
    SELECT l.run_id, l.brand_id, l.workflow_id, d.person_id, MIN(l.at) AS at
    FROM logbook l JOIN runs r ON r.id = l.run_id JOIN desk_entries d ON d.item_id = r.item_id
      JOIN workflows f ON f.id = l.workflow_id
    WHERE l.action IN ('reply', 'message') AND d.person_id IS NOT NULL AND f.own IS NULL
    GROUP BY l.run_id
  ) first JOIN persons p ON p.id = first.person_id;

-- What somebody wrote who asked to be forgotten: its source goes on showing it, and it is not read again.
ALTER TABLE items ADD COLUMN erased TINYINT(1) NOT NULL DEFAULT 0;

-- What is sent off had an answer already, and gets another on purpose.
ALTER TABLE desk_sends ADD COLUMN again TINYINT(1) NOT NULL DEFAULT 0;
