-- Whether the run of an act was gone through anew, or ended, while it was on its way: if it turns out not to have been sent,
-- it is not tried again as it was.
ALTER TABLE effects ADD COLUMN overtaken TINYINT NOT NULL DEFAULT 0;
