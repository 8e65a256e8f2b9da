-- +goose Up
-- Tastings: what eaters said of muscles by cooking methods, scores that others gave, and a house's settings for grades.
ALTER TABLE shops ADD COLUMN IF NOT EXISTS eating JSON NULL;

CREATE TABLE IF NOT EXISTS tastings (
  id         BIGINT       NOT NULL AUTO_INCREMENT PRIMARY KEY,
  public_id  CHAR(36)     CHARACTER SET ascii NOT NULL,
  shop_id    BIGINT       NOT NULL,
  name       VARCHAR(80)  NOT NULL,
  held_on    DATE         NOT NULL,
  eaters     INT          NOT NULL,
  seed       BIGINT       NOT NULL,
  state      VARCHAR(10)  CHARACTER SET ascii NOT NULL DEFAULT 'open',
  reason     VARCHAR(200) NOT NULL DEFAULT '',
  version    INT          NOT NULL DEFAULT 1,
  created_at DATETIME(6)  NOT NULL,
  closed_at  DATETIME(6)  NULL,
  UNIQUE KEY tastings_public (public_id),
  KEY tastings_shop (shop_id, held_on),
  CONSTRAINT tastings_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT tastings_states CHECK (state IN ('open', 'closed', 'void')),
  CONSTRAINT tastings_eaters CHECK (eaters BETWEEN 1 AND 500)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS tasting_samples (
  id           BIGINT       NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shop_id      BIGINT       NOT NULL,
  tasting_id   BIGINT       NOT NULL,
  number       INT          NOT NULL,
  code         CHAR(3)      CHARACTER SET ascii NOT NULL,
  atlas_id     VARCHAR(60)  NOT NULL,
  part         VARCHAR(60)  NOT NULL,
  method       VARCHAR(20)  CHARACTER SET ascii NOT NULL,
  breakdown_id BIGINT       NULL,
  age_days     INT          NULL,
  note         VARCHAR(200) NOT NULL DEFAULT '',
  cores        JSON         NULL,
  UNIQUE KEY samples_number (tasting_id, number),
  UNIQUE KEY samples_code (tasting_id, code),
  KEY samples_shop (shop_id, atlas_id, part),
  CONSTRAINT samples_tasting FOREIGN KEY (tasting_id) REFERENCES tastings (id),
  CONSTRAINT samples_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT samples_breakdown FOREIGN KEY (breakdown_id) REFERENCES breakdowns (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS tasting_eaters (
  id         BIGINT      NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shop_id    BIGINT      NOT NULL,
  tasting_id BIGINT      NOT NULL,
  number     INT         NOT NULL,
  link       CHAR(12)    CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  orders     JSON        NOT NULL,
  UNIQUE KEY eaters_number (tasting_id, number),
  UNIQUE KEY eaters_link (link),
  CONSTRAINT eaters_tasting FOREIGN KEY (tasting_id) REFERENCES tastings (id),
  CONSTRAINT eaters_shop FOREIGN KEY (shop_id) REFERENCES shops (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS tasting_sheets (
  id         BIGINT       NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shop_id    BIGINT       NOT NULL,
  tasting_id BIGINT       NOT NULL,
  sample_id  BIGINT       NOT NULL,
  eater      INT          NOT NULL,
  tenderness DECIMAL(4,1) NULL,
  juiciness  DECIMAL(4,1) NULL,
  flavour    DECIMAL(4,1) NULL,
  overall    DECIMAL(4,1) NULL,
  source     VARCHAR(8)   CHARACTER SET ascii NOT NULL,
  at         DATETIME(6)  NOT NULL,
  UNIQUE KEY sheets_one (sample_id, eater),
  KEY sheets_tasting (tasting_id),
  CONSTRAINT sheets_tasting FOREIGN KEY (tasting_id) REFERENCES tastings (id),
  CONSTRAINT sheets_sample FOREIGN KEY (sample_id) REFERENCES tasting_samples (id),
  CONSTRAINT sheets_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT sheets_sources CHECK (source IN ('phone', 'paper', 'file')),
  CONSTRAINT sheets_marks CHECK ((tenderness IS NULL OR tenderness BETWEEN 0 AND 100) AND (juiciness IS NULL OR juiciness BETWEEN 0 AND 100)
    AND (flavour IS NULL OR flavour BETWEEN 0 AND 100) AND (overall IS NULL OR overall BETWEEN 0 AND 100))
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS given_scores (
  id       BIGINT       NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shop_id  BIGINT       NOT NULL,
  atlas_id VARCHAR(60)  NOT NULL,
  part     VARCHAR(60)  NOT NULL,
  method   VARCHAR(20)  CHARACTER SET ascii NOT NULL,
  score    DECIMAL(4,1) NOT NULL,
  source   VARCHAR(80)  NOT NULL,
  at       DATETIME(6)  NOT NULL,
  UNIQUE KEY given_one (shop_id, atlas_id, part, method),
  CONSTRAINT given_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT given_range CHECK (score BETWEEN 0 AND 100)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;
