-- +goose Up
-- Tables and columns are called as the field calls them.
RENAME TABLE IF EXISTS once TO one_time_tokens;
RENAME TABLE IF EXISTS given_scores TO external_scores;
RENAME TABLE IF EXISTS tasting_eaters TO tasting_assessors;
ALTER TABLE tastings
  DROP CONSTRAINT IF EXISTS tastings_eaters,
  DROP CONSTRAINT IF EXISTS tastings_assessors,
  CHANGE COLUMN IF EXISTS eaters assessors INT NOT NULL,
  ADD CONSTRAINT tastings_assessors CHECK (assessors BETWEEN 1 AND 500);
ALTER TABLE tasting_sheets CHANGE COLUMN IF EXISTS eater assessor INT NOT NULL;
ALTER TABLE results CHANGE COLUMN IF EXISTS by_mg by_products_mg BIGINT NOT NULL;
ALTER TABLE results CHANGE COLUMN IF EXISTS worth_per_kg before_purchase_per_kg DOUBLE NOT NULL;
UPDATE shops SET eating = JSON_REMOVE(JSON_SET(eating, '$.AssessorSD', JSON_EXTRACT(eating, '$.EaterSD')), '$.EaterSD')
  WHERE JSON_EXTRACT(eating, '$.EaterSD') IS NOT NULL;
UPDATE shops SET eating = JSON_REMOVE(JSON_SET(eating, '$.ExternalSD', JSON_EXTRACT(eating, '$.GivenSD')), '$.GivenSD')
  WHERE JSON_EXTRACT(eating, '$.GivenSD') IS NOT NULL;

-- What a panel found of a sample, by each way of weighing the ratings: written when its tasting closes, and not again.
CREATE TABLE IF NOT EXISTS panel_results (
  sample_id  BIGINT      NOT NULL,
  weights    VARCHAR(20) CHARACTER SET ascii NOT NULL,
  shop_id    BIGINT      NOT NULL,
  tasting_id BIGINT      NOT NULL,
  number     INT         NOT NULL,
  atlas_id   VARCHAR(60) NOT NULL,
  part       VARCHAR(60) NOT NULL,
  method     VARCHAR(20) CHARACTER SET ascii NOT NULL,
  score      DOUBLE      NULL,
  assessors  INT         NOT NULL,
  PRIMARY KEY (sample_id, weights),
  KEY panel_results_of_shop (shop_id, weights),
  CONSTRAINT panel_results_sample FOREIGN KEY (sample_id) REFERENCES tasting_samples (id),
  CONSTRAINT panel_results_tasting FOREIGN KEY (tasting_id) REFERENCES tastings (id),
  CONSTRAINT panel_results_shop FOREIGN KEY (shop_id) REFERENCES shops (id)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_ci;
-- Raised with each change of what a house's grades rest on.
ALTER TABLE shops ADD COLUMN IF NOT EXISTS grades_version INT NOT NULL DEFAULT 0;

-- A piece is started once it has a breakdown: what waits is found without looking at what is done.
ALTER TABLE pieces ADD COLUMN IF NOT EXISTS started BOOLEAN NOT NULL DEFAULT FALSE;
UPDATE pieces p SET p.started = TRUE WHERE EXISTS (SELECT 1 FROM breakdowns b WHERE b.piece_id = p.id);
ALTER TABLE pieces ADD KEY IF NOT EXISTS pieces_waiting (shop_id, started, voided_at, id);
ALTER TABLE breakdowns ADD KEY IF NOT EXISTS breakdowns_open (shop_id, judged_at, id);
ALTER TABLE breakdowns ADD KEY IF NOT EXISTS breakdowns_created (shop_id, created_at, id);
ALTER TABLE breakdowns ADD KEY IF NOT EXISTS breakdowns_state_created (shop_id, state, created_at, id);
ALTER TABLE audit ADD KEY IF NOT EXISTS audit_subject (shop_id, subject, id);
ALTER TABLE results ADD KEY IF NOT EXISTS results_closed (shop_id, closed_at);
ALTER TABLE results ADD KEY IF NOT EXISTS results_plan_closed (shop_id, atlas_id, plan_id, closed_at);
ALTER TABLE lots ADD KEY IF NOT EXISTS lots_of_piece (shop_id, atlas_id, received_at);
ALTER TABLE lots ADD KEY IF NOT EXISTS lots_of_supplier (shop_id, supplier, received_at);
