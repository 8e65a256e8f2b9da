-- +goose Up
-- What is measured of the meat: intramuscular fat, and how much of a lamb is lean; both reach the grades.
ALTER TABLE lots
  ADD COLUMN IF NOT EXISTS fat_pct        DECIMAL(4,2) NULL,
  ADD COLUMN IF NOT EXISTS lean_yield_pct DECIMAL(4,2) NULL,
  ADD CONSTRAINT IF NOT EXISTS lots_fat CHECK (fat_pct IS NULL OR (fat_pct >= 0 AND fat_pct <= 40)),
  ADD CONSTRAINT IF NOT EXISTS lots_lean CHECK (lean_yield_pct IS NULL OR (lean_yield_pct >= 30 AND lean_yield_pct <= 80));
