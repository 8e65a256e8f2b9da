package store

import (
	"context"
	"fmt"
	"time"

	"gorm.io/gorm"
)

// Result is what a closed breakdown brought at the prices of its day. It is a row of a read table.
type Result struct {
	BreakdownID         int64 `gorm:"primaryKey;autoIncrement:false"`
	ShopID              int64
	AtlasID             string
	PlanID              string
	PlanName            string
	Cut                 string
	Supplier            string
	MemberID            *int64 // who booked most of it
	ClosedAt            time.Time
	ClosedOn            time.Time // the day by the shop's clock
	InputMg             int64
	MeatMg              int64
	ByProductsMg        int64
	WasteMg             int64
	LossMg              int64
	Minutes             float64
	Priced              bool
	Sales               string
	Packaging           string
	Labour              string
	Discard             string
	Ingredients         string
	Purchase            string
	ValuePerKg          float64
	BeforePurchasePerKg float64 // value before what the block cost

	Cells []ResultCell `gorm:"-"`
	Goods []Goods      `gorm:"-"` // what it gave that lies somewhere; none where the shop keeps no stock
}

// ResultCell is the mass of one part that went into one product, or was wasted or lost.
type ResultCell struct {
	Part       string
	ProductKey string
	Fate       string
	MassMg     int64
	Sales      string
}

