-- What was done is looked at by what it was done to, and by whom.
ALTER TABLE audit
  ADD INDEX by_about (brand_id, about, id),
  ADD INDEX by_actor (brand_id, actor, actor_id, id);
