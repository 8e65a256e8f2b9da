-- +goose Up
-- The work in steps: blocks that stay joined, tubs, ingredients that are added, steps that are ticked or left out.
ALTER TABLE events DROP CONSTRAINT IF EXISTS events_kinds;
ALTER TABLE events ADD CONSTRAINT IF NOT EXISTS events_kinds CHECK (kind IN ('opened', 'seamed_off', 'trimmed', 'portioned', 'discarded', 'weighed_again', 'undone', 'noted', 'paused', 'resumed',
  'closed', 'inspected', 'moved', 'reopened', 'measured', 'parted', 'tubbed', 'ingredient_added', 'joined', 'ticked', 'skipped'));
ALTER TABLE events ADD COLUMN IF NOT EXISTS step VARCHAR(60) NOT NULL DEFAULT '';
ALTER TABLE events ADD COLUMN IF NOT EXISTS block VARCHAR(60) NOT NULL DEFAULT '';
ALTER TABLE events ADD COLUMN IF NOT EXISTS holds JSON NULL;

-- What was added to a piece comes out of it again.
ALTER TABLE breakdowns ADD COLUMN IF NOT EXISTS added_mg BIGINT NOT NULL DEFAULT 0 AFTER output_mg;
ALTER TABLE breakdowns DROP CONSTRAINT IF EXISTS breakdowns_balance;
ALTER TABLE breakdowns ADD CONSTRAINT IF NOT EXISTS breakdowns_balance CHECK (state <> 'closed' OR input_mg + added_mg = output_mg + loss_mg);

-- The form in which the trade sold a piece: boneless, with its tail, with so many ribs.
ALTER TABLE lots ADD COLUMN IF NOT EXISTS form VARCHAR(40) CHARACTER SET ascii NOT NULL DEFAULT '';

-- What a shop adds to meat: stuffing, spice, net, string. price is for one of the unit.
CREATE TABLE IF NOT EXISTS ingredients (
  id         BIGINT        NOT NULL AUTO_INCREMENT PRIMARY KEY,
  public_id  CHAR(36)      CHARACTER SET ascii NOT NULL,
  shop_id    BIGINT        NOT NULL,
  `key`      VARCHAR(40)   CHARACTER SET ascii NOT NULL,
  name       VARCHAR(80)   NOT NULL,
  unit       VARCHAR(10)   CHARACTER SET ascii NOT NULL,
  price      DECIMAL(18,6) NULL,
  allergens  JSON          NOT NULL,
  supplier   VARCHAR(120)  NOT NULL DEFAULT '',
  note       VARCHAR(500)  NOT NULL DEFAULT '',
  retired    BOOLEAN       NOT NULL DEFAULT FALSE,
  version    INT           NOT NULL DEFAULT 1,
  created_at DATETIME(6)   NOT NULL,
  UNIQUE KEY ingredients_public (public_id),
  UNIQUE KEY ingredients_key (shop_id, `key`),
  UNIQUE KEY ingredients_name (shop_id, name),
  CONSTRAINT ingredients_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT ingredients_units CHECK (unit IN ('kg', 'm', 'piece', 'litre')),
  CONSTRAINT ingredients_price CHECK (price IS NULL OR price >= 0)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

-- Raised with each change of an ingredient: what they cost is read anew only then.
ALTER TABLE shops ADD COLUMN IF NOT EXISTS ingredients_version INT NOT NULL DEFAULT 0;

-- What ingredients cost, beside the other costs of a finished piece.
ALTER TABLE results ADD COLUMN IF NOT EXISTS ingredients DECIMAL(20,8) NOT NULL DEFAULT 0 AFTER discard;
