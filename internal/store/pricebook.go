package store

import (
	"context"
	"time"
)

// Market is where a shop sells.
type Market struct {
	ID       int64
	PublicID string
	ShopID   int64
	Name     string
	TaxPct   float64
	Main     bool
	Active   bool
	Version  int
}

// Quote is a price on one market, in one season or the whole year, from a day on.
type Quote struct {
	ID         int64
	PublicID   string
	ShopID     int64
	MarketID   int64
	Season     string
	ProductKey string
	ValidFrom  time.Time `gorm:"type:date"`
	Amount     string
	Per        string // kg, lb or piece
	PieceMg    int64  // of one piece, where it is by the piece
	Source     string // given or feed
	Version    int
	UpdatedAt  time.Time
}

// Demand is what of a product sells in a week at its full price, and what the rest brings per kg.
type Demand struct {
	ID         int64
	ShopID     int64
	Season     string
	ProductKey string
	WeekMg     int64
	Fallback   string
	Version    int
	UpdatedAt  time.Time
}

// Markets lists a shop's markets, the main one first.
func (s *Store) Markets(ctx context.Context, shopID int64) ([]Market, error) {
	var out []Market
	return out, Translate(s.on(ctx).Where("shop_id = ?", shopID).Order("main DESC, name").Find(&out).Error)
}

// CreateMarket adds a market.
func (s *Store) CreateMarket(ctx context.Context, m *Market) error {
	return Translate(s.on(ctx).Create(m).Error)
}

// SaveMarket writes a market where its version is still that of the row; a main one takes the place of the other.
func (s *Store) SaveMarket(ctx context.Context, m Market) error {
	if m.Main {
		if err := s.on(ctx).Model(&Market{}).Where("shop_id = ? AND id <> ?", m.ShopID, m.ID).Update("main", false).
			Error; err != nil {
			return Translate(err)
		}
	}
	return changed(s.on(ctx).Model(&Market{}).Where("shop_id = ? AND public_id = ? AND version = ?", m.ShopID, m.PublicID,
		m.Version).
		Updates(map[string]any{"name": m.Name, "tax_pct": m.TaxPct, "main": m.Main, "active": m.Active,
			"version": m.Version + 1}))
}

// Quotes lists the prices of one market, or of all where it is 0.
func (s *Store) Quotes(ctx context.Context, shopID, marketID int64) ([]Quote, error) {
	var out []Quote
	db := s.on(ctx).Where("shop_id = ?", shopID)
	if marketID != 0 {
		db = db.Where("market_id = ?", marketID)
	}
	return out, Translate(db.Order("market_id, product_key, valid_from, season").Find(&out).Error)
}

// QuotesOn lists the prices of a market that may be in force on a day: of each product and season the latest that has
// begun.
func (s *Store) QuotesOn(ctx context.Context, shopID, marketID int64, day time.Time) ([]Quote, error) {
	var out []Quote
	err := s.on(ctx).Raw(`SELECT q.* FROM (SELECT product_key, season, MAX(valid_from) AS valid_from FROM quotes
			WHERE market_id = ? AND valid_from <= ? GROUP BY market_id, product_key, season) x
		JOIN quotes q ON q.market_id = ? AND q.product_key = x.product_key AND q.season = x.season AND q.valid_from =
		x.valid_from
		WHERE q.shop_id = ? ORDER BY q.product_key, q.season`, marketID, day.Format(time.DateOnly), marketID, shopID).
		Scan(&out).Error
	return out, Translate(err)
}

// AllQuotesOn is QuotesOn of every market of the shop.
func (s *Store) AllQuotesOn(ctx context.Context, shopID int64, day time.Time) ([]Quote, error) {
	var out []Quote
	err := s.on(ctx).Raw(`SELECT q.* FROM (SELECT market_id, product_key, season, MAX(valid_from) AS valid_from FROM quotes
			WHERE shop_id = ? AND valid_from <= ? GROUP BY market_id, product_key, season) x
		JOIN quotes q ON q.market_id = x.market_id AND q.product_key = x.product_key AND q.season = x.season AND
		q.valid_from = x.valid_from
		WHERE q.shop_id = ? ORDER BY q.market_id, q.product_key, q.season`, shopID, day.Format(time.DateOnly), shopID).
		Scan(&out).Error
	return out, Translate(err)
}

