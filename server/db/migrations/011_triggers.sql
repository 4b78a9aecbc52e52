-- Of workflows that wait for a condition to turn true: what is known of each thing of theirs.
CREATE TABLE readiness (
  workflow_id BIGINT NOT NULL,
  item_id BIGINT NOT NULL,
  brand_id BIGINT NOT NULL,
  watch_id BIGINT NOT NULL,
  -- Whether the condition held when it was last looked at.
  holds TINYINT(1) NOT NULL,
  -- When it turns by itself, as the thing is now.
  turns_at DATETIME(3) NULL,
  PRIMARY KEY (workflow_id, item_id),
  INDEX turns (turns_at),
  INDEX planned (brand_id, turns_at),
  INDEX by_watch (workflow_id, watch_id),
  FOREIGN KEY (workflow_id) REFERENCES workflows (id) ON DELETE CASCADE,
  FOREIGN KEY (item_id) REFERENCES items (id) ON DELETE CASCADE
);

-- What of a source starts a workflow: what appears there, what changes, or what becomes so.
ALTER TABLE subscriptions ADD COLUMN starts ENUM('appears', 'changes', 'becomes') NOT NULL DEFAULT 'appears';
