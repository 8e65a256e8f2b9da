-- +goose Up
-- Which atlas the answers of a shop's finished pieces were last worked out by.
ALTER TABLE shops ADD COLUMN IF NOT EXISTS atlas_print CHAR(64) CHARACTER SET ascii NOT NULL DEFAULT '';
