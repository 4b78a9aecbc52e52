-- Ways in which somebody looks at a list, under a name: filters as its address has them.
CREATE TABLE kept_views (
  user_id BIGINT NOT NULL,
  brand_id BIGINT NOT NULL,
  place VARCHAR(20) COLLATE utf8mb4_bin NOT NULL,
  name VARCHAR(60) NOT NULL,
  query VARCHAR(1000) NOT NULL,
  PRIMARY KEY (brand_id, user_id, place, name),
  FOREIGN KEY (user_id) REFERENCES users (id),
  FOREIGN KEY (brand_id) REFERENCES brands (id)
);