// Quote gives a price by its public id.
func (s *Store) Quote(ctx context.Context, shopID int64, publicID string) (Quote, error) {
	var q Quote
	return q, Translate(s.on(ctx).Where("shop_id = ? AND public_id = ?", shopID, publicID).Take(&q).Error)
}

// SetQuote sets a price where its version is still the given one; version 0 adds it.
func (s *Store) SetQuote(ctx context.Context, q Quote) error {
	q.UpdatedAt = time.Now().UTC()
	if q.Version == 0 {
		q.Version = 1
		return added(s.on(ctx).Create(&q))
	}
	return changed(s.on(ctx).Model(&Quote{}).Where("shop_id = ? AND public_id = ? AND version = ?", q.ShopID, q.PublicID,
		q.Version).
		Updates(map[string]any{"amount": q.Amount, "per": q.Per, "piece_mg": q.PieceMg, "source": q.Source,
			"version": q.Version + 1, "updated_at": q.UpdatedAt}))
}

// DropQuote takes a price out where its version is still the given one.
func (s *Store) DropQuote(ctx context.Context, q Quote) error {
	return changed(s.on(ctx).Where("shop_id = ? AND public_id = ? AND version = ?", q.ShopID, q.PublicID, q.Version).
		Delete(&Quote{}))
}

// Demands lists what a shop can sell.
func (s *Store) Demands(ctx context.Context, shopID int64) ([]Demand, error) {
	var out []Demand
	return out, Translate(s.on(ctx).Where("shop_id = ?", shopID).Order("product_key, season").Find(&out).Error)
}

// SetDemand sets a demand where its version is still the given one; version 0 adds it.
func (s *Store) SetDemand(ctx context.Context, d Demand) error {
	d.UpdatedAt = time.Now().UTC()
	if d.Version == 0 {
		d.Version = 1
		return added(s.on(ctx).Create(&d))
	}
	return changed(s.on(ctx).Model(&Demand{}).Where("shop_id = ? AND product_key = ? AND season = ? AND version = ?",
		d.ShopID, d.ProductKey, d.Season, d.Version).
		Updates(map[string]any{"week_mg": d.WeekMg, "fallback": d.Fallback, "version": d.Version + 1,
			"updated_at": d.UpdatedAt}))
}

// DropDemand takes a demand out where its version is still the given one.
func (s *Store) DropDemand(ctx context.Context, d Demand) error {
	return changed(s.on(ctx).Where("shop_id = ? AND product_key = ? AND season = ? AND version = ?", d.ShopID,
		d.ProductKey, d.Season, d.Version).Delete(&Demand{}))
}

// QuoteAt gives the price of the same market, product, season and day.
func (s *Store) QuoteAt(ctx context.Context, q Quote) (Quote, error) {
	var was Quote
	return was,
		Translate(s.on(ctx).Where("shop_id = ? AND market_id = ? AND product_key = ? AND season = ? AND valid_from = ?",
			q.ShopID, q.MarketID, q.ProductKey, q.Season, q.ValidFrom).Take(&was).Error)
}

// SeasonsUsed lists the seasons that a shop has prices or demand of.
func (s *Store) SeasonsUsed(ctx context.Context, shopID int64) ([]string, error) {
	var out []string
	err := s.on(ctx).
		Raw("SELECT season FROM quotes WHERE shop_id = ? AND season <> '' UNION SELECT season FROM demands WHERE shop_id = "+
			"? AND season <> ''", shopID, shopID).Scan(&out).Error
	return out, Translate(err)
}
