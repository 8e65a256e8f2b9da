-- +goose Up
-- One row: whether the installation has its first owner yet.
CREATE TABLE IF NOT EXISTS installation (
  id        TINYINT     NOT NULL PRIMARY KEY,
  set_up_at DATETIME(6) NULL,
  CONSTRAINT installation_one CHECK (id = 1)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

INSERT IGNORE INTO installation (id) VALUES (1);

-- Someone who can sign in. What they are called and may do is a matter of each shop.
CREATE TABLE IF NOT EXISTS people (
  id            BIGINT       NOT NULL AUTO_INCREMENT PRIMARY KEY,
  public_id     CHAR(36)     CHARACTER SET ascii NOT NULL,
  email         VARCHAR(190) NOT NULL,
  password_hash VARCHAR(200) CHARACTER SET ascii NOT NULL DEFAULT '',
  created_at    DATETIME(6)  NOT NULL,
  UNIQUE KEY people_public (public_id),
  UNIQUE KEY people_email (email)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS members (
  id         BIGINT       NOT NULL AUTO_INCREMENT PRIMARY KEY,
  public_id  CHAR(36)     CHARACTER SET ascii NOT NULL,
  shop_id    BIGINT       NOT NULL,
  person_id  BIGINT       NOT NULL,
  name       VARCHAR(80)  NOT NULL,
  role       VARCHAR(20)  NOT NULL,
  pin_hash   VARCHAR(200) CHARACTER SET ascii NOT NULL DEFAULT '',
  active     BOOLEAN      NOT NULL DEFAULT TRUE,
  version    INT          NOT NULL DEFAULT 1,
  created_at DATETIME(6)  NOT NULL,
  UNIQUE KEY members_public (public_id),
  UNIQUE KEY members_person (shop_id, person_id),
  KEY members_of_person (person_id),
  CONSTRAINT members_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT members_who FOREIGN KEY (person_id) REFERENCES people (id),
  CONSTRAINT members_roles CHECK (role IN ('owner', 'head_cutter', 'cutter', 'apprentice', 'yield_desk'))
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

ALTER TABLE benches
  ADD COLUMN IF NOT EXISTS active  BOOLEAN NOT NULL DEFAULT TRUE,
  ADD COLUMN IF NOT EXISTS version INT     NOT NULL DEFAULT 1;

-- A screen that was enrolled at a bench.
CREATE TABLE IF NOT EXISTS devices (
  id          BIGINT       NOT NULL AUTO_INCREMENT PRIMARY KEY,
  public_id   CHAR(36)     CHARACTER SET ascii NOT NULL,
  shop_id     BIGINT       NOT NULL,
  bench_id    BIGINT       NOT NULL,
  token_hash  CHAR(64)     CHARACTER SET ascii NOT NULL,
  about       VARCHAR(120) NOT NULL,
  enrolled_at DATETIME(6)  NOT NULL,
  seen_at     DATETIME(6)  NOT NULL,
  revoked_at  DATETIME(6)  NULL,
  UNIQUE KEY devices_public (public_id),
  UNIQUE KEY devices_token (token_hash),
  KEY devices_bench (shop_id, bench_id),
  CONSTRAINT devices_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT devices_at FOREIGN KEY (bench_id) REFERENCES benches (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS sessions (
  id         BIGINT       NOT NULL AUTO_INCREMENT PRIMARY KEY,
  public_id  CHAR(36)     CHARACTER SET ascii NOT NULL,
  token_hash CHAR(64)     CHARACTER SET ascii NOT NULL,
  shop_id    BIGINT       NOT NULL,
  member_id  BIGINT       NOT NULL,
  person_id  BIGINT       NOT NULL,
  device_id  BIGINT       NULL,
  via        VARCHAR(10)  NOT NULL,
  about      VARCHAR(120) NOT NULL,
  created_at DATETIME(6)  NOT NULL,
  seen_at    DATETIME(6)  NOT NULL,
  ends_at    DATETIME(6)  NOT NULL,
  ended_at   DATETIME(6)  NULL,
  UNIQUE KEY sessions_public (public_id),
  UNIQUE KEY sessions_token (token_hash),
  KEY sessions_person (person_id, ended_at),
  KEY sessions_device (device_id, member_id),
  KEY sessions_ends (ends_at),
  CONSTRAINT sessions_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT sessions_member FOREIGN KEY (member_id) REFERENCES members (id),
  CONSTRAINT sessions_who FOREIGN KEY (person_id) REFERENCES people (id),
  CONSTRAINT sessions_on FOREIGN KEY (device_id) REFERENCES devices (id),
  CONSTRAINT sessions_vias CHECK (via IN ('password', 'pin', 'demo'))
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

-- What may be used once: the set-up link, a link to choose a password, the code that enrols a bench.
CREATE TABLE IF NOT EXISTS once (
  id         BIGINT      NOT NULL AUTO_INCREMENT PRIMARY KEY,
  token_hash CHAR(64)    CHARACTER SET ascii NOT NULL,
  kind       VARCHAR(10) NOT NULL,
  shop_id    BIGINT      NULL,
  person_id  BIGINT      NULL,
  bench_id   BIGINT      NULL,
  created_at DATETIME(6) NOT NULL,
  ends_at    DATETIME(6) NOT NULL,
  used_at    DATETIME(6) NULL,
  UNIQUE KEY once_token (token_hash),
  CONSTRAINT once_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT once_person FOREIGN KEY (person_id) REFERENCES people (id),
  CONSTRAINT once_bench FOREIGN KEY (bench_id) REFERENCES benches (id),
  CONSTRAINT once_kinds CHECK (kind IN ('set_up', 'password', 'bench'))
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

-- Failed attempts at a secret, by what was tried (hashed).
CREATE TABLE IF NOT EXISTS attempts (
  what     CHAR(64)    CHARACTER SET ascii NOT NULL PRIMARY KEY,
  failures INT         NOT NULL,
  last_at  DATETIME(6) NOT NULL
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

CREATE TABLE IF NOT EXISTS tokens (
  id         BIGINT       NOT NULL AUTO_INCREMENT PRIMARY KEY,
  public_id  CHAR(36)     CHARACTER SET ascii NOT NULL,
  shop_id    BIGINT       NOT NULL,
  member_id  BIGINT       NOT NULL,
  name       VARCHAR(80)  NOT NULL,
  hint       VARCHAR(12)  CHARACTER SET ascii NOT NULL,
  token_hash CHAR(64)     CHARACTER SET ascii NOT NULL,
  scopes     VARCHAR(120) CHARACTER SET ascii NOT NULL,
  created_at DATETIME(6)  NOT NULL,
  ends_at    DATETIME(6)  NULL,
  used_at    DATETIME(6)  NULL,
  revoked_at DATETIME(6)  NULL,
  UNIQUE KEY tokens_public (public_id),
  UNIQUE KEY tokens_token (token_hash),
  KEY tokens_of_shop (shop_id),
  CONSTRAINT tokens_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT tokens_made_by FOREIGN KEY (member_id) REFERENCES members (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

-- Who changed what. Rows are added and never changed; what happens at the bench is in events.
CREATE TABLE IF NOT EXISTS audit (
  id           BIGINT       NOT NULL AUTO_INCREMENT PRIMARY KEY,
  shop_id      BIGINT       NOT NULL,
  at           DATETIME(6)  NOT NULL,
  member_id    BIGINT       NULL,
  name         VARCHAR(80)  NOT NULL,
  role         VARCHAR(20)  NOT NULL,
  via          VARCHAR(10)  NOT NULL,
  bench        VARCHAR(60)  NOT NULL DEFAULT '',
  action       VARCHAR(40)  NOT NULL,
  subject      VARCHAR(90)  NOT NULL DEFAULT '',
  subject_name VARCHAR(120) NOT NULL DEFAULT '',
  was          JSON         NULL,
  became       JSON         NULL,
  request      VARCHAR(64)  CHARACTER SET ascii NOT NULL DEFAULT '',
  address      VARCHAR(64)  CHARACTER SET ascii NOT NULL DEFAULT '',
  KEY audit_at (shop_id, at, id),
  CONSTRAINT audit_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT audit_member FOREIGN KEY (member_id) REFERENCES members (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

ALTER TABLE events
  ADD COLUMN IF NOT EXISTS member_id BIGINT NULL AFTER bench_id,
  ADD KEY IF NOT EXISTS events_received (shop_id, received_at, id);
ALTER TABLE events DROP FOREIGN KEY IF EXISTS events_member;
ALTER TABLE events ADD CONSTRAINT events_member FOREIGN KEY (member_id) REFERENCES members (id);

-- +goose StatementBegin
CREATE TRIGGER IF NOT EXISTS events_never_change BEFORE UPDATE ON events FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'the log is append-only';
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER IF NOT EXISTS events_never_go BEFORE DELETE ON events FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'the log is append-only';
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER IF NOT EXISTS audit_never_changes BEFORE UPDATE ON audit FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'the audit is append-only';
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER IF NOT EXISTS audit_never_goes BEFORE DELETE ON audit FOR EACH ROW
  SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'the audit is append-only';
-- +goose StatementEnd
