-- Which rows a run has written: asked when somebody is to be forgotten.
ALTER TABLE sheet_history ADD INDEX done_by (actor, actor_id);
