// Package demo enters the invented scenario of the Skerrow Cutting Hall through internal/work, like any user would,
// with the clock turned back for its history. Everything in it is made up; it is the same for the same day.
package demo

import (
	"context"
	"fmt"
	"math/rand/v2"
	"time"

	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/core/value"
	"falda/internal/store"
	"falda/internal/work"
	"falda/internal/work/audit"
	"falda/internal/work/bench"
	"falda/internal/work/people"
	"falda/internal/work/shop"
	"falda/internal/work/stock"
)

// Shop is the scenario's shop.
var Shop = shop.NewShop{Name: "Skerrow Cutting Hall", Currency: "EUR", Unit: "kg", TimeZone: "Europe/Dublin",
	LabourRate: "24.00", PackagingPerKg: "0.12", LotPrefix: "SK-", Demo: true, DiscardPerKg: "0.15",
	LabourByRole: map[string]string{"head_cutter": "27.00", "apprentice": "15.00"},
	Seasons: []value.Season{{Name: "Summer", From: "05-15", To: "09-15"},
		{Name: "Winter", From: "11-01", To: "03-15"}}, Benches: []string{"North", "Middle", "South"}}

// Accounts are the scenario's people, one of each role. They have no passwords: the demo offers them with one touch.
// The PINs are for benches that one enrols in it.
var Accounts = []people.Account{
	{Email: "owner@skerrow.example", Name: "Owner", Role: "owner", Pin: "7305"},
	{Email: "head.cutter@skerrow.example", Name: "Head cutter", Role: "head_cutter", Pin: "2915"},
	{Email: "cutter@skerrow.example", Name: "Cutter", Role: "cutter", Pin: "4802"},
	{Email: "apprentice@skerrow.example", Name: "Apprentice", Role: "apprentice", Pin: "6174"},
	{Email: "yield.desk@skerrow.example", Name: "Yield desk", Role: "yield_desk"},
}

const rump = "beef.top_sirloin"

var suppliers = []string{"Upper Brae croft", "Long Geo croft", "Nether Voe croft"}

// Seed enters the scenario into the demo's shop, dated relative to the service's clock.
func Seed(ctx context.Context, w *work.Rooms) error {
	as := map[string]audit.Caller{}
	for _, a := range Accounts {
		who, err := w.People.First(ctx, a.Role)
		if err != nil {
			return fmt.Errorf("the %s of the scenario: %w", a.Role, err)
		}
		as[a.Role] = who
	}
	return SeedAs(ctx, w, as)
}

// SeedAs enters the scenario into a shop of which a caller of each role is given.
func SeedAs(ctx context.Context, w *work.Rooms, as map[string]audit.Caller) error {
	now := w.Now()
	s := &scene{as: map[string]context.Context{}, w: w,
		today: time.Date(now.Year(), now.Month(), now.Day(), 6, 0, 0, 0, time.UTC), rng: rand.New(rand.NewPCG(1971, 58))}
	for _, a := range Accounts {
		s.as[a.Role] = audit.As(ctx, as[a.Role])
	}
	s.ctx = s.as["owner"]
	if err := s.price(); err != nil {
		return err
	}
	if err := s.markets(); err != nil {
		return err
	}
	if err := s.ingredients(); err != nil {
		return err
	}
	view, err := w.Shop.Shop(s.ctx)
	if err != nil {
		return err
	}
	s.benches = map[string]string{}
	for _, b := range view.Benches {
		s.benches[b.Name] = b.PublicID
	}
	if err := s.checks(); err != nil {
		return err
	}
	if err := s.history(); err != nil {
		return err
	}
	if err := s.stock(); err != nil {
		return err
	}
	if err := s.more(); err != nil {
		return err
	}
	if err := s.tastings(); err != nil {
		return err
	}
	if err := s.trials(); err != nil {
		return err
	}
	if err := s.stepwork(); err != nil {
		return err
	}
	if err := s.making(); err != nil {
		return err
	}
	if err := s.ordering(); err != nil {
		return err
	}
	if err := s.sell(); err != nil {
		return err
	}
	if err := s.learning(); err != nil {
		return err
	}
	return w.Shop.MarkSeeded(s.ctx)
}

// scene is the state of the telling.
type scene struct {
	ctx     context.Context            // as the owner
	as      map[string]context.Context // as somebody of a role
	w       *work.Rooms
	today   time.Time
	rng     *rand.Rand
	benches map[string]string
	running map[string]int    // lots by week
	recipes map[string]string // ids by name
}

// checks puts the house's test weight on the scales, a week ago and this morning.
func (s *scene) checks() error {
	for _, bench := range Shop.Benches {
		for _, ago := range []int{7, 0} {
			_, err := s.w.At(s.clock(ago, 5)).Shop.CheckScale(s.as["head_cutter"], s.benches[bench],
				shop.NewScaleCheck{Weight: 2000, Shown: 2000, Source: "scale"})
			if err != nil {
				return err
			}
		}
	}
	return nil
}

// day is so many days before today, at an hour.
func (s *scene) day(ago, hour int) time.Time {
	return s.today.AddDate(0, 0, -ago).Add(time.Duration(hour-6) * time.Hour)
}

// clock stands still at an hour so many days before today.
func (s *scene) clock(ago, hour int) func() time.Time {
	at := s.day(ago, hour)
	return func() time.Time { return at }
}

// island is where everything of the scenario comes from.
const island = "Skerrow"

