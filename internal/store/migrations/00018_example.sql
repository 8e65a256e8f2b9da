-- +goose Up
-- A shop that is an example: it can be taken away with all that is in it, its logs too. A real shop never becomes one.
ALTER TABLE shops ADD COLUMN IF NOT EXISTS example BOOLEAN NOT NULL DEFAULT FALSE;

-- +goose StatementBegin
CREATE OR REPLACE TRIGGER shops_example_stays BEFORE UPDATE ON shops FOR EACH ROW
  IF NEW.example <> OLD.example THEN
    SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'a shop is an example from the beginning, or never';
  END IF;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE OR REPLACE TRIGGER events_never_go BEFORE DELETE ON events FOR EACH ROW
  IF NOT EXISTS (SELECT 1 FROM shops WHERE id = OLD.shop_id AND example) THEN
    SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'the log is append-only';
  END IF;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE OR REPLACE TRIGGER audit_never_goes BEFORE DELETE ON audit FOR EACH ROW
  IF NOT EXISTS (SELECT 1 FROM shops WHERE id = OLD.shop_id AND example) THEN
    SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'the audit is append-only';
  END IF;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE OR REPLACE TRIGGER plan_versions_never_go BEFORE DELETE ON plan_versions FOR EACH ROW
  IF NOT EXISTS (SELECT 1 FROM shops WHERE id = OLD.shop_id AND example) THEN
    SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'versions of a plan are append-only';
  END IF;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE OR REPLACE TRIGGER scale_checks_never_go BEFORE DELETE ON scale_checks FOR EACH ROW
  IF NOT EXISTS (SELECT 1 FROM shops WHERE id = OLD.shop_id AND example) THEN
    SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'checks of scales are append-only';
  END IF;
-- +goose StatementEnd
