-- Who did what, from which value to which, written in the transaction that did it. Never a secret.

CREATE TABLE audit (
  id BIGINT AUTO_INCREMENT PRIMARY KEY,
  brand_id BIGINT NOT NULL,
  at DATETIME(3) NOT NULL,
  actor ENUM('person', 'run', 'token', 'system') NOT NULL,
  -- The number of the person, run or token; null for Playa itself.
  actor_id BIGINT NULL,
  -- What was done: "decided", "paused".
  did VARCHAR(40) NOT NULL,
  -- What it was done to: "run", "workflow", and its number.
  about VARCHAR(20) NOT NULL,
  about_id BIGINT NULL,
  -- What it is called where it has no number: a snippet, a secret.
  about_name VARCHAR(200) NULL,
  was TEXT NULL,
  became TEXT NULL,
  INDEX (brand_id, about, about_id, id),
  INDEX (brand_id, id),
  FOREIGN KEY (brand_id) REFERENCES brands (id)
);
