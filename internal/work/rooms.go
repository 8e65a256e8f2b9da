package work

import (
	"context"
	"log/slog"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/bench"
	"falda/internal/work/compare"
	"falda/internal/work/counter"
	"falda/internal/work/dayplan"
	"falda/internal/work/goods"
	"falda/internal/work/judge"
	"falda/internal/work/labels"
	"falda/internal/work/learn"
	"falda/internal/work/made"
	"falda/internal/work/orders"
	"falda/internal/work/people"
	"falda/internal/work/pricing"
	"falda/internal/work/sales"
	"falda/internal/work/shop"
	"falda/internal/work/stock"
)

// Rooms is the work of one installation: the service of each room.
type Rooms struct {
	Shop    *shop.Service
	People  *people.Service
	Pricing *pricing.Service
	Stock   *stock.Service
	Bench   *bench.Service
	Judge   *judge.Service
	Compare *compare.Service
	Goods   *goods.Service
	Made    *made.Service
	Orders  *orders.Service
	Dayplan *dayplan.Service
	Labels  *labels.Service
	Sales   *sales.Service
	Counter *counter.Service
	Learn   *learn.Service

	store *store.Store
	atlas *atlas.Atlas
	now   func() time.Time
}

// New puts the work on a database and an atlas. Now is the clock; time.Now outside of tests and the demo's history.
func New(s *store.Store, a *atlas.Atlas, now func() time.Time) *Rooms {
	utc := func() time.Time { return now().UTC() }
	log := audit.New(s, utc)
	shops := shop.New(s, a, utc, log)
	prices := pricing.New(s, a, utc, log, shops)
	stocks := stock.New(s, a, utc, log, shops, prices)
	benches := bench.New(s, a, utc, log, shops, prices, stocks)
	lying := goods.New(s, utc, log, shops, prices, benches)
	asked := orders.New(s, a, utc, log, shops, prices, lying)
	sold := sales.New(s, utc, log, shops, lying)
	tickets := labels.New(s, a, utc, log, shops, lying)
	judges := judge.New(s, a, utc, log, shops, prices, stocks, benches)
	mixed := made.New(s, utc, log, shops, prices, lying)
	return &Rooms{
		Shop: shops, People: people.New(s, utc, log, shops), Pricing: prices, Stock: stocks, Bench: benches, Judge: judges,
		Compare: compare.New(s, a, utc, log, shops, prices, stocks, benches, judges, asked, sold, lying, mixed),
		Goods:   lying, Made: mixed,
		Orders: asked, Dayplan: dayplan.New(s, a, utc, log, shops, prices, stocks, asked),
		Labels: tickets, Sales: sold, Counter: counter.New(s, a, utc, log, shops, lying, tickets, sold),
		Learn: learn.New(s, a, utc, log, shops, benches),
		store: s, atlas: a, now: utc,
	}
}

// Prepare does what must be done before anybody is let in: what a migration could not, for it takes the job's own
// rules.
func (r *Rooms) Prepare(ctx context.Context) error { return r.Judge.Upkeep(ctx) }

// Run does the upkeep of all rooms until the context ends.
func (r *Rooms) Run(ctx context.Context, log *slog.Logger) { r.Bench.Run(ctx, log, r.Judge.Upkeep) }

// At gives the same work with another clock.
func (r *Rooms) At(now func() time.Time) *Rooms { return New(r.store, r.atlas, now) }

// Atlas is the atlas the work goes by.
func (r *Rooms) Atlas() *atlas.Atlas { return r.atlas }

// Ready says whether the database answers.
func (r *Rooms) Ready(ctx context.Context) error { return r.store.Ping(ctx) }

// Now is the time the work goes by, in UTC.
func (r *Rooms) Now() time.Time { return r.now() }
