-- +goose Up
-- A price that is a guess has the standard deviation of its logarithm; a known one has 0.
ALTER TABLE prices ADD COLUMN IF NOT EXISTS spread DOUBLE NOT NULL DEFAULT 0;