// result adds to a compound statement what writes a result anew, or takes it away where it is nil.
func (c *compound) result(breakdownID int64, r *Result) {
	c.add("DELETE FROM result_cells WHERE breakdown_id = ?", breakdownID)
	c.add("DELETE FROM results WHERE breakdown_id = ?", breakdownID)
	if r == nil {
		c.goods(breakdownID, nil)
		return
	}
	c.goods(breakdownID, r.Goods)
	c.add(`INSERT INTO results (breakdown_id, shop_id, atlas_id, plan_id, plan_name, cut, supplier, member_id,
		closed_at, closed_on, input_mg, meat_mg, by_products_mg, waste_mg, loss_mg, minutes, priced, sales, packaging,
		labour, discard, ingredients, purchase, value_per_kg, before_purchase_per_kg)
		VALUES (?, ?, ?, ?, ?, ?, ?, (SELECT member_id FROM events WHERE breakdown_id = ? AND member_id IS NOT NULL GROUP
		BY member_id ORDER BY COUNT(*) DESC, member_id LIMIT 1), ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
		r.BreakdownID, r.ShopID, r.AtlasID, r.PlanID, r.PlanName, r.Cut, r.Supplier, r.BreakdownID, r.ClosedAt,
		r.ClosedOn.Format(time.DateOnly), r.InputMg, r.MeatMg, r.ByProductsMg, r.WasteMg, r.LossMg, r.Minutes, r.Priced,
		r.Sales, r.Packaging, r.Labour, r.Discard, r.Ingredients, r.Purchase, r.ValuePerKg, r.BeforePurchasePerKg)
	for _, x := range r.Cells {
		c.add("INSERT IGNORE INTO result_kinds (shop_id, part, product_key, fate) VALUES (?, ?, ?, ?)", r.ShopID, x.Part,
			x.ProductKey, x.Fate)
		c.add("INSERT INTO result_cells (breakdown_id, kind_id, mass_mg, sales) SELECT ?, id, ?, ? FROM result_kinds WHERE "+
			"shop_id = ? AND part = ? AND product_key = ? AND fate = ? ON DUPLICATE KEY UPDATE mass_mg = result_cells.mass_mg "+
			"+ VALUES(mass_mg), sales = result_cells.sales + VALUES(sales)",
			r.BreakdownID, x.MassMg, x.Sales, r.ShopID, x.Part, x.ProductKey, x.Fate)
	}
}

// WriteResult writes a result anew, and what stands of it with its breakdown: the gain on the other way of cutting, nil
// where it cannot be said, and what was lost.
func (s *Store) WriteResult(ctx context.Context, r Result, gainPerKg *string, lossMg int64) error {
	c := &compound{}
	c.add("BEGIN NOT ATOMIC\nDECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN ROLLBACK; RESIGNAL; END")
	c.add("START TRANSACTION")
	c.result(r.BreakdownID, &r)
	c.add("UPDATE breakdowns SET gain_per_kg = ?, loss_mg = ?, output_mg = input_mg + added_mg - ? WHERE id = ? AND "+
		"shop_id = ? "+
		"AND state = 'closed'",
		gainPerKg, lossMg, lossMg, r.BreakdownID, r.ShopID)
	c.add("COMMIT")
	c.sql.WriteString("END")
	return Translate(s.on(ctx).Exec(c.sql.String(), c.args...).Error)
}

// Result gives the result of a breakdown with its cells; ErrNotFound where there is none.
func (s *Store) Result(ctx context.Context, shopID, breakdownID int64) (Result, error) {
	var r Result
	err := s.on(ctx).Where("shop_id = ? AND breakdown_id = ?", shopID, breakdownID).Take(&r).Error
	if err == nil {
		err = s.on(ctx).
			Raw("SELECT k.part, k.product_key, k.fate, c.mass_mg, c.sales FROM result_cells c JOIN result_kinds k ON k.id = "+
				"c.kind_id WHERE k.shop_id = ? AND c.breakdown_id = ? ORDER BY k.id", shopID, breakdownID).Scan(&r.Cells).Error
	}
	return r, Translate(err)
}

// ResultMark is where a list of what lacks a result ended; the zero value begins it.
type ResultMark struct {
	Priced bool // there is a result, and it lacks a price
	ID     int64
}

// Lacking is a breakdown that has no result, or one that lacks a price.
type Lacking struct {
	Breakdown
	HasResult bool
}

// Unresulted lists closed breakdowns, carcasses left out, that have no result yet, and then those whose result lacked a
// price; those after a mark.
func (s *Store) Unresulted(ctx context.Context, shopID int64, carcasses []string, after ResultMark,
	limit int) ([]Lacking, error) {
	var out []Lacking
	err := s.on(ctx).Raw(`SELECT d.*, r.breakdown_id IS NOT NULL AS has_result
		FROM breakdowns d JOIN pieces p ON p.id = d.piece_id JOIN lots l ON l.id = p.lot_id LEFT JOIN results r ON
		r.breakdown_id = d.id
		WHERE d.shop_id = ? AND d.state = 'closed' AND l.atlas_id NOT IN ?
		AND (r.breakdown_id IS NULL OR NOT r.priced)
		AND ((r.breakdown_id IS NOT NULL) > ? OR ((r.breakdown_id IS NOT NULL) = ? AND d.id > ?))
		ORDER BY has_result, d.id LIMIT ?`, shopID, append([]string{""}, carcasses...), after.Priced, after.Priced, after.ID,
		limit).Scan(&out).Error
	return out, Translate(err)
}

// StaleResults notes that some result of a shop may be missing, or lack a price that there is by now.
func (s *Store) StaleResults(ctx context.Context, shopID int64) error {
	return Translate(s.on(ctx).Exec("UPDATE shops SET results_stale = results_stale + 1 WHERE id = ?", shopID).Error)
}

// FreshResults notes that none is, where nobody has noted otherwise since the count was read.
func (s *Store) FreshResults(ctx context.Context, shopID int64, stale int) error {
	return Translate(s.on(ctx).Exec("UPDATE shops SET results_stale = 0 WHERE id = ? AND results_stale = ?", shopID,
		stale).Error)
}

// DropResults takes away the results of a lot's pieces; the upkeep makes them anew.
func (s *Store) DropResults(ctx context.Context, shopID, lotID int64) error {
	return s.dropResults(ctx, shopID, " AND d.piece_id IN (SELECT id FROM pieces WHERE lot_id = ?)", lotID)
}

// DropShopResults takes away all results of a shop; they are made anew.
func (s *Store) DropShopResults(ctx context.Context, shopID int64) error {
	return s.dropResults(ctx, shopID, "")
}

// dropResults takes away the results of those breakdowns d of a shop that a further condition lets through.
func (s *Store) dropResults(ctx context.Context, shopID int64, and string, args ...any) error {
	for _, table := range []string{"result_cells", "results"} {
		err := s.on(ctx).Exec("DELETE x FROM "+table+" x JOIN breakdowns d ON d.id = x.breakdown_id WHERE d.shop_id = ?"+and,
			append([]any{shopID}, args...)...).Error
		if err != nil {
			return Translate(err)
		}
	}
	return s.StaleResults(ctx, shopID)
}

// ResultQuery says which results are wanted: all fields that are set must fit.
type ResultQuery struct {
	ShopID     int64
	AtlasID    string
	PlanID     string
	Supplier   string
	Member     string    // public id
	From, To   time.Time // days: the first, and the one after the last
	Breakdowns []string  // public ids
	By, Bucket string    // only those of one bucket
}

func (s *Store) results(ctx context.Context, q ResultQuery) *gorm.DB {
	db := s.on(ctx).Table("results r").Where("r.shop_id = ?", q.ShopID)
	for _, x := range []struct {
		name  string
		value string
	}{{"r.atlas_id", q.AtlasID}, {"r.plan_id", q.PlanID}, {"r.supplier", q.Supplier}} {
		column, v := x.name, x.value
		if v != "" {
			db = db.Where(column+" = ?", v)
		}
	}
	if q.Member != "" {
		db = db.Where("r.member_id = (SELECT id FROM members WHERE shop_id = ? AND public_id = ?)", q.ShopID, q.Member)
	}
	if !q.From.IsZero() {
		db = db.Where("r.closed_on >= ?", q.From.Format(time.DateOnly))
	}
	if !q.To.IsZero() {
		db = db.Where("r.closed_on < ?", q.To.Format(time.DateOnly))
	}
	if len(q.Breakdowns) > 0 {
		db = db.Where("r.breakdown_id IN (SELECT id FROM breakdowns WHERE shop_id = ? AND public_id IN ?)", q.ShopID,
			q.Breakdowns)
	}
	if b, ok := buckets[q.By]; ok && q.Bucket != "" {
		db = db.Where(b[0]+" = ?", q.Bucket)
	}
	return db
}

// ResultSum is results added up.
type ResultSum struct {
	N           int
	InputMg     int64
	Minutes     float64
	Packaging   string
	Labour      string
	Discard     string
	Ingredients string
	Purchase    string
	Unpriced    int
	Seams       int // how many were cut by the seams
	First       *time.Time
	Last        *time.Time
}

// SumResults adds up the results that fit, and their cells by part, product and fate.
func (s *Store) SumResults(ctx context.Context, q ResultQuery) (ResultSum, []ResultCell, error) {
	var sum ResultSum
	err := s.results(ctx, q).
		Select(`COUNT(*) AS n, COALESCE(SUM(r.input_mg), 0) AS input_mg, COALESCE(SUM(r.minutes), 0) AS minutes,
			COALESCE(SUM(r.packaging), 0) AS packaging, COALESCE(SUM(r.labour), 0) AS labour,
		COALESCE(SUM(r.discard), 0) AS discard, COALESCE(SUM(r.ingredients), 0) AS ingredients, COALESCE(SUM(r.purchase),
		0) AS purchase, COALESCE(SUM(NOT r.priced), 0)
		AS unpriced, COALESCE(SUM(r.cut = 'seams'), 0) AS seams, MIN(r.closed_at) AS first, MAX(r.closed_at) AS last`).
		Scan(&sum).Error
	if err != nil {
		return sum, nil, Translate(err)
	}
	var cells []ResultCell
	sums := s.results(ctx, q).Joins("JOIN result_cells c ON c.breakdown_id = r.breakdown_id").
		Select("c.kind_id, SUM(c.mass_mg) AS mass_mg, SUM(c.sales) AS sales").Group("c.kind_id")
	err = s.on(ctx).Table("(?) s", sums).Joins("JOIN result_kinds k ON k.id = s.kind_id").
		Select("k.part, k.product_key, k.fate, s.mass_mg, s.sales").Order("k.part, k.product_key, k.fate").Scan(&cells).Error
	return sum, cells, Translate(err)
}

// Bucket is results of one week, plan, cutter or supplier, added up: how many, and mean and standard deviation of what
// a piece gave.
type Bucket struct {
	Key       string `gorm:"column:bucket"`
	Name      string
	N         int
	YieldPct  float64 // saleable meat of the piece
	YieldSd   float64
	Value     float64 // a kilogram of block
	ValueSd   float64
	Worth     float64 // before what the block cost
	WorthSd   float64
	Minutes   float64 // a kilogram of block
	MinutesSd float64
	LossPct   float64
	LossSd    float64
	InputMg   int64
}

// buckets are what results can be taken together by: the key and the name of a bucket.
var buckets = map[string][2]string{
	"week": {"DATE_FORMAT(r.closed_on, '%x-W%v')", "''"}, "month": {"DATE_FORMAT(r.closed_on, '%Y-%m')", "''"},
	"piece": {"r.atlas_id", "''"}, "plan": {"CONCAT(r.atlas_id, '/', r.plan_id)", "MAX(r.plan_name)"},
	"supplier": {"r.supplier", "r.supplier"},
	"cutter": {"COALESCE((SELECT m.public_id FROM members m WHERE m.id = r.member_id), '')",
		"COALESCE((SELECT m.name FROM members m WHERE m.id = r.member_id), '')"},
}

// BucketResults takes the results that fit together by week, month, piece, plan, supplier or cutter, in one query.
func (s *Store) BucketResults(ctx context.Context, q ResultQuery, by string) ([]Bucket, error) {
	b, ok := buckets[by]
	if !ok {
		return nil, fmt.Errorf("results cannot be taken together by %q", by)
	}
	var out []Bucket
	err := s.results(ctx, q).Where("r.input_mg > 0").Select(b[0] + " AS bucket, " + b[1] + " AS name, " + bucketSums).
		Group("bucket").Order("bucket").Limit(600).Scan(&out).Error
	return out, Translate(err)
}

// bucketSums are the columns of a bucket.
const bucketSums = `COUNT(*) AS n, SUM(r.input_mg) AS input_mg,
	AVG(r.meat_mg / r.input_mg * 100) AS yield_pct, COALESCE(STDDEV_SAMP(r.meat_mg / r.input_mg * 100), 0) AS yield_sd,
	AVG(r.value_per_kg) AS value, COALESCE(STDDEV_SAMP(r.value_per_kg), 0) AS value_sd,
	AVG(r.before_purchase_per_kg) AS worth, COALESCE(STDDEV_SAMP(r.before_purchase_per_kg), 0) AS worth_sd,
	AVG(r.minutes / (r.input_mg / 1000000)) AS minutes, COALESCE(STDDEV_SAMP(r.minutes / (r.input_mg / 1000000)), 0) AS
	minutes_sd,
	AVG(r.loss_mg / r.input_mg * 100) AS loss_pct, COALESCE(STDDEV_SAMP(r.loss_mg / r.input_mg * 100), 0) AS loss_sd`

// Stratum is the part of a bucket that is of one kind of piece, and cut by one plan unless the buckets are plans.
type Stratum struct {
	Bucket  `gorm:"embedded"`
	Stratum string
}

// BucketStrata is BucketResults, each bucket taken apart by kind of piece and plan; by plan, by kind alone.
func (s *Store) BucketStrata(ctx context.Context, q ResultQuery, by string) ([]Stratum, error) {
	b, ok := buckets[by]
	if !ok {
		return nil, fmt.Errorf("results cannot be taken together by %q", by)
	}
	stratum := "CONCAT(r.atlas_id, '/', r.plan_id)"
	if by == "plan" {
		stratum = "r.atlas_id"
	}
	var out []Stratum
	err := s.results(ctx, q).Where("r.input_mg > 0").
		Select(b[0] + " AS bucket, " + stratum + " AS stratum, " + b[1] + " AS name, " + bucketSums).
		Group("bucket, stratum").Order("bucket, stratum").Limit(3000).Scan(&out).Error
	return out, Translate(err)
}

// ResultRow is one result with what a list of them shows.
type ResultRow struct {
	Result
	PublicID    string
	LotNumber   string
	PieceNumber int
	Cutter      string
	CutterID    string // public
}

// ListResults lists the results that fit, the latest first, so many after so many.
func (s *Store) ListResults(ctx context.Context, q ResultQuery, after *ResultAfter, limit int) ([]ResultRow, error) {
	db := s.results(ctx, q)
	if after != nil {
		db = db.Where("r.closed_at <= ? AND (r.closed_at < ? OR r.breakdown_id < ?)", after.ClosedAt, after.ClosedAt,
			after.ID)
	}
	var ids []int64
	err := db.Order("r.closed_at DESC, r.breakdown_id DESC").Limit(limit).Pluck("r.breakdown_id", &ids).Error
	if err != nil || len(ids) == 0 {
		return nil, Translate(err)
	}
	var out []ResultRow
	err = s.on(ctx).Raw(`SELECT r.*, d.public_id, l.lot_number, p.number AS piece_number, COALESCE(m.name, '') AS cutter,
		COALESCE(m.public_id, '') AS cutter_id
		FROM results r JOIN breakdowns d ON d.id = r.breakdown_id JOIN pieces p ON p.id = d.piece_id
		JOIN lots l ON l.id = p.lot_id LEFT JOIN members m ON m.id = r.member_id
		WHERE r.breakdown_id IN ? ORDER BY r.closed_at DESC, r.breakdown_id DESC`, ids).Scan(&out).Error
	return out, Translate(err)
}

// ResultAfter is a place in the list of results, the latest first.
type ResultAfter struct {
	ClosedAt time.Time
	ID       int64
}

// MeanShares gives the mean share of each part, in percent of the piece, over the latest results of a piece; n is over
// how many.
func (s *Store) MeanShares(ctx context.Context, shopID int64, atlasID string, limit int) (shares map[string]float64,
	n int, err error) {
	var rows []struct {
		Part string
		Pct  float64
		N    int
	}
	err = s.on(ctx).
		Raw(`WITH past AS (SELECT breakdown_id, input_mg FROM results WHERE shop_id = ? AND atlas_id = ? AND cut = 'seams'
			AND input_mg > 0 ORDER BY closed_at DESC LIMIT ?)
		SELECT k.part, SUM(c.mass_mg) / (SELECT SUM(input_mg) FROM past) * 100 AS pct, (SELECT COUNT(*) FROM past) AS n
		FROM past JOIN result_cells c ON c.breakdown_id = past.breakdown_id JOIN result_kinds k ON k.id = c.kind_id GROUP
		BY k.part`, shopID, atlasID, limit).Scan(&rows).Error
	shares = map[string]float64{}
	for _, r := range rows {
		shares[r.Part], n = r.Pct, r.N
	}
	return shares, n, Translate(err)
}

// ClosedAfter lists closed breakdowns of a shop after one, by their ids.
func (s *Store) ClosedAfter(ctx context.Context, shopID, after int64, limit int) ([]Breakdown, error) {
	var out []Breakdown
	err := s.on(ctx).Where("shop_id = ? AND state = 'closed' AND id > ?", shopID, after).Order("id").Limit(limit).
		Find(&out).Error
	return out, Translate(err)
}

// SetGain writes what a closed breakdown gained on the other way of cutting, nil where it cannot be said.
func (s *Store) SetGain(ctx context.Context, shopID, breakdownID int64, gainPerKg *string) error {
	return Translate(s.on(ctx).Exec("UPDATE breakdowns SET gain_per_kg = ? WHERE id = ? AND shop_id = ? AND state = "+
		"'closed'", gainPerKg, breakdownID, shopID).Error)
}

// FollowedAtlas notes which atlas the answers of a shop's finished pieces were worked out by.
func (s *Store) FollowedAtlas(ctx context.Context, shopID int64, print string) error {
	return Translate(s.on(ctx).Exec("UPDATE shops SET atlas_print = ? WHERE id = ?", print, shopID).Error)
}
