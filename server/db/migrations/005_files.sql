-- Pictures and films of a brand's own, for posts. Their bytes lie in parts, so that a film is never in memory as a whole.
CREATE TABLE files (
  id BIGINT PRIMARY KEY AUTO_INCREMENT,
  brand_id BIGINT NOT NULL,
  -- The secret part of the address at which networks find it.
  token CHAR(32) COLLATE utf8mb4_bin NOT NULL UNIQUE,
  name VARCHAR(200) NOT NULL,
  type ENUM('picture', 'video') NOT NULL,
  media_type VARCHAR(60) NOT NULL,
  bytes BIGINT NOT NULL,
  width INT NOT NULL,
  height INT NOT NULL,
  seconds DOUBLE NULL,
  alt VARCHAR(1000) NOT NULL,
  sha256 BINARY(32) NOT NULL,
  added_by BIGINT NOT NULL,
  added_at DATETIME(3) NOT NULL,
  UNIQUE (brand_id, sha256),
  FOREIGN KEY (brand_id) REFERENCES brands (id)
);

CREATE TABLE file_parts (
  file_id BIGINT NOT NULL,
  part INT NOT NULL,
  data MEDIUMBLOB NOT NULL,
  PRIMARY KEY (file_id, part),
  FOREIGN KEY (file_id) REFERENCES files (id) ON DELETE CASCADE
);
