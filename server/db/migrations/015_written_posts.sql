-- Posts that people write by hand, from idea to ready. One that is ready has an item at the brand's own source of such
-- posts, and a run of the workflow that Playa keeps for them: what is sent goes the way that everything goes.
CREATE TABLE written_posts (
  id BIGINT PRIMARY KEY AUTO_INCREMENT,
  brand_id BIGINT NOT NULL,
  state ENUM('idea', 'draft', 'ready') NOT NULL,
  post LONGTEXT NOT NULL,
  -- The first and the last moment at which it goes somewhere; null where it has none, or a timetable says.
  first_at DATETIME(3) NULL,
  last_at DATETIME(3) NULL,
  -- Grows with every change, so that two people cannot silently overwrite each other.
  revision INT NOT NULL DEFAULT 1,
  item_id BIGINT NULL UNIQUE,
  -- SHA-256 of what somebody said yes to: other words have no yes.
  approved BINARY(32) NULL,
  approved_by BIGINT NULL,
  approved_at DATETIME(3) NULL,
  made_by BIGINT NULL,
  -- Whose words they are: who changed them last.
  worded_by BIGINT NULL,
  created_at DATETIME(3) NOT NULL,
  changed_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  -- Most are over: what ends after a moment is soon found.
  INDEX in_calendar (brand_id, last_at),
  INDEX without_time (brand_id, first_at, changed_at),
  FOREIGN KEY (brand_id) REFERENCES brands (id),
  FOREIGN KEY (item_id) REFERENCES items (id)
);

-- Who has to say yes to a post before it goes out.
ALTER TABLE brands ADD COLUMN posts_approved_by ENUM('nobody', 'anybody', 'another') NOT NULL DEFAULT 'nobody';

-- What Playa keeps a workflow for, where it does so itself.
ALTER TABLE workflows ADD COLUMN own VARCHAR(20) NULL, ADD UNIQUE one_of_own (brand_id, own);

-- A brand's calendar has an address of its own too: what is planned is for fewer people than what is out.
ALTER TABLE brand_feeds
  ADD COLUMN feed ENUM('published', 'calendar') NOT NULL DEFAULT 'published',
  DROP PRIMARY KEY,
  ADD PRIMARY KEY (brand_id, feed);
