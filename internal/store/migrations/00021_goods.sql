-- +goose Up
-- The stock log: what is cut and made lies somewhere until it is used, sold or thrown away.
ALTER TABLE shops
  ADD COLUMN IF NOT EXISTS stock_from  DATE    NULL, -- goods are kept from this day on; NULL: not yet
  ADD COLUMN IF NOT EXISTS trim_by_use BOOLEAN NOT NULL DEFAULT FALSE; -- trim is valued by what it becomes

CREATE TABLE IF NOT EXISTS recipes (
  id             BIGINT        NOT NULL AUTO_INCREMENT PRIMARY KEY,
  public_id      CHAR(36)      CHARACTER SET ascii NOT NULL,
  shop_id        BIGINT        NOT NULL,
  name           VARCHAR(80)   NOT NULL,
  body           JSON          NOT NULL,
  price          DECIMAL(14,4) NULL, -- of a kilogram that is sold
  ingredient_key VARCHAR(40)   CHARACTER SET ascii NULL, -- what is made is this ingredient of the shop
  retired        BOOLEAN       NOT NULL DEFAULT FALSE,
  version        INT           NOT NULL DEFAULT 1,
  updated_at     DATETIME(6)   NOT NULL,
  UNIQUE KEY recipes_public (public_id),
  UNIQUE KEY recipes_name (shop_id, name),
  CONSTRAINT recipes_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT recipes_price CHECK (price IS NULL OR price >= 0)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

-- Something that is being made, or was: the recipe as it then was, what went in, what came out.
CREATE TABLE IF NOT EXISTS makings (
  id         BIGINT       NOT NULL AUTO_INCREMENT PRIMARY KEY,
  public_id  CHAR(36)     CHARACTER SET ascii NOT NULL,
  shop_id    BIGINT       NOT NULL,
  recipe_id  BIGINT       NOT NULL,
  name       VARCHAR(80)  NOT NULL,
  body       JSON         NOT NULL,
  plan       JSON         NOT NULL, -- tub → mg that are to go in
  lot_number VARCHAR(20)  NOT NULL,
  made_on    DATE         NOT NULL,
  use_by     DATE         NOT NULL,
  state      VARCHAR(10)  NOT NULL DEFAULT 'open',
  opened_at  DATETIME(6)  NOT NULL,
  closed_at  DATETIME(6)  NULL,
  reason     VARCHAR(200) NOT NULL DEFAULT '', -- why more was lost than is usual
  UNIQUE KEY makings_public (public_id),
  UNIQUE KEY makings_lot (shop_id, lot_number),
  KEY makings_when (shop_id, opened_at),
  CONSTRAINT makings_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT makings_recipe FOREIGN KEY (recipe_id) REFERENCES recipes (id),
  CONSTRAINT makings_state CHECK (state IN ('open', 'closed', 'dropped'))
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS goods (
  id             BIGINT       NOT NULL AUTO_INCREMENT PRIMARY KEY,
  public_id      CHAR(36)     CHARACTER SET ascii NOT NULL,
  shop_id        BIGINT       NOT NULL,
  kind           VARCHAR(10)  NOT NULL,
  product_key    VARCHAR(120) NOT NULL,
  breakdown_id   BIGINT       NULL,
  making_id      BIGINT       NULL,
  made_on        DATE         NOT NULL,
  slaughtered_on DATE         NULL,
  mince_until    DATE         NULL,
  use_by         DATE         NOT NULL,
  first_use_by   DATE         NOT NULL, -- as it was when it was made
  part           INT          NOT NULL DEFAULT 0, -- above 0: moved away from the rest, with its mass as a change
  place          VARCHAR(10)  NOT NULL DEFAULT 'cold',
  lean_pct       DECIMAL(7,4) NULL,
  connective_pct DECIMAL(7,4) NULL,
  made_mg        BIGINT       NOT NULL,
  change_mg      BIGINT       NOT NULL DEFAULT 0,
  left_mg        BIGINT       AS (made_mg + change_mg) PERSISTENT,
  UNIQUE KEY goods_public (public_id),
  UNIQUE KEY goods_cut (breakdown_id, product_key, part),
  UNIQUE KEY goods_made (making_id, product_key, part),
  KEY goods_left (shop_id, left_mg),
  KEY goods_tub (shop_id, product_key, made_on),
  CONSTRAINT goods_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT goods_breakdown FOREIGN KEY (breakdown_id) REFERENCES breakdowns (id),
  CONSTRAINT goods_making FOREIGN KEY (making_id) REFERENCES makings (id),
  CONSTRAINT goods_kind CHECK (kind IN ('stream', 'product', 'made')),
  CONSTRAINT goods_made_mg CHECK (made_mg >= 0)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

-- What became of goods, and what was weighed while something was made. Never changed, never deleted.
CREATE TABLE IF NOT EXISTS goods_events (
  id          BIGINT       NOT NULL AUTO_INCREMENT PRIMARY KEY,
  public_id   CHAR(36)     CHARACTER SET ascii NOT NULL,
  shop_id     BIGINT       NOT NULL,
  together    CHAR(36)     CHARACTER SET ascii NOT NULL, -- the id that whoever booked it gave; shared by the goods of a tub
  goods_id    BIGINT       NULL,
  making_id   BIGINT       NULL,
  kind        VARCHAR(10)  NOT NULL,
  change_mg   BIGINT       NOT NULL DEFAULT 0,
  ingredient  VARCHAR(40)  CHARACTER SET ascii NOT NULL DEFAULT '',
  place       VARCHAR(10)  NOT NULL DEFAULT '',
  use_by      DATE         NULL,
  count       INT          NOT NULL DEFAULT 0,
  undoes      CHAR(36)     CHARACTER SET ascii NOT NULL DEFAULT '',
  source      VARCHAR(10)  NOT NULL DEFAULT '',
  note        VARCHAR(200) NOT NULL DEFAULT '',
  member_id   BIGINT       NULL,
  at          DATETIME(6)  NOT NULL,
  received_at DATETIME(6)  NOT NULL,
  UNIQUE KEY goods_events_public (public_id),
  KEY goods_events_together (shop_id, together),
  KEY goods_events_undoes (shop_id, undoes),
  KEY goods_events_goods (goods_id),
  KEY goods_events_making (making_id),
  KEY goods_events_when (shop_id, received_at),
  CONSTRAINT goods_events_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT goods_events_goods FOREIGN KEY (goods_id) REFERENCES goods (id),
  CONSTRAINT goods_events_making FOREIGN KEY (making_id) REFERENCES makings (id),
  CONSTRAINT goods_events_member FOREIGN KEY (member_id) REFERENCES members (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS fat_tests (
  id          BIGINT       NOT NULL AUTO_INCREMENT PRIMARY KEY,
  public_id   CHAR(36)     CHARACTER SET ascii NOT NULL,
  shop_id     BIGINT       NOT NULL,
  product_key VARCHAR(120) NOT NULL,
  made_on     DATE         NOT NULL, -- of the tub
  lean_pct    DECIMAL(6,3) NOT NULL,
  atlas_pct   DECIMAL(7,4) NOT NULL, -- what the atlas said of that tub
  note        VARCHAR(200) NOT NULL DEFAULT '',
  member_id   BIGINT       NULL,
  at          DATETIME(6)  NOT NULL,
  UNIQUE KEY fat_tests_public (public_id),
  KEY fat_tests_of (shop_id, product_key, at),
  CONSTRAINT fat_tests_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT fat_tests_member FOREIGN KEY (member_id) REFERENCES members (id),
  CONSTRAINT fat_tests_lean CHECK (lean_pct >= 0 AND lean_pct <= 100)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

-- What a kilogram of a stream was worth in the blend that a shop chose to value its trim by.
CREATE TABLE IF NOT EXISTS trim_worths (
  id          BIGINT        NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shop_id     BIGINT        NOT NULL,
  product_key VARCHAR(120)  NOT NULL,
  per_kg      DECIMAL(14,4) NOT NULL,
  at          DATETIME(6)   NOT NULL,
  UNIQUE KEY trim_worths_one (shop_id, product_key),
  CONSTRAINT trim_worths_shop FOREIGN KEY (shop_id) REFERENCES shops (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;
