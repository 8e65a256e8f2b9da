-- +goose Up
-- The address by which other devices reach the program; empty where it is the one that the browser shows.
ALTER TABLE shops ADD COLUMN IF NOT EXISTS address VARCHAR(200) NOT NULL DEFAULT '';
