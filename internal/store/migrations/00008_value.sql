-- +goose Up
-- What a shop pays beside the meat, by who does it; when its seasons are. results_stale is above 0 while some result may be missing or lack a price.
ALTER TABLE shops
  ADD COLUMN IF NOT EXISTS discard_per_kg DECIMAL(14,4) NOT NULL DEFAULT 0 AFTER packaging_per_kg,
  ADD COLUMN IF NOT EXISTS labour_by_role JSON NULL,
  ADD COLUMN IF NOT EXISTS seasons        JSON NULL,
  ADD COLUMN IF NOT EXISTS results_stale  INT  NOT NULL DEFAULT 1;

-- Where a shop sells. Prices are without tax; tax is shown beside them.
CREATE TABLE IF NOT EXISTS markets (
  id        BIGINT       NOT NULL AUTO_INCREMENT PRIMARY KEY,
  public_id CHAR(36)     CHARACTER SET ascii NOT NULL,
  shop_id   BIGINT       NOT NULL,
  name      VARCHAR(60)  NOT NULL,
  tax_pct   DECIMAL(5,2) NOT NULL DEFAULT 0,
  main      BOOLEAN      NOT NULL DEFAULT FALSE,
  active    BOOLEAN      NOT NULL DEFAULT TRUE,
  version   INT          NOT NULL DEFAULT 1,
  UNIQUE KEY markets_public (public_id),
  UNIQUE KEY markets_name (shop_id, name),
  CONSTRAINT markets_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT markets_tax CHECK (tax_pct >= 0 AND tax_pct <= 100)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

-- Prices that hold on one market, in one season or the whole year, from a day on. Beside them the standing prices hold always and everywhere.
CREATE TABLE IF NOT EXISTS quotes (
  id          BIGINT        NOT NULL AUTO_INCREMENT PRIMARY KEY,
  public_id   CHAR(36)      CHARACTER SET ascii NOT NULL,
  shop_id     BIGINT        NOT NULL,
  market_id   BIGINT        NOT NULL,
  season      VARCHAR(40)   NOT NULL DEFAULT '',
  product_key VARCHAR(90)   NOT NULL,
  valid_from  DATE          NOT NULL,
  amount      DECIMAL(14,4) NOT NULL,
  per         VARCHAR(5)    CHARACTER SET ascii NOT NULL,
  piece_mg    BIGINT        NOT NULL DEFAULT 0,
  source      VARCHAR(10)   CHARACTER SET ascii NOT NULL DEFAULT 'given',
  version     INT           NOT NULL DEFAULT 1,
  updated_at  DATETIME(6)   NOT NULL,
  UNIQUE KEY quotes_public (public_id),
  UNIQUE KEY quotes_one (market_id, product_key, season, valid_from),
  KEY quotes_shop (shop_id, market_id),
  CONSTRAINT quotes_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT quotes_market FOREIGN KEY (market_id) REFERENCES markets (id),
  CONSTRAINT quotes_amount CHECK (amount >= 0 AND per IN ('kg', 'lb', 'piece') AND (per <> 'piece' OR piece_mg > 0))
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

-- What of a product sells in a week at its full price, in a season or the whole year, and what the rest brings.
CREATE TABLE IF NOT EXISTS demands (
  id          BIGINT        NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shop_id     BIGINT        NOT NULL,
  season      VARCHAR(40)   NOT NULL DEFAULT '',
  product_key VARCHAR(90)   NOT NULL,
  week_mg     BIGINT        NOT NULL,
  fallback    DECIMAL(14,4) NOT NULL,
  version     INT           NOT NULL DEFAULT 1,
  updated_at  DATETIME(6)   NOT NULL,
  UNIQUE KEY demands_one (shop_id, product_key, season),
  CONSTRAINT demands_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT demands_amounts CHECK (week_mg >= 0 AND fallback >= 0)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

-- Read tables: what each closed breakdown brought, at the prices of its day. Both can be made anew from the log.
CREATE TABLE IF NOT EXISTS results (
  breakdown_id BIGINT        NOT NULL PRIMARY KEY,
  shop_id      BIGINT        NOT NULL,
  atlas_id     VARCHAR(60)   NOT NULL,
  plan_id      VARCHAR(60)   NOT NULL,
  plan_name    VARCHAR(120)  NOT NULL,
  cut          VARCHAR(10)   CHARACTER SET ascii NOT NULL,
  supplier     VARCHAR(80)   NOT NULL,
  member_id    BIGINT        NULL,
  closed_at    DATETIME(6)   NOT NULL,
  input_mg     BIGINT        NOT NULL,
  meat_mg      BIGINT        NOT NULL,
  by_mg        BIGINT        NOT NULL,
  waste_mg     BIGINT        NOT NULL,
  loss_mg      BIGINT        NOT NULL,
  minutes      DECIMAL(9,3)  NOT NULL,
  priced       BOOLEAN       NOT NULL,
  sales        DECIMAL(20,8) NOT NULL,
  packaging    DECIMAL(20,8) NOT NULL,
  labour       DECIMAL(20,8) NOT NULL,
  discard      DECIMAL(20,8) NOT NULL,
  purchase     DECIMAL(20,8) NOT NULL,
  value_per_kg DOUBLE        NOT NULL,
  worth_per_kg DOUBLE        NOT NULL,
  KEY results_piece (shop_id, atlas_id, closed_at),
  KEY results_plan (shop_id, atlas_id, plan_id),
  CONSTRAINT results_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT results_breakdown FOREIGN KEY (breakdown_id) REFERENCES breakdowns (id),
  CONSTRAINT results_member FOREIGN KEY (member_id) REFERENCES members (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

-- What a cell of a result is: a part that went into a product, was wasted or lost. Cells name it by its number, so that they are quick to add up.
CREATE TABLE IF NOT EXISTS result_kinds (
  id          INT         NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shop_id     BIGINT      NOT NULL,
  part        VARCHAR(60) NOT NULL,
  product_key VARCHAR(90) NOT NULL,
  fate        VARCHAR(5)  CHARACTER SET ascii NOT NULL,
  UNIQUE KEY result_kinds_one (shop_id, part, product_key, fate),
  CONSTRAINT result_kinds_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT result_kinds_fates CHECK (fate IN ('sold', 'waste', 'loss'))
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_bin;

CREATE TABLE IF NOT EXISTS result_cells (
  breakdown_id BIGINT        NOT NULL,
  kind_id      INT           NOT NULL,
  mass_mg      BIGINT        NOT NULL,
  sales        DECIMAL(20,8) NOT NULL,
  PRIMARY KEY (breakdown_id, kind_id),
  CONSTRAINT result_cells_of FOREIGN KEY (breakdown_id) REFERENCES breakdowns (id),
  CONSTRAINT result_cells_kind FOREIGN KEY (kind_id) REFERENCES result_kinds (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

-- Links to a report as it was when it was shared. The secret of the link is kept as a hash.
CREATE TABLE IF NOT EXISTS shares (
  id         BIGINT       NOT NULL AUTO_INCREMENT PRIMARY KEY,
  public_id  CHAR(36)     CHARACTER SET ascii NOT NULL,
  shop_id    BIGINT       NOT NULL,
  secret     CHAR(64)     CHARACTER SET ascii NOT NULL,
  title      VARCHAR(200) NOT NULL,
  report     JSON         NOT NULL,
  member_id  BIGINT       NULL,
  made_by    VARCHAR(80)  NOT NULL,
  created_at DATETIME(6)  NOT NULL,
  expires_at DATETIME(6)  NOT NULL,
  ended_at   DATETIME(6)  NULL,
  UNIQUE KEY shares_public (public_id),
  UNIQUE KEY shares_secret (secret),
  KEY shares_shop (shop_id, id),
  CONSTRAINT shares_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT shares_member FOREIGN KEY (member_id) REFERENCES members (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;
