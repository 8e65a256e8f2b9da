package store

import (
	"context"
	"fmt"
	"strings"
)

// foreignKeys lists which table refers to which by which column, both with a shop of their own.
var foreignKeys = []struct{ table, column, to string }{
	{"pieces", "lot_id", "lots"}, {"breakdowns", "piece_id", "pieces"}, {"breakdowns", "bench_id", "benches"},
	{"events", "breakdown_id", "breakdowns"}, {"events", "bench_id", "benches"}, {"events", "member_id", "members"},
	{"outputs", "breakdown_id", "breakdowns"}, {"method_choices", "breakdown_id", "breakdowns"},
	{"devices", "bench_id", "benches"}, {"sessions", "member_id", "members"}, {"sessions", "device_id", "devices"},
	{"tokens", "member_id", "members"}, {"audit", "member_id", "members"}, {"one_time_tokens", "bench_id", "benches"},
	{"plan_versions", "plan_id", "plans"}, {"plan_versions", "member_id", "members"}, {"lots", "from_piece_id", "pieces"},
	{"breakdowns", "batch_id", "batches"}, {"batches", "bench_id", "benches"},
	{"tasting_samples", "tasting_id", "tastings"}, {"tasting_samples", "breakdown_id", "breakdowns"},
	{"tasting_assessors", "tasting_id", "tastings"}, {"tasting_sheets", "tasting_id", "tastings"},
	{"tasting_sheets", "sample_id", "tasting_samples"}, {"trial_pairs", "trial_id", "trials"},
	{"trial_pairs", "piece_a", "pieces"}, {"trial_pairs", "piece_b", "pieces"}, {"quotes", "market_id", "markets"},
	{"results", "breakdown_id", "breakdowns"}, {"results", "member_id", "members"}, {"shares", "member_id", "members"},
	{"goods", "breakdown_id", "breakdowns"}, {"goods", "making_id", "makings"}, {"goods_events", "goods_id", "goods"},
	{"goods_events", "making_id", "makings"}, {"goods_events", "member_id", "members"},
	{"goods_events", "order_id", "orders"}, {"order_pieces", "order_id", "orders"}, {"order_pieces", "piece_id", "pieces"},
	{"makings", "recipe_id", "recipes"}, {"fat_tests", "member_id", "members"},
	{"scale_checks", "bench_id", "benches"}, {"scale_checks", "member_id", "members"},
}

// CrossShopRefs looks for what no constraint of the schema can hold: rows that lean on a row of another shop, logs with
// a gap, lots whose pieces do not weigh what the lot weighs. Each flaw is a sentence.
func (s *Store) CrossShopRefs(ctx context.Context) ([]string, error) {
	var flaws []string
	for _, l := range foreignKeys {
		var ids []int64
		q := fmt.Sprintf("SELECT a.`%s` FROM `%s` a JOIN `%s` b ON b.id = a.`%s` WHERE a.shop_id <> b.shop_id LIMIT 20",
			map[bool]string{true: "breakdown_id", false: "id"}[strings.HasPrefix(l.table, "result")], l.table, l.to, l.column)
		if err := s.on(ctx).Raw(q).Scan(&ids).Error; err != nil {
			return nil, Translate(err)
		}
		for _, id := range ids {
			flaws = append(flaws, fmt.Sprintf("row %d of %s leans on a row of %s of another shop", id, l.table, l.to))
		}
	}
	var gaps []string
	err := s.on(ctx).Raw(`SELECT b.public_id FROM breakdowns b JOIN events e ON e.breakdown_id = b.id GROUP BY b.id
		HAVING COUNT(*) <> MAX(e.seq) OR MIN(e.seq) <> 1 LIMIT 20`).Scan(&gaps).Error
	if err != nil {
		return nil, Translate(err)
	}
	for _, id := range gaps {
		flaws = append(flaws, id+": events are missing in its log")
	}
	var goods []string
	err = s.on(ctx).Raw(`SELECT g.public_id FROM goods g LEFT JOIN goods_events e ON e.goods_id = g.id GROUP BY g.id
		HAVING COALESCE(SUM(e.change_mg), 0) <> MAX(g.change_mg) LIMIT 20`).Scan(&goods).Error
	if err != nil {
		return nil, Translate(err)
	}
	for _, id := range goods {
		flaws = append(flaws, "goods "+id+": what is left does not agree with the stock log")
	}
	var lots []string
	err = s.on(ctx).Raw(`SELECT l.lot_number FROM lots l JOIN pieces p ON p.lot_id = l.id GROUP BY l.id
		HAVING SUM(p.label_mg) <> MAX(l.total_mg) OR COUNT(*) <> MAX(l.pieces) LIMIT 20`).Scan(&lots).Error
	for _, number := range lots {
		flaws = append(flaws, "lot "+number+": its pieces do not weigh what it weighs")
	}
	return flaws, Translate(err)
}

// Orphans looks through every foreign key for rows that lean on a row that is not there, as a restore with the checks
// off could leave them. Each flaw is a sentence.
func (s *Store) Orphans(ctx context.Context) ([]string, error) {
	var keys []struct{ TableName, ColumnName, ReferencedTableName, ReferencedColumnName string }
	err := s.on(ctx).
		Raw(`SELECT table_name AS table_name, column_name AS column_name, referenced_table_name AS referenced_table_name,
			referenced_column_name AS referenced_column_name FROM information_schema.key_column_usage
		WHERE table_schema = DATABASE() AND referenced_table_name IS NOT NULL`).Scan(&keys).Error
	if err != nil {
		return nil, Translate(err)
	}
	var flaws []string
	for _, k := range keys {
		var n int
		q := fmt.Sprintf("SELECT COUNT(*) FROM `%s` a LEFT JOIN `%s` b ON b.`%s` = a.`%s` WHERE a.`%s` IS NOT NULL AND "+
			"b.`%s` IS NULL",
			k.TableName, k.ReferencedTableName, k.ReferencedColumnName, k.ColumnName, k.ColumnName, k.ReferencedColumnName)
		if err := s.on(ctx).Raw(q).Scan(&n).Error; err != nil {
			return nil, Translate(err)
		}
		if n > 0 {
			flaws = append(flaws,
				fmt.Sprintf("%d rows of %s lean on rows of %s that are not there", n, k.TableName, k.ReferencedTableName))
		}
	}
	return flaws, nil
}
