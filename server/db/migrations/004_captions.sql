-- Words of a brand's own that any wording can use by their name.
CREATE TABLE snippets (
  brand_id BIGINT NOT NULL,
  name VARCHAR(40) COLLATE utf8mb4_bin NOT NULL,
  text TEXT NOT NULL,
  changed_at DATETIME(3) NOT NULL,
  PRIMARY KEY (brand_id, name),
  FOREIGN KEY (brand_id) REFERENCES brands (id)
);

-- What a post said before it was edited at its network. The logbook holds what it says now.
CREATE TABLE logbook_edits (
  id BIGINT PRIMARY KEY AUTO_INCREMENT,
  brand_id BIGINT NOT NULL,
  logbook_id BIGINT NOT NULL,
  user_id BIGINT NOT NULL,
  text_before TEXT NOT NULL,
  text_after TEXT NOT NULL,
  -- asked before the network is, so that an edit nobody heard back about is known; made once it said yes.
  status ENUM('asked', 'made') NOT NULL,
  at DATETIME(3) NOT NULL,
  INDEX (brand_id, logbook_id),
  FOREIGN KEY (logbook_id) REFERENCES logbook (id)
);
