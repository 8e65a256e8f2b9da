-- +goose Up
-- Trials: pairs of pieces, left and right of a carcass, one cut each way.
CREATE TABLE IF NOT EXISTS trials (
  id         BIGINT       NOT NULL AUTO_INCREMENT PRIMARY KEY,
  public_id  CHAR(36)     CHARACTER SET ascii NOT NULL,
  shop_id    BIGINT       NOT NULL,
  name       VARCHAR(80)  NOT NULL,
  atlas_id   VARCHAR(60)  NOT NULL,
  plan_a     VARCHAR(60)  NOT NULL,
  plan_b     VARCHAR(60)  NOT NULL,
  state      VARCHAR(10)  CHARACTER SET ascii NOT NULL DEFAULT 'open',
  reason     VARCHAR(200) NOT NULL DEFAULT '',
  version    INT          NOT NULL DEFAULT 1,
  created_at DATETIME(6)  NOT NULL,
  UNIQUE KEY trials_public (public_id),
  KEY trials_shop (shop_id, id),
  CONSTRAINT trials_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT trials_states CHECK (state IN ('open', 'void'))
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS trial_pairs (
  id        BIGINT NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shop_id   BIGINT NOT NULL,
  trial_id  BIGINT NOT NULL,
  number    INT    NOT NULL,
  piece_a   BIGINT NOT NULL,
  piece_b   BIGINT NOT NULL,
  UNIQUE KEY pairs_number (trial_id, number),
  CONSTRAINT pairs_trial FOREIGN KEY (trial_id) REFERENCES trials (id),
  CONSTRAINT pairs_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT pairs_a FOREIGN KEY (piece_a) REFERENCES pieces (id),
  CONSTRAINT pairs_b FOREIGN KEY (piece_b) REFERENCES pieces (id),
  CONSTRAINT pairs_two CHECK (piece_a <> piece_b)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;