// receive enters a lot of so many pieces of about the usual weight.
func (s *scene) receive(at time.Time, piece string, aged, pieces int, pricePerKg string,
	findings ...string) (stock.LotView, error) {
	p, ok := s.w.Atlas().Find(piece)
	if !ok {
		return stock.LotView{}, fmt.Errorf("the scenario has a piece that the atlas does not know: %s", piece)
	}
	if s.running == nil {
		s.running = map[string]int{}
	}
	year, week := at.ISOWeek()
	prefix := fmt.Sprintf("SK-%02d%02d-", year%100, week)
	s.running[prefix]++
	total := 0.0
	for range pieces {
		total += p.WeightKg.Typical * (1 + s.rng.NormFloat64()*0.07)
	}
	if len(findings) > 0 && findings[0] == "tri_tip_off" {
		total *= 0.82
	}
	return s.w.At(func() time.Time { return at }).Stock.Receive(s.ctx,
		stock.Arrival{AtlasID: piece, Pieces: pieces, Weight: fmt.Sprintf("%.2f", total), WeightUnit: "kg",
			Price: pricePerKg, PricePer: "kg", SlaughteredOn: at.AddDate(0, 0, -aged).Format(time.DateOnly),
			PackedOn: at.AddDate(0, 0, -aged+2).Format(time.DateOnly), Supplier: suppliers[s.rng.IntN(len(suppliers))],
			LotNumber: fmt.Sprintf("%s%02d", prefix, s.running[prefix]), Findings: findings, BornIn: island, RearedIn: island,
			SlaughteredIn: island, Plant: "SK 7"})
}

// plan chooses a plan for a piece.
func (s *scene) plan(pieceID, planID string, at time.Time) error {
	w := s.w.At(func() time.Time { return at })
	v, err := w.Compare.Piece(s.ctx, pieceID)
	if err != nil {
		return err
	}
	err = w.Stock.ChoosePlan(s.ctx, pieceID, stock.PlanPick{PlanID: planID}, v.Card.Row.Piece.Version)
	return err
}

// cut is one cutter's work on one piece.
type cut struct {
	*scene
	w     *work.Rooms
	clock time.Time
	board bench.BoardView
	bench string
	ctx   context.Context // as who cuts
	pace  float64         // minutes per weighing
	truth map[string]measure.Mass
}

// start puts a piece on a bench and weighs it whole: a little less than on the label, the purge left in the bag. What
// is in it, less the loss, is drawn around the atlas' shares.
func (s *scene) start(pieceID, planID, bench, role string, at time.Time, pace, lossPct float64) (*cut, error) {
	if err := s.plan(pieceID, planID, at.Add(-12*time.Minute)); err != nil {
		return nil, err
	}
	return s.begin(pieceID, bench, role, at, pace, lossPct)
}

// begin puts a piece that is planned on a bench and weighs it whole.
func (s *scene) begin(pieceID, bench, role string, at time.Time, pace, lossPct float64) (*cut, error) {
	c := &cut{scene: s, clock: at, bench: s.benches[bench], ctx: s.as[role], pace: pace}
	c.w = s.w.At(func() time.Time { return c.clock })
	var err error
	if c.board, err = c.w.Bench.StartBreakdown(c.ctx, pieceID, c.bench); err != nil {
		return nil, err
	}
	if err := c.book(seam.Event{Kind: seam.Opened,
		Net: whole(c.board.Card.Weight - measure.Mass(8000+s.rng.IntN(20_000)))}); err != nil {
		return nil, err
	}
	drawn, sum := make([]float64, len(c.board.Expected)), 0.0
	for i, e := range c.board.Expected {
		drawn[i] = float64(e.Mass) * max(0.7, 1+0.06*s.rng.NormFloat64())
		sum += drawn[i]
	}
	c.truth = map[string]measure.Mass{}
	for i, e := range c.board.Expected {
		c.truth[e.ID] = whole(measure.Mass(drawn[i] / sum * float64(c.board.Board.Input()) * (1 - lossPct/100)))
	}
	return c, nil
}

// whole rounds to the scale's division.
func whole(m measure.Mass) measure.Mass {
	const e = 5 * measure.Gram
	return (m + e/2) / e * e
}

func (c *cut) book(e seam.Event) error {
	e.ID, e.At, e.Bench = store.NewID(), c.clock, c.bench
	if e.Net > 0 {
		e.Gross, e.Division, e.Source = e.Net+e.Tare, 5*measure.Gram, "scale"
	}
	var err error
	c.board, err = c.w.Bench.Book(c.ctx, c.board.Breakdown.PublicID, e)
	c.clock = c.clock.Add(time.Duration(c.pace * (0.7 + 0.6*c.rng.Float64()) * float64(time.Minute)))
	if err != nil {
		return fmt.Errorf("%s on %s: %w", e.Kind, c.board.Breakdown.PublicID, err)
	}
	return nil
}

// last is the id of the latest weighing.
func (c *cut) last() string { return c.board.Board.Nodes[len(c.board.Board.Nodes)-1].ID }

// weigh books the next expected things as they come off, at most so many.
func (c *cut) weigh(limit int) error {
	for n := 0; n < limit && c.board.Next >= 0; n++ {
		e := c.board.Expected[c.board.Next]
		if err := c.book(e.Booked(c.truth[e.ID])); err != nil {
			return err
		}
	}
	return nil
}
