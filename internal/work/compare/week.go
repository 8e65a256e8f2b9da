package compare

import (
	"context"
	"errors"
	"maps"
	"slices"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/bestuse"
	"falda/internal/core/measure"
	"falda/internal/core/order"
	"falda/internal/store"
	"falda/internal/work/pricing"
	"falda/internal/work/shop"
)

// WeekHead is so many carcasses of a kind.
type WeekHead struct {
	Carcass, Weight, Unit string // of one; the usual weight where empty
	Count                 int
	Slaughtered           string // all of it is ripe where empty
}

// WeekAsk is what is asked of a week's kill.
type WeekAsk struct {
	Heads        []WeekHead
	Minutes, Saw string // of benches and saw; no limit where empty
	Days         int    // for how many days demand counts; 7 where 0
	Market       string
	AgeingLoss   string // per cent of its weight that a piece which must still ripen loses in a day; none where empty
	Open         bool   // open orders that are due within the days must be met, as far as stock does not
}

// WeekUse is how many pieces of a kind go one way.
type WeekUse struct {
	Carcass, Division, Piece, PieceName, Plan, PlanName string
	Options                                             map[string]string // chosen within the plan
	Pieces                                              int
	Each                                                measure.Mass
	Minutes                                             float64 // of all of them
	Seams                                               bool
	ReadyOn                                             time.Time // zero where nobody says when it is slaughtered
}

// WeekSale is what becomes of a product.
type WeekSale struct {
	bestuse.Sale
	Name  string
	Price measure.Price
	Cap   *measure.Mass  // what these days ask for
	Stock measure.Mass   // that lies there for it already, and sells first
	Kilo  *measure.Money // what one more kilogram of demand would be worth
}

// WeekWay is a way of cutting the whole week: the best, everything traditional, everything seamed.
type WeekWay struct {
	ID      string // best, traditional, seamed, last, cautious
	Brings  measure.Money
	Minutes float64
	Saw     float64
	Over    bool // it takes more minutes than there are
	Tried   bestuse.Tried
}

// WeekWorth is what one more of a kind of carcass would bring.
type WeekWorth struct {
	Carcass string
	Name    string
	More    measure.Money // beside all that is there
	PerKg   measure.Money
	Mean    measure.Money // of those that are there, before they are paid
	// between what a single one lies by the scatter of the house's own yields, 95 %
	Low, High measure.Money
}

// WeekView is what a week's kill should become.
type WeekView struct {
	Shop      shop.WithPlans
	Asked     WeekAsk
	Book      pricing.Book
	Divisions map[string]atlas.Division // by carcass
	Uses      []WeekUse
	Sales     []WeekSale
	Ways      []WeekWay
	Worth     []WeekWorth
	Hour      *measure.Money
	Proven    bool
	AtMost    measure.Money
	Safest    string
	Sentence  string
	Notes     []string
	Seamed    int // pieces that are seamed in the best
	Pieces    int
	Flows     []WeekFlow
	FlowNames map[string]string
	Spread    float64       // relative standard deviation of what is made of one piece
	SpreadN   int           // finished pieces behind it; 0: the usual one
	LastCut   int           // finished pieces of the last week behind the way "last"
	Made      []WeekMade    // of the trim, by the shop's recipes
	MadeGain  measure.Money // what that adds to the best
	Bound     []string      // pieces that wait and keep the way that a trial drew for them
}

// The bounds of a week.
const (
	maxHeadKinds = 4
	weekDraws    = 1000
	yieldSpread  = 0.03 // of what is made of a piece, while the house has not shown its own; common practice, no source
)

