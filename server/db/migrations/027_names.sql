-- What the trade calls them: networks push news to an address they were given; text models draft words; contacts write to
-- a brand, users sign in.
RENAME TABLE bells TO push_subscriptions;
ALTER TABLE push_subscriptions RENAME COLUMN last_rung_at TO last_pushed_at;

UPDATE accounts SET kind = 'text-model' WHERE kind = 'drafter';
UPDATE consents SET kind = 'text-model' WHERE kind = 'drafter';
RENAME TABLE persons TO contacts, person_labels TO contact_labels;
ALTER TABLE contact_labels RENAME COLUMN person_id TO contact_id;
ALTER TABLE desk_entries RENAME COLUMN person_id TO contact_id, RENAME INDEX of_person TO of_contact;
ALTER TABLE journeys RENAME COLUMN person_id TO contact_id, RENAME INDEX of_person TO of_contact;
UPDATE contacts SET network = 'text-model' WHERE network = 'drafter';
