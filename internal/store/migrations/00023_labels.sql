-- +goose Up
-- Where an animal comes from, as its label names it; what a shop's labels say; the numbers of its products.
ALTER TABLE lots
  ADD COLUMN IF NOT EXISTS born_in        VARCHAR(40) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS reared_in      VARCHAR(40) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS slaughtered_in VARCHAR(40) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS plant          VARCHAR(20) NOT NULL DEFAULT ''; -- approval number of the slaughterhouse

CREATE TABLE IF NOT EXISTS label_settings (
  id      BIGINT NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shop_id BIGINT NOT NULL,
  body    JSON   NOT NULL,
  version INT    NOT NULL DEFAULT 1,
  UNIQUE KEY label_settings_shop (shop_id),
  CONSTRAINT label_settings_of FOREIGN KEY (shop_id) REFERENCES shops (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS product_codes (
  id          BIGINT       NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shop_id     BIGINT       NOT NULL,
  product_key VARCHAR(120) NOT NULL,
  item        CHAR(5)      CHARACTER SET ascii NOT NULL, -- within the shop
  gtin        VARCHAR(14)  CHARACTER SET ascii NOT NULL DEFAULT '',
  UNIQUE KEY product_codes_key (shop_id, product_key),
  UNIQUE KEY product_codes_item (shop_id, item),
  CONSTRAINT product_codes_shop FOREIGN KEY (shop_id) REFERENCES shops (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;
