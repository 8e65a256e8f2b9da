-- +goose Up
-- What customers have ordered, what of it is packed, and who cuts what when on a day.
CREATE TABLE IF NOT EXISTS orders (
  id         BIGINT       NOT NULL AUTO_INCREMENT PRIMARY KEY,
  public_id  CHAR(36)     CHARACTER SET ascii NOT NULL,
  shop_id    BIGINT       NOT NULL,
  number     VARCHAR(20)  CHARACTER SET ascii NOT NULL,
  customer   VARCHAR(80)  NOT NULL,
  note       VARCHAR(400) NOT NULL DEFAULT '',
  due_at     DATETIME(6)  NOT NULL,
  state      VARCHAR(10)  NOT NULL DEFAULT 'open',
  wanted     JSON         NOT NULL, -- the lines
  whole      JSON         NULL, -- of a whole animal: how it is cut
  version    INT          NOT NULL DEFAULT 1,
  created_at DATETIME(6)  NOT NULL,
  ended_at   DATETIME(6)  NULL, -- when it was handed over, or cancelled
  UNIQUE KEY orders_public (public_id),
  UNIQUE KEY orders_number (shop_id, number),
  KEY orders_due (shop_id, state, due_at),
  CONSTRAINT orders_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT orders_state CHECK (state IN ('open', 'gone', 'cancelled'))
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

-- Pieces that are cut for an order.
CREATE TABLE IF NOT EXISTS order_pieces (
  id       BIGINT NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shop_id  BIGINT NOT NULL,
  order_id BIGINT NOT NULL,
  piece_id BIGINT NOT NULL,
  UNIQUE KEY order_pieces_piece (piece_id),
  KEY order_pieces_order (order_id),
  CONSTRAINT order_pieces_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT order_pieces_order FOREIGN KEY (order_id) REFERENCES orders (id),
  CONSTRAINT order_pieces_piece FOREIGN KEY (piece_id) REFERENCES pieces (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

ALTER TABLE goods_events
  ADD COLUMN IF NOT EXISTS order_id   BIGINT NULL, -- that it was packed for
  ADD COLUMN IF NOT EXISTS order_line INT    NOT NULL DEFAULT 0,
  ADD KEY IF NOT EXISTS goods_events_order (order_id);
ALTER TABLE goods_events
  ADD CONSTRAINT goods_events_order FOREIGN KEY IF NOT EXISTS (order_id) REFERENCES orders (id);

CREATE TABLE IF NOT EXISTS day_plans (
  id      BIGINT      NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shop_id BIGINT      NOT NULL,
  day     DATE        NOT NULL,
  body    JSON        NOT NULL,
  version INT         NOT NULL DEFAULT 1,
  made_at DATETIME(6) NOT NULL,
  UNIQUE KEY day_plans_day (shop_id, day),
  CONSTRAINT day_plans_shop FOREIGN KEY (shop_id) REFERENCES shops (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;
