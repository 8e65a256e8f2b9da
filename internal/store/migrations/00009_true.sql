-- +goose Up
-- A shop's own clock: days, weeks and seasons go by its time zone.
ALTER TABLE shops ADD COLUMN IF NOT EXISTS time_zone VARCHAR(64) CHARACTER SET ascii NOT NULL DEFAULT 'UTC' AFTER currency;

-- What a finished piece brought is worked out anew: what was weighed is what is valued, and each line is rounded once. The
-- tables are read tables; the program fills them again from the logs.
DELETE FROM result_cells;
DELETE FROM results;
ALTER TABLE results ADD COLUMN IF NOT EXISTS closed_on DATE NOT NULL DEFAULT '1970-01-01' AFTER closed_at;
ALTER TABLE results ALTER COLUMN closed_on DROP DEFAULT;
UPDATE shops SET results_stale = results_stale + 1;

-- Somebody who is invited belongs to a shop once they joined by that shop's own link. Who has a password had joined.
ALTER TABLE members ADD COLUMN IF NOT EXISTS joined_at DATETIME(6) NULL;
UPDATE members m JOIN people p ON p.id = m.person_id SET m.joined_at = m.created_at WHERE p.password_hash <> '' AND m.joined_at IS NULL;

-- Addresses are compared letter by letter.
ALTER TABLE people MODIFY email VARCHAR(190) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL;

-- Browsers in which somebody signed in before: a stranger's guessing does not keep them out.
CREATE TABLE IF NOT EXISTS known_devices (
  id         BIGINT      NOT NULL AUTO_INCREMENT PRIMARY KEY,
  person_id  BIGINT      NOT NULL,
  token_hash CHAR(64)    CHARACTER SET ascii NOT NULL,
  seen_at    DATETIME(6) NOT NULL,
  UNIQUE KEY known_devices_one (person_id, token_hash),
  CONSTRAINT known_devices_person FOREIGN KEY (person_id) REFERENCES people (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

-- The audit is a chain: each row holds the hash of the row before it and of itself, and the head of each shop how many there are and
-- where it ends. Rows from before have none; the head counts them.
ALTER TABLE audit ADD COLUMN IF NOT EXISTS chain CHAR(64) CHARACTER SET ascii NOT NULL DEFAULT '';
CREATE TABLE IF NOT EXISTS audit_heads (
  shop_id BIGINT   NOT NULL PRIMARY KEY,
  entries BIGINT   NOT NULL,
  chain   CHAR(64) CHARACTER SET ascii NOT NULL DEFAULT '',
  CONSTRAINT audit_heads_shop FOREIGN KEY (shop_id) REFERENCES shops (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;
INSERT IGNORE INTO audit_heads (shop_id, entries) SELECT s.id, (SELECT COUNT(*) FROM audit a WHERE a.shop_id = s.id) FROM shops s;
