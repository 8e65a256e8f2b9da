-- +goose Up
-- How the lines of a bench's scale are read, where it does not speak the protocol.
ALTER TABLE benches
  ADD COLUMN IF NOT EXISTS scale_pattern VARCHAR(300) NOT NULL DEFAULT '',
  ADD COLUMN IF NOT EXISTS scale_unit    VARCHAR(5)   NOT NULL DEFAULT '';