// week is a view with what it is worked out from.
type week struct {
	*WeekView
	s       *Service
	maker   problemMaker
	heads   bestuse.Heads
	carcass map[string]atlas.Carcass
	mass    map[string]measure.Mass // of one head
	plans   map[[3]string]weekPlan  // by head, piece and way
	killed  map[string]time.Time    // by head
	loss    float64                 // per cent a day
	needs   []order.Need            // of open orders
	demand  map[string]measure.Mass // by product
	stock   map[string]measure.Mass // by product, beyond orders
	unripe  int                     // ways that stayed out
	// when the first plan of a piece is ripe, by head, division and piece, where that is too late
	young map[[3]string]time.Time
	house houseYields
	// what was finished in the year before, newest first
	finished []store.ResultRow
}

// weekPlan is a plan on a piece of a head, at its usual choices or at others.
type weekPlan struct {
	piece  atlas.Piece
	plan   atlas.Plan
	each   measure.Mass
	chosen map[string]string
	// the day on which its muscles for quick cooking are old enough; zero where nobody says when it is slaughtered
	readyOn time.Time
}

// planOf is the plan on a piece that a use of the best stands for.
func (w *week) planOf(best bestuse.HeadsSolution, u bestuse.Use) weekPlan {
	return w.plans[[3]string{u.Head + best.Divisions[u.Head], u.Piece, u.Way}]
}

// id is what the way is called among the ways of its piece; that of the usual choices is the plan's.
func (x weekPlan) id() string {
	id := x.plan.ID
	for _, o := range slices.Sorted(maps.Keys(x.chosen)) {
		id += " " + o + "=" + x.chosen[o]
	}
	return id
}

// Week finds what a week's kill should become: for each kind of carcass one division, for its pieces how many go which
// way, so that the whole brings the most within minutes of benches and saw and what can be sold.
func (s *Service) Week(ctx context.Context, in WeekAsk) (WeekView, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return WeekView{}, err
	}
	v := WeekView{Shop: shop, Asked: in, Divisions: map[string]atlas.Division{}, FlowNames: map[string]string{}}
	if in.Days == 0 {
		v.Asked.Days = 7
	}
	w := &week{WeekView: &v, s: s, carcass: map[string]atlas.Carcass{}, mass: map[string]measure.Mass{},
		plans: map[[3]string]weekPlan{}, killed: map[string]time.Time{}, young: map[[3]string]time.Time{}}
	if err := w.read(); err != nil {
		return v, err
	}
	if v.Book, err = s.prices.BookOn(ctx, shop.Shop, in.Market, shop.Day(s.now())); err != nil {
		return v, err
	}
	if err := w.layOut(ctx); err != nil {
		return v, err
	}
	if v.Bound, err = s.boundPieces(ctx, shop); err != nil {
		return v, err
	}
	err = w.solve(ctx)
	return v, err
}

// solve searches, and tells what was found.
func (w *week) solve(ctx context.Context) error {
	solver, stop, done, err := w.s.Solving(ctx)
	if err != nil {
		return err
	}
	defer done()
	best, err := bestuse.BestHeads(w.heads, solver, stop)
	switch {
	case errors.Is(err, bestuse.ErrInfeasible):
		return w.clash(solver, stop)
	case errors.Is(err, bestuse.ErrStopped):
		return TooHard()
	case err != nil:
		return err
	}
	w.Proven = best.Proven
	w.AtMost, _ = measure.MoneyFromFloat(best.AtMost)
	w.AtMost = w.Shop.Money.Of(w.AtMost)
	if w.finished, err = w.s.store.ListResults(ctx, store.ResultQuery{ShopID: w.Shop.ID,
		From: w.Shop.Day(w.s.now()).AddDate(0, 0, -scatterDays)}, nil, maxFinished); err != nil {
		return err
	}
	w.house = scatter(w.finished)
	w.Spread, w.SpreadN = w.house.spread, w.house.n
	w.tell(best)
	w.flow(best)
	if err := w.make(ctx, best, stop); err != nil {
		return err
	}
	if err := w.others(ctx, best, solver, stop); err != nil {
		return err
	}
	if err := w.margins(best, solver, stop); err != nil {
		return err
	}
	w.say()
	return nil
}
