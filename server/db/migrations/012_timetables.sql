-- When outlets publish.
CREATE TABLE timetables (
  outlet_id BIGINT PRIMARY KEY,
  brand_id BIGINT NOT NULL,
  timetable LONGTEXT NOT NULL,
  revision INT NOT NULL DEFAULT 1,
  INDEX (brand_id),
  FOREIGN KEY (outlet_id) REFERENCES outlets (id)
);

ALTER TABLE effects
  -- When it was to go out, where that is not at once.
  ADD COLUMN planned_at DATETIME(3) NULL,
  -- The time of its outlet's timetable that it was given. It holds that as long as it has yet to go out: who cancels,
  -- skips or ends it gives it back, and nobody else is given it meanwhile.
  ADD COLUMN slot_at DATETIME(3) NULL,
  ADD COLUMN slot_held DATETIME(3) AS (CASE WHEN status IN ('due', 'sending', 'account') THEN slot_at END) PERSISTENT,
  ADD UNIQUE one_each (outlet_id, slot_held),
  ADD INDEX at_outlet (outlet_id, open_at);
