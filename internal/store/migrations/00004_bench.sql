-- +goose Up
-- What was looked at, what was moved, what was opened again.
ALTER TABLE events DROP CONSTRAINT IF EXISTS events_kinds;
ALTER TABLE events ADD CONSTRAINT IF NOT EXISTS events_kinds CHECK (kind IN ('opened', 'seamed_off', 'trimmed', 'portioned', 'discarded', 'weighed_again', 'undone', 'noted', 'paused', 'resumed',
  'closed', 'inspected', 'moved', 'reopened'));
ALTER TABLE breakdowns ADD KEY IF NOT EXISTS breakdowns_closed (shop_id, closed_at);
