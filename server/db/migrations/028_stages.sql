-- One word for each stage of an act: planned (in the outbox), sending (claimed by a worker, whose lease it holds, and
-- perhaps on its way), settled (done, held, cancelled). What waits for its account is planned too.
ALTER TABLE effects
  MODIFY status ENUM('due', 'planned', 'sending', 'account', 'done', 'held', 'cancelled') NOT NULL,
  MODIFY open_at DATETIME(3) AS (
    CASE WHEN status IN ('due', 'planned', 'sending', 'account')
      THEN COALESCE(due_at, parked_due_at, created_at) END) PERSISTENT,
  MODIFY slot_held DATETIME(3) AS (
    CASE WHEN status IN ('due', 'planned', 'sending', 'account') THEN slot_at END) PERSISTENT;
UPDATE effects SET status = 'planned' WHERE status = 'due';
ALTER TABLE effects
  MODIFY status ENUM('planned', 'sending', 'account', 'done', 'held', 'cancelled') NOT NULL,
  MODIFY open_at DATETIME(3) AS (
    CASE WHEN status IN ('planned', 'sending', 'account')
      THEN COALESCE(due_at, parked_due_at, created_at) END) PERSISTENT,
  MODIFY slot_held DATETIME(3) AS (
    CASE WHEN status IN ('planned', 'sending', 'account') THEN slot_at END) PERSISTENT;

-- The same in what runs keep. Quotes within texts are escaped there, so that none of these is ever found in a text.
UPDATE runs SET trace = REGEXP_REPLACE(trace, '("outlet":([0-9]+|null),"status":)"planned"', '\\1"would"')
  WHERE trace LIKE '%"status":"planned"%';
UPDATE runs SET trace = REGEXP_REPLACE(trace, '("outlet":([0-9]+|null),"status":)"(sending|doing)"', '\\1"planned"')
  WHERE trace LIKE '%"status":"sending"%' OR trace LIKE '%"status":"doing"%';
UPDATE runs SET state = REGEXP_REPLACE(state, '(("generation":[0-9]+|"key":"[^"]*"),"status":)"asked"', '\\1"planned"')
  WHERE state LIKE '%"status":"asked"%';

-- What gave way so that words fit is trimmed; wordings that take turns rotate.
UPDATE runs SET trace = REGEXP_REPLACE(trace, '"cut":(\\{"(text|title)":\\{"from":)', '"trimmed":\\1')
  WHERE trace LIKE '%"cut":{%';
UPDATE runs SET state = REGEXP_REPLACE(state, '"cut":(\\{"(text|title)":\\{"from":)', '"trimmed":\\1')
  WHERE state LIKE '%"cut":{%';
UPDATE runs SET state = REGEXP_REPLACE(state, '("waits":\\{[^{}]*\\},)"turns":', '\\1"rotations":')
  WHERE state LIKE '%"turns":%';
RENAME TABLE turns TO rotations;

-- People who wrote are contacts, also in what was written down of them.
UPDATE audit SET about = 'contact' WHERE about = 'person';
ALTER TABLE desk_entries MODIFY answered_by ENUM('workflow', 'person', 'user', 'there') NULL;
UPDATE desk_entries SET answered_by = 'user' WHERE answered_by = 'person';
ALTER TABLE desk_entries MODIFY answered_by ENUM('workflow', 'user', 'there') NULL;
