-- +goose Up
-- What tills say was sold, file by file; the names that they use; trials of names; the counter; goods sold for less.
CREATE TABLE IF NOT EXISTS sale_files (
  id         BIGINT       NOT NULL AUTO_INCREMENT PRIMARY KEY,
  public_id  CHAR(36)     CHARACTER SET ascii NOT NULL,
  shop_id    BIGINT       NOT NULL,
  till       VARCHAR(40)  NOT NULL, -- days of one till are read once
  name       VARCHAR(120) NOT NULL, -- of the file
  lines_read INT          NOT NULL,
  first_day  DATE         NOT NULL,
  last_day   DATE         NOT NULL,
  booked     JSON         NULL, -- what was booked out of stock with it
  member_id  BIGINT       NULL,
  read_at    DATETIME(6)  NOT NULL,
  undone_at  DATETIME(6)  NULL,
  UNIQUE KEY sale_files_public (public_id),
  KEY sale_files_shop (shop_id, read_at),
  CONSTRAINT sale_files_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT sale_files_member FOREIGN KEY (member_id) REFERENCES members (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS sales (
  id          BIGINT        NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shop_id     BIGINT        NOT NULL,
  file_id     BIGINT        NOT NULL,
  line        INT           NOT NULL,
  day         DATE          NOT NULL,
  product_key VARCHAR(120)  NOT NULL,
  kind        VARCHAR(10)   NOT NULL, -- sold, reduced, returned or wasted
  packs       INT           NOT NULL, -- never below 0
  mass_mg     BIGINT        NOT NULL,
  amount      DECIMAL(14,4) NOT NULL,
  reason      VARCHAR(80)   NOT NULL DEFAULT '',
  undone      TINYINT(1)    NOT NULL DEFAULT 0, -- its file was taken back
  UNIQUE KEY sales_line (file_id, line),
  KEY sales_day (shop_id, day),
  KEY sales_product (shop_id, product_key, day),
  CONSTRAINT sales_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT sales_file FOREIGN KEY (file_id) REFERENCES sale_files (id),
  CONSTRAINT sales_kind CHECK (kind IN ('sold', 'reduced', 'returned', 'wasted') AND packs >= 0 AND mass_mg >= 0)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS sale_names (
  id          BIGINT       NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shop_id     BIGINT       NOT NULL,
  said        VARCHAR(80)  NOT NULL, -- by the till
  product_key VARCHAR(120) NOT NULL, -- empty: not of the counter
  UNIQUE KEY sale_names_said (shop_id, said),
  CONSTRAINT sale_names_shop FOREIGN KEY (shop_id) REFERENCES shops (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS sale_settings (
  id      BIGINT NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shop_id BIGINT NOT NULL,
  body    JSON   NOT NULL,
  version INT    NOT NULL DEFAULT 1,
  UNIQUE KEY sale_settings_shop (shop_id),
  CONSTRAINT sale_settings_of FOREIGN KEY (shop_id) REFERENCES shops (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS naming_trials (
  id          BIGINT        NOT NULL AUTO_INCREMENT PRIMARY KEY,
  public_id   CHAR(36)      CHARACTER SET ascii NOT NULL,
  shop_id     BIGINT        NOT NULL,
  product_key VARCHAR(120)  NOT NULL,
  name_a      VARCHAR(60)   NOT NULL,
  name_b      VARCHAR(60)   NOT NULL,
  price_a     DECIMAL(14,4) NULL, -- per kg, where prices are compared
  price_b     DECIMAL(14,4) NULL,
  begins      DATE          NOT NULL, -- a Monday
  weeks       INT           NOT NULL, -- a, b, a, b …
  ended_at    DATETIME(6)   NULL, -- before its time
  UNIQUE KEY naming_trials_public (public_id),
  KEY naming_trials_shop (shop_id, begins),
  CONSTRAINT naming_trials_shop FOREIGN KEY (shop_id) REFERENCES shops (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS counters (
  id      BIGINT      NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shop_id BIGINT      NOT NULL,
  body    JSON        NOT NULL,
  secret  VARCHAR(64) CHARACTER SET ascii NULL, -- hash of what the link of the screen above it holds
  version INT         NOT NULL DEFAULT 1,
  UNIQUE KEY counters_shop (shop_id),
  UNIQUE KEY counters_secret (secret),
  CONSTRAINT counters_of FOREIGN KEY (shop_id) REFERENCES shops (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

ALTER TABLE goods ADD COLUMN IF NOT EXISTS off_pct DECIMAL(5,2) NOT NULL DEFAULT 0; -- sold for so much less
ALTER TABLE goods_events ADD COLUMN IF NOT EXISTS off_pct DECIMAL(5,2) NULL;
