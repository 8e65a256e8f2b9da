-- +goose Up
-- What the invoice says that a lot weighs, where somebody looked; NULL where nobody did.
ALTER TABLE lots ADD COLUMN IF NOT EXISTS invoiced_mg BIGINT NULL;
