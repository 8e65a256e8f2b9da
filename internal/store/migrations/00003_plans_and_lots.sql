-- +goose Up
-- A shop's own ways of cutting. What each of them is, stands in its versions.
CREATE TABLE IF NOT EXISTS plans (
  id         BIGINT      NOT NULL AUTO_INCREMENT PRIMARY KEY,
  public_id  CHAR(36)    CHARACTER SET ascii NOT NULL,
  shop_id    BIGINT      NOT NULL,
  atlas_id   VARCHAR(60) NOT NULL,
  version    INT         NOT NULL DEFAULT 1,
  retired    BOOLEAN     NOT NULL DEFAULT FALSE,
  created_at DATETIME(6) NOT NULL,
  UNIQUE KEY plans_public (public_id),
  KEY plans_piece (shop_id, atlas_id),
  CONSTRAINT plans_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT plans_versions CHECK (version > 0)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

-- Rows are added and never changed.
CREATE TABLE IF NOT EXISTS plan_versions (
  id        BIGINT      NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shop_id   BIGINT      NOT NULL,
  plan_id   BIGINT      NOT NULL,
  version   INT         NOT NULL,
  body      JSON        NOT NULL,
  member_id BIGINT      NULL,
  made_by   VARCHAR(80) NOT NULL,
  made_at   DATETIME(6) NOT NULL,
  UNIQUE KEY plan_versions_number (plan_id, version),
  CONSTRAINT plan_versions_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT plan_versions_of FOREIGN KEY (plan_id) REFERENCES plans (id),
  CONSTRAINT plan_versions_member FOREIGN KEY (member_id) REFERENCES members (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

-- +goose StatementBegin
CREATE TRIGGER IF NOT EXISTS plan_versions_never_change BEFORE UPDATE ON plan_versions FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'versions of a plan are append-only';
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER IF NOT EXISTS plan_versions_never_go BEFORE DELETE ON plan_versions FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'versions of a plan are append-only';
-- +goose StatementEnd

-- What was chosen within the plan, and the whole plan as it was when the piece went on the bench.
ALTER TABLE pieces
  ADD COLUMN IF NOT EXISTS options     JSON         NULL,
  ADD COLUMN IF NOT EXISTS voided_at   DATETIME(6)  NULL,
  ADD COLUMN IF NOT EXISTS void_reason VARCHAR(500) NOT NULL DEFAULT '';
ALTER TABLE breakdowns ADD COLUMN IF NOT EXISTS plan JSON NULL AFTER plan_id;

-- What is known of the animal and of how it came; empty where nobody said. decided says what becomes of a finding.
ALTER TABLE lots
  ADD COLUMN IF NOT EXISTS bone           VARCHAR(10)  NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS feed           VARCHAR(10)  NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS sex            VARCHAR(10)  NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS age_class      VARCHAR(20)  NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS fat_class      VARCHAR(20)  NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS marbling       VARCHAR(20)  NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS hang           VARCHAR(20)  NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS supplier_grade VARCHAR(40)  NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS ph             DECIMAL(4,2) NULL,
  ADD COLUMN IF NOT EXISTS temperature_c  DECIMAL(5,2) NULL,
  ADD COLUMN IF NOT EXISTS decided        JSON         NULL,
  ADD COLUMN IF NOT EXISTS from_piece_id  BIGINT       NULL,
  ADD COLUMN IF NOT EXISTS version        INT          NOT NULL DEFAULT 1,
  ADD COLUMN IF NOT EXISTS voided_at      DATETIME(6)  NULL,
  ADD COLUMN IF NOT EXISTS void_reason    VARCHAR(500) NOT NULL DEFAULT '',
  ADD CONSTRAINT IF NOT EXISTS lots_ph CHECK (ph IS NULL OR (ph >= 4 AND ph <= 9));
ALTER TABLE lots DROP FOREIGN KEY IF EXISTS lots_from;
ALTER TABLE lots ADD CONSTRAINT lots_from FOREIGN KEY (from_piece_id) REFERENCES pieces (id);
