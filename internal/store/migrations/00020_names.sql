-- +goose Up
-- What a shop calls its products, beside their lawful names; and the breed, as the supplier names it.
CREATE TABLE IF NOT EXISTS menu_names (
  id          BIGINT AUTO_INCREMENT PRIMARY KEY,
  shop_id     BIGINT       NOT NULL,
  product_key VARCHAR(120) NOT NULL,
  name        VARCHAR(60)  NOT NULL,
  updated_at  DATETIME(6)  NOT NULL,
  UNIQUE KEY menu_names_product (shop_id, product_key),
  CONSTRAINT menu_names_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT menu_names_said CHECK (name <> '')
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;
ALTER TABLE lots
  ADD COLUMN IF NOT EXISTS breed VARCHAR(60) NOT NULL DEFAULT '';
