-- Mentions come to the desk: what others write about the brand elsewhere, or to what it wrote.
ALTER TABLE desk_entries MODIFY kind ENUM('review', 'comment', 'message', 'mention') NOT NULL;
