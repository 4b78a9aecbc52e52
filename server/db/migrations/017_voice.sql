-- How a brand sounds when it answers; null as long as nobody has said anything.
ALTER TABLE brands ADD COLUMN voice LONGTEXT NULL;
-- What was answered last at a place: an answer that begins alike is not sent.
ALTER TABLE desk_entries ADD INDEX answered_last (outlet_id, answered_at);
