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
