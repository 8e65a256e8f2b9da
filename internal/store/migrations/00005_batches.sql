-- +goose Up
-- Temperatures on the log, pieces cut together, and how long a bench may stand idle.
ALTER TABLE events DROP CONSTRAINT IF EXISTS events_kinds;
ALTER TABLE events ADD CONSTRAINT IF NOT EXISTS events_kinds CHECK (kind IN ('opened', 'seamed_off', 'trimmed', 'portioned', 'discarded', 'weighed_again', 'undone', 'noted', 'paused', 'resumed',
  'closed', 'inspected', 'moved', 'reopened', 'measured'));
ALTER TABLE events ADD COLUMN IF NOT EXISTS temp_c DECIMAL(5,1) NULL;
ALTER TABLE events ADD COLUMN IF NOT EXISTS shared INT NOT NULL DEFAULT 0;
ALTER TABLE events ADD CONSTRAINT IF NOT EXISTS events_shared CHECK (shared >= 0);

CREATE TABLE IF NOT EXISTS batches (
  id         BIGINT      NOT NULL AUTO_INCREMENT PRIMARY KEY,
  public_id  CHAR(36)    CHARACTER SET ascii NOT NULL,
  shop_id    BIGINT      NOT NULL,
  bench_id   BIGINT      NOT NULL,
  created_at DATETIME(6) NOT NULL,
  UNIQUE KEY batches_public (public_id),
  KEY batches_shop (shop_id, id),
  CONSTRAINT batches_shop FOREIGN KEY (shop_id) REFERENCES shops (id),
  CONSTRAINT batches_bench FOREIGN KEY (bench_id) REFERENCES benches (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;

ALTER TABLE breakdowns ADD COLUMN IF NOT EXISTS batch_id BIGINT NULL;
ALTER TABLE breakdowns ADD KEY IF NOT EXISTS breakdowns_batch (batch_id);
ALTER TABLE breakdowns DROP FOREIGN KEY IF EXISTS breakdowns_batch;
ALTER TABLE breakdowns ADD CONSTRAINT breakdowns_batch FOREIGN KEY (batch_id) REFERENCES batches (id);

ALTER TABLE shops ADD COLUMN IF NOT EXISTS idle_minutes INT NOT NULL DEFAULT 15;
ALTER TABLE shops ADD CONSTRAINT IF NOT EXISTS shops_idle CHECK (idle_minutes BETWEEN 0 AND 240);
