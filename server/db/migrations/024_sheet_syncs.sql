-- Sheets of Playa's own that are kept in step with a table elsewhere.
CREATE TABLE sheet_syncs (
  id BIGINT PRIMARY KEY AUTO_INCREMENT,
  brand_id BIGINT NOT NULL,
  sheet_id BIGINT NOT NULL,
  -- The table elsewhere.
  outlet_id BIGINT NOT NULL,
  -- Checked by core/sheets/sync.ts.
  rules LONGTEXT NOT NULL,
  state ENUM('on', 'paused') NOT NULL DEFAULT 'on',
  -- When rows that were on both sides have been paired.
  joined_at DATETIME(3) NULL,
  -- When both sides are compared next; whoever does it holds the lease until then.
  due_at DATETIME(3) NOT NULL,
  lease CHAR(36) NULL,
  failures INT NOT NULL DEFAULT 0,
  -- What keeps both sides apart, in words.
  trouble VARCHAR(500) NULL,
  -- Many rows are missing on a side: { side, rows, of }. Nothing is deleted before a person has looked.
  vanished VARCHAR(200) NULL,
  -- What that person said.
  on_vanished ENUM('ask', 'delete', 'again') NOT NULL DEFAULT 'ask',
  -- Cells that were refused or overwritten: a list of { row, key, why, says }, the newest last.
  remarks LONGTEXT NOT NULL,
  -- When both sides last said the same.
  synced_at DATETIME(3) NULL,
  created_at DATETIME(3) NOT NULL,
  UNIQUE (sheet_id),
  INDEX (state, due_at),
  INDEX (brand_id, outlet_id),
  FOREIGN KEY (sheet_id) REFERENCES sheets (id),
  FOREIGN KEY (outlet_id) REFERENCES outlets (id)
);

-- Which row is which, and what they said when both sides last agreed.
CREATE TABLE sheet_sync_rows (
  sync_id BIGINT NOT NULL,
  row_id BIGINT NOT NULL,
  -- Null while it is not known whether the row has been added there.
  remote_id VARCHAR(190) NULL,
  -- By what the network knows that addition again, and the cells that are sent with it.
  add_key VARCHAR(60) NULL,
  adding LONGTEXT NULL,
  -- By the keys of columns, a mark of what stood here and there: { key: { here, there } }. Marks tell whether a cell has
  -- changed and say nothing, so that nobody who is forgotten is remembered here.
  agreed LONGTEXT NOT NULL,
  PRIMARY KEY (sync_id, row_id),
  FOREIGN KEY (sync_id) REFERENCES sheet_syncs (id) ON DELETE CASCADE,
  FOREIGN KEY (row_id) REFERENCES sheet_rows (id)
);
