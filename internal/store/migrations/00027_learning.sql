-- +goose Up
ALTER TABLE results ADD KEY IF NOT EXISTS results_cutter (shop_id, member_id, atlas_id, closed_at);

-- What somebody knows of the atlas, practice pieces, who signed off which step, the house's notes and pictures.
CREATE TABLE IF NOT EXISTS drill_cards (
  id        BIGINT       NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shop_id   BIGINT       NOT NULL,
  member_id BIGINT       NOT NULL,
  card      VARCHAR(160) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, -- piece:kind:what
  reps      INT          NOT NULL,
  ease      DOUBLE       NOT NULL,
  days      INT          NOT NULL,
  due       DATE         NOT NULL,
  seen      INT          NOT NULL,
  known     INT          NOT NULL, -- answers that were
  last_at   DATETIME(6)  NOT NULL,
  UNIQUE KEY drill_cards_card (member_id, card),
  KEY drill_cards_shop (shop_id),
  CONSTRAINT drill_cards_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT drill_cards_member FOREIGN KEY (member_id) REFERENCES members (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS practices (
  id           BIGINT      NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shop_id      BIGINT      NOT NULL,
  breakdown_id BIGINT      NOT NULL,
  member_id    BIGINT      NOT NULL, -- who practises
  level        TINYINT     NOT NULL, -- 1 all words, 2 words when asked for, 3 none
  set_by       BIGINT      NULL,
  set_at       DATETIME(6) NOT NULL,
  UNIQUE KEY practices_breakdown (breakdown_id),
  KEY practices_whose (shop_id, member_id, set_at),
  CONSTRAINT practices_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT practices_of FOREIGN KEY (breakdown_id) REFERENCES breakdowns (id),
  CONSTRAINT practices_member FOREIGN KEY (member_id) REFERENCES members (id),
  CONSTRAINT practices_by FOREIGN KEY (set_by) REFERENCES members (id),
  CONSTRAINT practices_level CHECK (level BETWEEN 1 AND 3)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS sign_offs (
  id           BIGINT       NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shop_id      BIGINT       NOT NULL,
  member_id    BIGINT       NOT NULL, -- who practises
  breakdown_id BIGINT       NOT NULL,
  atlas_id     VARCHAR(80)  NOT NULL,
  plan_id      VARCHAR(80)  NOT NULL,
  step         VARCHAR(80)  NOT NULL, -- of the plan
  step_name    VARCHAR(200) NOT NULL,
  signed       TINYINT(1)   NOT NULL, -- 0: to be practised
  words        VARCHAR(300) NOT NULL DEFAULT '',
  by_id        BIGINT       NOT NULL,
  at           DATETIME(6)  NOT NULL,
  KEY sign_offs_whose (shop_id, member_id, atlas_id),
  KEY sign_offs_breakdown (breakdown_id),
  CONSTRAINT sign_offs_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT sign_offs_of FOREIGN KEY (breakdown_id) REFERENCES breakdowns (id),
  CONSTRAINT sign_offs_member FOREIGN KEY (member_id) REFERENCES members (id),
  CONSTRAINT sign_offs_by FOREIGN KEY (by_id) REFERENCES members (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS pictures (
  id        BIGINT     NOT NULL AUTO_INCREMENT PRIMARY KEY,
  public_id CHAR(36)   CHARACTER SET ascii NOT NULL,
  shop_id   BIGINT     NOT NULL,
  wide      INT        NOT NULL,
  high      INT        NOT NULL,
  jpeg      MEDIUMTEXT CHARACTER SET ascii COLLATE ascii_bin NOT NULL, -- in base64
  UNIQUE KEY pictures_public (public_id),
  KEY pictures_shop (shop_id),
  CONSTRAINT pictures_shop FOREIGN KEY (shop_id) REFERENCES shops (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS house_notes (
  id           BIGINT       NOT NULL AUTO_INCREMENT PRIMARY KEY,
  public_id    CHAR(36)     CHARACTER SET ascii NOT NULL,
  shop_id      BIGINT       NOT NULL,
  atlas_id     VARCHAR(80)  NOT NULL,
  step         VARCHAR(80)  NOT NULL, -- a muscle or part, or a step of a plan in steps
  plan_id      VARCHAR(80)  NOT NULL DEFAULT '', -- empty: whatever the plan
  breakdown_id BIGINT       NULL, -- of a practice piece: it is not shown at other pieces
  words        VARCHAR(500) NOT NULL,
  picture_id   BIGINT       NULL,
  by_id        BIGINT       NOT NULL,
  at           DATETIME(6)  NOT NULL,
  UNIQUE KEY house_notes_public (public_id),
  KEY house_notes_piece (shop_id, atlas_id),
  KEY house_notes_breakdown (breakdown_id),
  CONSTRAINT house_notes_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT house_notes_of FOREIGN KEY (breakdown_id) REFERENCES breakdowns (id),
  CONSTRAINT house_notes_picture FOREIGN KEY (picture_id) REFERENCES pictures (id),
  CONSTRAINT house_notes_by FOREIGN KEY (by_id) REFERENCES members (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;
