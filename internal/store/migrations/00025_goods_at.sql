-- +goose Up
-- What became of goods in a stretch of time is asked by when it happened.
ALTER TABLE goods_events ADD KEY IF NOT EXISTS goods_events_at (shop_id, at);
