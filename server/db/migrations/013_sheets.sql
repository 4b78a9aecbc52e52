-- Sheets of Playa's own: tables with typed columns that people and workflows fill in.
CREATE TABLE sheets (
  id BIGINT PRIMARY KEY AUTO_INCREMENT,
  brand_id BIGINT NOT NULL,
  name VARCHAR(120) NOT NULL,
  -- Checked by core/sheets/column.ts.
  columns LONGTEXT NOT NULL,
  -- Grows when its columns or its name change.
  revision INT NOT NULL DEFAULT 1,
  -- Sorting, filters and hidden columns under names.
  views LONGTEXT NOT NULL,
  -- Counts every change of a row, so that open screens ask only for what they have not seen.
  changes BIGINT NOT NULL DEFAULT 0,
  outlet_id BIGINT NOT NULL,
  watch_id BIGINT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  INDEX (brand_id, deleted_at),
  UNIQUE (outlet_id),
  UNIQUE (watch_id),
  FOREIGN KEY (brand_id) REFERENCES brands (id)
);

CREATE TABLE sheet_rows (
  id BIGINT PRIMARY KEY AUTO_INCREMENT,
  brand_id BIGINT NOT NULL,
  sheet_id BIGINT NOT NULL,
  -- Where it stands while nobody sorts.
  place BIGINT NOT NULL,
  cells LONGTEXT NOT NULL,
  revision INT NOT NULL DEFAULT 1,
  -- The sheet's count at its last change.
  changed BIGINT NOT NULL,
  created_at DATETIME(3) NOT NULL,
  changed_at DATETIME(3) NOT NULL,
  deleted_at DATETIME(3) NULL,
  INDEX (sheet_id, changed),
  INDEX (sheet_id, deleted_at, place),
  FOREIGN KEY (sheet_id) REFERENCES sheets (id)
);

-- What was changed in a row, by whom or by which run.
CREATE TABLE sheet_history (
  id BIGINT PRIMARY KEY AUTO_INCREMENT,
  brand_id BIGINT NOT NULL,
  row_id BIGINT NOT NULL,
  at DATETIME(3) NOT NULL,
  actor ENUM('person', 'run', 'token', 'system') NOT NULL,
  actor_id BIGINT NULL,
  did ENUM('added', 'changed', 'deleted', 'restored') NOT NULL,
  -- The cells that changed, before and after.
  was LONGTEXT NOT NULL,
  became LONGTEXT NOT NULL,
  INDEX (row_id, id),
  FOREIGN KEY (row_id) REFERENCES sheet_rows (id)
);

-- A sheet of Playa's own is an outlet that no account leads to.
ALTER TABLE outlets MODIFY account_id BIGINT NULL;
