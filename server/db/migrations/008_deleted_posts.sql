-- A post that is out can be deleted at its network. The logbook keeps that it was out, and what it said.

ALTER TABLE logbook ADD COLUMN deleted_at DATETIME(3) NULL;
ALTER TABLE logbook_edits ADD COLUMN deletes TINYINT(1) NOT NULL DEFAULT 0;
