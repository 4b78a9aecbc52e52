-- The logbook is searched as one types. Each word carries its brand, so that a word that other brands use often costs this
-- one nothing; the collation makes capitals and accents the same.
ALTER TABLE logbook
  ADD COLUMN words TEXT AS (
    REGEXP_REPLACE(CONCAT_WS(' ', '', text, card, url), '[^\\p{L}\\p{N}]+', CONCAT(' b', brand_id, '_'))
  ) PERSISTENT,
  ADD FULLTEXT INDEX said_words (words);
ALTER TABLE logbook ADD INDEX by_outlet (brand_id, outlet_id, at);

-- Under which address anybody who knows it reads what a brand has published.
CREATE TABLE brand_feeds (
  brand_id BIGINT PRIMARY KEY,
  token CHAR(32) COLLATE utf8mb4_bin NOT NULL UNIQUE,
  FOREIGN KEY (brand_id) REFERENCES brands (id)
);
