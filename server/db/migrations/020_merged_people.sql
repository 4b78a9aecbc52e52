-- Somebody who is known at several networks, or twice at one: the one they are known as from then on.
ALTER TABLE persons ADD COLUMN merged_into BIGINT NULL, ADD INDEX of_whole (merged_into);
