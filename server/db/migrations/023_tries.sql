-- What was tried in vain before an act went out, or was given up: a list of { at, kind, says }, the oldest first.
ALTER TABLE effects ADD COLUMN tries LONGTEXT NULL;
