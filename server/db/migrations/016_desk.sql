-- The desk: what people wrote to a brand, and where it stands. The words themselves are the items'.
CREATE TABLE desk_entries (
  item_id BIGINT PRIMARY KEY,
  brand_id BIGINT NOT NULL,
  outlet_id BIGINT NULL,
  kind ENUM('review', 'comment', 'message') NOT NULL,
  person_id BIGINT NULL,
  -- What the network answers to: the id of the review or comment, or of the person.
  answers_to VARCHAR(500) COLLATE utf8mb4_bin NOT NULL,
  said_at DATETIME(3) NOT NULL,
  stars TINYINT NULL,
  form ENUM('nothing', 'emoji', 'signs', 'words', 'sentences') NOT NULL,
  language VARCHAR(8) NOT NULL,
  tone ENUM('glad', 'plain', 'cross') NULL,
  question TINYINT(1) NOT NULL,
  -- open: waits for an answer. old: was there before Playa looked, and is left alone unless somebody takes it up.
  state ENUM('open', 'answered', 'ignored', 'gone', 'old') NOT NULL,
  -- Who answered: a workflow, a person at the desk, or somebody at the network itself.
  answered_by ENUM('workflow', 'person', 'there') NULL,
  answered_at DATETIME(3) NULL,
  answered_user BIGINT NULL,
  answer TEXT NULL,
  -- What somebody has typed and not sent; why it could not be sent.
  draft TEXT NULL,
  trouble VARCHAR(500) NULL,
  -- The last answer that was written by hand, as the item it is to the engine.
  answer_item BIGINT NULL,
  assigned_to BIGINT NULL,
  snoozed_until DATETIME(3) NULL,
  -- Who has it open to answer it.
  opened_by BIGINT NULL,
  opened_until DATETIME(3) NULL,
  INDEX waiting (brand_id, state, said_at, item_id),
  INDEX answers_what (outlet_id, answers_to(100)),
  INDEX of_person (person_id, said_at),
  INDEX put_off (brand_id, snoozed_until),
  FOREIGN KEY (item_id) REFERENCES items (id) ON DELETE CASCADE,
  FOREIGN KEY (brand_id) REFERENCES brands (id)
);

-- Answers that somebody has sent off, for as long as they can be called back.
CREATE TABLE desk_sends (
  item_id BIGINT PRIMARY KEY,
  brand_id BIGINT NOT NULL,
  -- What a workflow holds for a yes, where that is what is sent.
  run_id BIGINT NULL,
  effect_key VARCHAR(240) COLLATE utf8mb4_bin NULL,
  text TEXT NOT NULL,
  -- The words that it answers, as whoever sent it saw them.
  was LONGTEXT NOT NULL,
  user_id BIGINT NOT NULL,
  due_at DATETIME(3) NOT NULL,
  INDEX (due_at),
  FOREIGN KEY (item_id) REFERENCES desk_entries (item_id) ON DELETE CASCADE
);

-- Looked at for the desk, whether or not a workflow wants it.
ALTER TABLE watches ADD COLUMN desk TINYINT(1) NOT NULL DEFAULT 0;

-- People: when they last wrote (or were first known), what colleagues noted, and whether they are left alone.
ALTER TABLE persons
  ADD COLUMN last_at DATETIME(3) NULL,
  ADD COLUMN last_text VARCHAR(300) NULL,
  ADD COLUMN notes TEXT NULL,
  ADD COLUMN left_alone_at DATETIME(3) NULL,
  ADD COLUMN left_alone_because VARCHAR(300) NULL,
  ADD INDEX last_word (brand_id, last_at);
UPDATE persons SET last_at = first_at;

-- Words by which somebody asks not to be written to any more.
ALTER TABLE brands
  ADD COLUMN stop_words VARCHAR(500) NOT NULL DEFAULT 'stop, unsubscribe',
  -- Which answers go out by themselves; null as long as nobody has said anything.
  ADD COLUMN policy LONGTEXT NULL;
