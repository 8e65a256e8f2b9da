-- +goose Up
-- After how many days a scale is to be checked with a test weight; 0: nobody is reminded.
ALTER TABLE shops ADD COLUMN IF NOT EXISTS scale_check_days INT NOT NULL DEFAULT 7;
ALTER TABLE shops ADD CONSTRAINT IF NOT EXISTS shops_scale_check CHECK (scale_check_days BETWEEN 0 AND 366);

-- A test weight on the scale of a bench, and what it showed.
CREATE TABLE IF NOT EXISTS scale_checks (
  id         BIGINT      NOT NULL AUTO_INCREMENT PRIMARY KEY,
  public_id  CHAR(36)    CHARACTER SET ascii NOT NULL,
  shop_id    BIGINT      NOT NULL,
  bench_id   BIGINT      NOT NULL,
  member_id  BIGINT      NULL,
  at         DATETIME(6) NOT NULL,
  weight_mg  BIGINT      NOT NULL,
  shown_mg   BIGINT      NOT NULL,
  allowed_mg BIGINT      NOT NULL,
  source     VARCHAR(10) NOT NULL,
  note       VARCHAR(200) NOT NULL DEFAULT '',
  UNIQUE KEY scale_checks_public (public_id),
  KEY scale_checks_last (shop_id, bench_id, id),
  CONSTRAINT scale_checks_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT scale_checks_at FOREIGN KEY (bench_id) REFERENCES benches (id),
  CONSTRAINT scale_checks_member FOREIGN KEY (member_id) REFERENCES members (id),
  CONSTRAINT scale_checks_sources CHECK (source IN ('scale', 'typed'))
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

-- +goose StatementBegin
CREATE TRIGGER IF NOT EXISTS scale_checks_never_change BEFORE UPDATE ON scale_checks FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'checks of scales are append-only';
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER IF NOT EXISTS scale_checks_never_go BEFORE DELETE ON scale_checks FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'checks of scales are append-only';
-- +goose StatementEnd
