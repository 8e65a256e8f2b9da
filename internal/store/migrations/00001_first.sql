-- +goose Up
CREATE TABLE IF NOT EXISTS shops (
  id                    BIGINT       NOT NULL AUTO_INCREMENT PRIMARY KEY,
  public_id             CHAR(36)     CHARACTER SET ascii NOT NULL,
  name                  VARCHAR(120) NOT NULL,
  demo                  BOOLEAN      NOT NULL DEFAULT FALSE,
  market                VARCHAR(10)  NOT NULL DEFAULT 'house',
  currency              CHAR(3)      NOT NULL,
  weight_unit           VARCHAR(2)   NOT NULL,
  labour_rate           DECIMAL(14,4) NOT NULL,
  packaging_per_kg      DECIMAL(14,4) NOT NULL,
  loss_limit_knife_pct  DECIMAL(5,2) NOT NULL,
  loss_limit_saw_pct    DECIMAL(5,2) NOT NULL,
  division_mg           BIGINT       NOT NULL,
  lot_prefix            VARCHAR(12)  NOT NULL,
  seeded                BOOLEAN      NOT NULL DEFAULT FALSE,
  version               INT          NOT NULL DEFAULT 1,
  created_at            DATETIME(6)  NOT NULL,
  UNIQUE KEY shops_public (public_id),
  CONSTRAINT shops_unit CHECK (weight_unit IN ('kg', 'lb')),
  CONSTRAINT shops_rates CHECK (labour_rate >= 0 AND packaging_per_kg >= 0 AND division_mg > 0)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS benches (
  id        BIGINT      NOT NULL AUTO_INCREMENT PRIMARY KEY,
  public_id CHAR(36)    CHARACTER SET ascii NOT NULL,
  shop_id   BIGINT      NOT NULL,
  name      VARCHAR(60) NOT NULL,
  UNIQUE KEY benches_public (public_id),
  UNIQUE KEY benches_name (shop_id, name),
  CONSTRAINT benches_shop FOREIGN KEY (shop_id) REFERENCES shops (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS lots (
  id             BIGINT        NOT NULL AUTO_INCREMENT PRIMARY KEY,
  public_id      CHAR(36)      CHARACTER SET ascii NOT NULL,
  shop_id        BIGINT        NOT NULL,
  lot_number     VARCHAR(40)   NOT NULL,
  supplier       VARCHAR(80)   NOT NULL,
  atlas_id       VARCHAR(60)   NOT NULL,
  pieces         INT           NOT NULL,
  total_mg       BIGINT        NOT NULL,
  price          DECIMAL(14,4) NOT NULL,
  price_per      VARCHAR(2)    NOT NULL,
  slaughtered_on DATE          NOT NULL,
  packed_on      DATE          NOT NULL,
  findings       JSON          NOT NULL,
  note           VARCHAR(500)  NOT NULL DEFAULT '',
  received_at    DATETIME(6)   NOT NULL,
  UNIQUE KEY lots_public (public_id),
  UNIQUE KEY lots_number (shop_id, lot_number),
  KEY lots_received (shop_id, received_at),
  CONSTRAINT lots_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT lots_amounts CHECK (pieces > 0 AND total_mg > 0 AND price >= 0 AND price_per IN ('kg', 'lb')),
  CONSTRAINT lots_days CHECK (slaughtered_on <= packed_on)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS pieces (
  id        BIGINT      NOT NULL AUTO_INCREMENT PRIMARY KEY,
  public_id CHAR(36)    CHARACTER SET ascii NOT NULL,
  shop_id   BIGINT      NOT NULL,
  lot_id    BIGINT      NOT NULL,
  number    INT         NOT NULL,
  label_mg  BIGINT      NOT NULL,
  plan_id   VARCHAR(60) NOT NULL DEFAULT '',
  version   INT         NOT NULL DEFAULT 1,
  UNIQUE KEY pieces_public (public_id),
  UNIQUE KEY pieces_number (lot_id, number),
  KEY pieces_shop (shop_id),
  CONSTRAINT pieces_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT pieces_lot FOREIGN KEY (lot_id) REFERENCES lots (id),
  CONSTRAINT pieces_weight CHECK (label_mg > 0 AND number > 0)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

-- A breakdown's own columns, from state on, are a read table: they are what its events fold to.
CREATE TABLE IF NOT EXISTS breakdowns (
  id           BIGINT       NOT NULL AUTO_INCREMENT PRIMARY KEY,
  public_id    CHAR(36)     CHARACTER SET ascii NOT NULL,
  shop_id      BIGINT       NOT NULL,
  piece_id     BIGINT       NOT NULL,
  bench_id     BIGINT       NOT NULL,
  plan_id      VARCHAR(60)  NOT NULL,
  created_at   DATETIME(6)  NOT NULL,
  judged_at    DATETIME(6)  NULL,
  priced_at    DATETIME(6)  NULL,
  prices       JSON         NULL,
  state        VARCHAR(10)  NOT NULL DEFAULT 'waiting',
  events       INT          NOT NULL DEFAULT 0,
  input_mg     BIGINT       NOT NULL DEFAULT 0,
  output_mg    BIGINT       NOT NULL DEFAULT 0,
  loss_mg      BIGINT       NOT NULL DEFAULT 0,
  minutes      DECIMAL(9,3) NOT NULL DEFAULT 0,
  closed_at    DATETIME(6)  NULL,
  gain_per_kg  DECIMAL(14,4) NULL,
  UNIQUE KEY breakdowns_public (public_id),
  UNIQUE KEY breakdowns_piece (piece_id),
  KEY breakdowns_state (shop_id, state),
  CONSTRAINT breakdowns_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT breakdowns_piece FOREIGN KEY (piece_id) REFERENCES pieces (id),
  CONSTRAINT breakdowns_bench FOREIGN KEY (bench_id) REFERENCES benches (id),
  CONSTRAINT breakdowns_states CHECK (state IN ('waiting', 'open', 'closed')),
  CONSTRAINT breakdowns_balance CHECK (state <> 'closed' OR input_mg = output_mg + loss_mg)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

-- The log. Rows are added and never changed. seq counts the events of a breakdown: two writers cannot append the same one.
CREATE TABLE IF NOT EXISTS events (
  id           BIGINT       NOT NULL AUTO_INCREMENT PRIMARY KEY,
  public_id    CHAR(36)     CHARACTER SET ascii NOT NULL,
  shop_id      BIGINT       NOT NULL,
  breakdown_id BIGINT       NOT NULL,
  seq          INT          NOT NULL,
  bench_id     BIGINT       NOT NULL,
  kind         VARCHAR(20)  NOT NULL,
  at           DATETIME(6)  NOT NULL,
  received_at  DATETIME(6)  NOT NULL,
  role         VARCHAR(20)  NOT NULL,
  node         CHAR(36)     CHARACTER SET ascii NOT NULL DEFAULT '',
  part         VARCHAR(60)  NOT NULL DEFAULT '',
  product      VARCHAR(60)  NOT NULL DEFAULT '',
  net_mg       BIGINT       NOT NULL DEFAULT 0,
  gross_mg     BIGINT       NOT NULL DEFAULT 0,
  tare_mg      BIGINT       NOT NULL DEFAULT 0,
  division_mg  BIGINT       NOT NULL DEFAULT 0,
  source       VARCHAR(10)  NOT NULL DEFAULT '',
  count        INT          NOT NULL DEFAULT 0,
  target       CHAR(36)     CHARACTER SET ascii NOT NULL DEFAULT '',
  reason       VARCHAR(500) NOT NULL DEFAULT '',
  note         VARCHAR(500) NOT NULL DEFAULT '',
  minutes      DECIMAL(9,3) NULL,
  UNIQUE KEY events_public (public_id),
  UNIQUE KEY events_log (breakdown_id, seq),
  CONSTRAINT events_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT events_breakdown FOREIGN KEY (breakdown_id) REFERENCES breakdowns (id),
  CONSTRAINT events_bench FOREIGN KEY (bench_id) REFERENCES benches (id),
  CONSTRAINT events_kinds CHECK (kind IN ('opened', 'seamed_off', 'trimmed', 'portioned', 'discarded', 'weighed_again', 'undone', 'noted', 'paused', 'resumed', 'closed')),
  CONSTRAINT events_masses CHECK (net_mg >= 0 AND gross_mg >= 0 AND tare_mg >= 0 AND division_mg >= 0)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

-- Read table: what lies on the board, one row for each weighing that stands.
CREATE TABLE IF NOT EXISTS outputs (
  id           BIGINT      NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shop_id      BIGINT      NOT NULL,
  breakdown_id BIGINT      NOT NULL,
  node         CHAR(36)    CHARACTER SET ascii NOT NULL,
  parent       CHAR(36)    CHARACTER SET ascii NOT NULL,
  kind         VARCHAR(20) NOT NULL,
  part         VARCHAR(60) NOT NULL,
  product      VARCHAR(60) NOT NULL,
  mass_mg      BIGINT      NOT NULL,
  at           DATETIME(6) NOT NULL,
  UNIQUE KEY outputs_node (breakdown_id, node),
  KEY outputs_part (shop_id, part),
  CONSTRAINT outputs_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT outputs_breakdown FOREIGN KEY (breakdown_id) REFERENCES breakdowns (id),
  CONSTRAINT outputs_mass CHECK (mass_mg > 0)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS prices (
  id          BIGINT        NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shop_id     BIGINT        NOT NULL,
  product_key VARCHAR(90)   NOT NULL,
  amount      DECIMAL(14,4) NOT NULL,
  per         VARCHAR(2)    NOT NULL,
  version     INT           NOT NULL DEFAULT 1,
  updated_at  DATETIME(6)   NOT NULL,
  UNIQUE KEY prices_key (shop_id, product_key),
  CONSTRAINT prices_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT prices_amount CHECK (amount >= 0 AND per IN ('kg', 'lb'))
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS method_choices (
  id           BIGINT       NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shop_id      BIGINT       NOT NULL,
  breakdown_id BIGINT       NOT NULL,
  part         VARCHAR(60)  NOT NULL,
  method       VARCHAR(20)  NOT NULL,
  note         VARCHAR(500) NOT NULL,
  version      INT          NOT NULL DEFAULT 1,
  updated_at   DATETIME(6)  NOT NULL,
  UNIQUE KEY method_choices_part (breakdown_id, part),
  CONSTRAINT method_choices_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT method_choices_breakdown FOREIGN KEY (breakdown_id) REFERENCES breakdowns (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;
