-- +goose Up
-- Somebody who left, and whose name was replaced by a pseudonym: when that was.
ALTER TABLE members ADD COLUMN IF NOT EXISTS pseudonym_at DATETIME(6) NULL;
