package compare

import (
	"context"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"

	"falda/internal/core/atlas"
	"falda/internal/core/bestuse"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/words"
	"falda/internal/work/pricing"
	"falda/internal/work/shop"
	"falda/internal/work/stock"
)

// WeekHead is so many carcasses of a kind.
type WeekHead struct {
	Carcass, Weight, Unit string // of one; the usual weight where empty
	Count                 int
}

// WeekAsk is what is asked of a week's kill.
type WeekAsk struct {
	Heads        []WeekHead
	Minutes, Saw string // of benches and saw; no limit where empty
	Days         int    // for how many days demand counts; 7 where 0
	Market       string
	Open         bool // open orders that are due within the days must be met, as far as stock does not
}

// WeekUse is how many pieces of a kind go one way.
type WeekUse struct {
	Carcass, Division, Piece, PieceName, Plan, PlanName string
	Pieces                                              int
	Each                                                measure.Mass
	Minutes                                             float64 // of all of them
	Seams                                               bool
}

// WeekSale is what becomes of a product.
type WeekSale struct {
	bestuse.Sale
	Name  string
	Price measure.Price
	Cap   *measure.Mass
	Kilo  *measure.Money // what one more kilogram of demand would be worth
}

// WeekWay is a way of cutting the whole week: the best, everything traditional, everything seamed.
type WeekWay struct {
	ID      string // best, traditional, seamed, cautious
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
}

// The bounds of a week.
const (
	maxHeadKinds = 4
	weekDraws    = 1000
	yieldSpread  = 0.03 // standard deviation of what a week yields of a product; common practice, no source
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
}

// weekPlan is a plan on a piece of a head.
type weekPlan struct {
	piece atlas.Piece
	plan  atlas.Plan
	each  measure.Mass
}

// breaking is the piece that stands for taking a carcass apart.
const breaking = "(broken)"

// Week finds what a week's kill should become: for each kind of carcass one division, for its pieces how many go which
// way, so that the whole brings the most within minutes of benches and saw and what can be sold.
func (s *Service) Week(ctx context.Context, in WeekAsk) (WeekView, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return WeekView{}, err
	}
	v := WeekView{Shop: shop, Asked: in, Divisions: map[string]atlas.Division{}}
	if in.Days == 0 {
		v.Asked.Days = 7
	}
	w := &week{WeekView: &v, s: s, carcass: map[string]atlas.Carcass{}, mass: map[string]measure.Mass{},
		plans: map[[3]string]weekPlan{}}
	if err := w.read(); err != nil {
		return v, err
	}
	if v.Book, err = s.prices.BookOn(ctx, shop.Shop, in.Market, shop.Day(s.now())); err != nil {
		return v, err
	}
	if err := w.layOut(ctx); err != nil {
		return v, err
	}
	err = w.solve(ctx)
	return v, err
}

// read reads what is asked.
func (w *week) read() error {
	var faults fault.List
	in := w.Asked
	if in.Days = w.Asked.Days; in.Days < 1 || in.Days > 31 {
		faults.Add("days", fault.New("", "out_of_range", "must be from 1 to 31", "For how many days is it cut?"))
	}
	if len(in.Heads) < 1 || len(in.Heads) > maxHeadKinds {
		faults.Add("heads", fault.New("", "out_of_range", fmt.Sprintf("must be 1 to %d kinds", maxHeadKinds),
			"Say what is killed."))
	}
	for i, x := range in.Heads {
		at := fmt.Sprintf("heads[%d].", i)
		k := slices.IndexFunc(w.s.atlas.Carcasses, func(c atlas.Carcass) bool { return c.ID == x.Carcass })
		if _, twice := w.carcass[x.Carcass]; k < 0 || twice {
			faults.Add(at+"carcass", fault.New("", "unknown", "is no carcass of the atlas, or stands twice",
				"Choose one of the list."))
			continue
		}
		c := w.s.atlas.Carcasses[k]
		w.carcass[c.ID] = c
		w.mass[c.ID] = measure.Mass(math.Round(c.WeightKg.Typical * float64(measure.Kilogram)))
		if x.Weight != "" {
			m, err := measure.ParseMass(x.Weight, measure.Unit(x.Unit))
			if err == nil {
				err = stock.CheckPlausible(w.s.atlas.Whole(c, atlas.UsualDivision), m, 1)
			}
			faults.Add(at+"weight", err)
			w.mass[c.ID] = m
		}
		if x.Count < 1 || x.Count > 200 {
			faults.Add(at+"count", fault.New("", "out_of_range", "must be from 1 to 200", "Count again."))
		}
		w.heads.Heads = append(w.heads.Heads, bestuse.Head{ID: c.ID, Count: x.Count})
	}
	limit := func(field, text string) *bestuse.Minutes {
		if strings.TrimSpace(text) == "" {
			return nil
		}
		n, err := measure.ParseNumber(text)
		f := 0.0
		if err == nil {
			if f, _ = n.Float64(); f < 0 || f > 100_000 {
				err = fault.New("", "out_of_range", "must be from 0 to 100,000", "Enter the minutes there are.")
			}
		}
		faults.Add(field, err)
		m := bestuse.Minutes(math.Round(f * 100))
		return &m
	}
	w.heads.Minutes, w.heads.Saw = limit("minutes", in.Minutes), limit("saw_minutes", in.Saw)
	return faults.Err()
}

// layOut lays the heads out: every division, every piece, every plan of it that has prices.
func (w *week) layOut(ctx context.Context) error {
	demands, err := w.s.store.Demands(ctx, w.Shop.ID)
	if err != nil {
		return err
	}
	v := BestView{Shop: w.Shop, Asked: BestAsk{Days: w.Asked.Days}, Book: w.Book}
	w.maker = problemMaker{best: &best{names: w.s.productNames(w.Shop)}, shop: w.Shop, view: &v, at: map[string]int{},
		unpriced: map[string]bool{}}
	if w.maker.caps, err = pricing.DemandOn(demands, w.Book.Season); err != nil {
		return err
	}
	for _, h := range w.heads.Heads {
		c := w.carcass[h.ID]
		for _, d := range c.Divisions() {
			w.divide(c, d)
		}
	}
	w.heads.Products = w.maker.problem.Products
	if !w.Asked.Open {
		return nil
	}
	today := w.Shop.Day(w.s.now())
	needs, err := w.s.orders.Needs(ctx, w.Shop.Begins(today.AddDate(0, 0, w.Asked.Days)))
	if err != nil {
		return err
	}
	for _, n := range needs {
		if j, ok := w.maker.at[n.Key]; ok && n.ToCut > 0 {
			w.heads.Products[j].Order += n.ToCut
		}
	}
	return nil
}

// divide lays one division of a carcass out.
func (w *week) divide(c atlas.Carcass, d atlas.Division) {
	whole := w.s.atlas.Whole(c, d.ID)
	masses := massesOf(whole, w.mass[c.ID])
	if pl, ok := whole.Plan(d.ID); ok {
		w.way(c, d, breaking, 1, weekPlan{whole, pl, w.mass[c.ID]})
	}
	for n, part := range d.Parts {
		p, _ := w.s.atlas.Find(part.Piece)
		if len(part.Findings) > 0 { // cut off it already
			p = p.Found(part.Findings, nil)
		}
		p = p.In(w.Shop.Market)
		each := masses[part.Piece] / measure.Mass(part.Count)
		for _, pl := range p.Plans {
			if slices.ContainsFunc(pl.Products, func(pr atlas.Product) bool { return pr.Form == atlas.FormPiece }) {
				continue // it only falls into smaller pieces
			}
			w.way(c, d, fmt.Sprintf("%s#%d", part.Piece, n), part.Count, weekPlan{p, pl, each})
		}
	}
}

// way adds a way of cutting a piece, where all that it makes has a price.
func (w *week) way(c atlas.Carcass, d atlas.Division, piece string, count int, x weekPlan) {
	_, saw, _ := x.piece.Stages(x.plan, x.each)
	plan := w.maker.plan(stock.Card{Piece: x.piece, Weight: x.each}, x.piece, x.plan)
	plan.Saw = bestuse.Minutes(math.Round(saw * 100))
	goesOn := map[string]bool{} // the pieces of a division: they bring what they are cut into
	for _, pr := range x.plan.Products {
		goesOn[x.piece.Key(pr)] = pr.Form == atlas.FormPiece
	}
	plan.Yields = slices.DeleteFunc(plan.Yields, func(y bestuse.Yield) bool {
		return goesOn[y.Product] || w.Book.Prices[y.Product].Per == ""
	})
	w.heads.Ways = append(w.heads.Ways,
		bestuse.Way{Head: c.ID, Division: d.ID, Piece: piece, ID: x.plan.ID, PerHead: count,
			Plan: plan})
	w.plans[[3]string{c.ID + d.ID, piece, x.plan.ID}] = x
}

// only gives the heads with the ways that pass, of the usual division.
func (w *week) only(pick func(atlas.Piece) string) bestuse.Heads {
	h := w.heads
	h.Minutes, h.Saw = nil, nil
	h.Products = slices.Clone(h.Products)
	for j := range h.Products {
		h.Products[j].Order = 0
	}
	h.Ways = nil
	for _, x := range w.heads.Ways {
		wp := w.plans[[3]string{x.Head + x.Division, x.Piece, x.ID}]
		if x.Division == atlas.UsualDivision && (x.Piece == breaking || pick(wp.piece) == x.ID) {
			h.Ways = append(h.Ways, x)
		}
	}
	return h
}

// traditional is the plan of the traditional school, else the first.
func traditional(p atlas.Piece) string {
	if pl, ok := p.Traditional(); ok {
		return pl.ID
	}
	return p.Plans[0].ID
}

// seamed is the first plan that takes a piece apart along its seams, else the traditional one.
func seamed(p atlas.Piece) string {
	for _, pl := range p.Plans {
		if pl.Cut == atlas.CutSeams {
			return pl.ID
		}
	}
	return traditional(p)
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
	w.tell(best)
	if err := w.others(ctx, best, solver, stop); err != nil {
		return err
	}
	if err := w.margins(best, solver, stop); err != nil {
		return err
	}
	w.say()
	return nil
}

// tell puts the best use in the trade's words.
func (w *week) tell(best bestuse.HeadsSolution) {
	for _, h := range w.heads.Heads {
		w.Divisions[h.ID] = w.carcass[h.ID].Division(best.Divisions[h.ID])
	}
	for _, u := range best.Use {
		if u.Piece == breaking {
			continue
		}
		x := w.plans[[3]string{u.Head + best.Divisions[u.Head], u.Piece, u.Way}]
		use := WeekUse{Carcass: u.Head, Division: best.Divisions[u.Head], Piece: x.piece.ID, PieceName: x.piece.Name,
			Plan: u.Way, PlanName: x.plan.Name, Pieces: u.Pieces, Each: x.each, Seams: x.plan.Cut == atlas.CutSeams,
			Minutes: x.piece.MinutesAt(x.plan, x.each) * float64(u.Pieces)}
		w.Pieces += u.Pieces
		if use.Seams {
			w.Seamed += u.Pieces
		}
		w.Uses = append(w.Uses, use)
	}
	for j, sale := range best.Sales {
		if sale.Made > 0 {
			sale.Value = w.Shop.Money.Round(sale.Value)
			w.Sales = append(w.Sales, WeekSale{Sale: sale, Name: w.maker.names[sale.Product].Name,
				Price: w.Book.Prices[sale.Product], Cap: best.Problem.Products[j].Cap})
		}
	}
	slices.SortStableFunc(w.Sales, func(a, b WeekSale) int { return b.Value.Cmp(a.Value) })
}

// others lays the best beside everything traditional and everything seamed, and tries them in weeks as they may come.
func (w *week) others(ctx context.Context, best bestuse.HeadsSolution, solver bestuse.Solver, stop bestuse.Stop) error {
	ids, uses := []string{"best"}, []bestuse.Solution{best.Solution}
	for _, x := range []struct {
		id   string
		pick func(atlas.Piece) string
	}{{"traditional", traditional}, {"seamed", seamed}} {
		s, err := bestuse.BestHeads(w.only(x.pick), solver, stop)
		if err != nil {
			return err
		}
		ids, uses = append(ids, x.id), append(uses, s.Solution)
	}
	came, cautious, err := w.weeks(ctx)
	if err != nil {
		return err
	}
	if s, err := bestuse.BestHeads(cautious, solver, stop); err == nil {
		ids, uses = append(ids, "cautious"), append(uses, s.Solution)
	}
	tried := best.Problem.Try(uses, came)
	for i, s := range uses {
		way := WeekWay{ID: ids[i], Brings: w.Shop.Money.Round(s.Value), Minutes: float64(s.Minutes) / 100,
			Saw: float64(s.Saw) / 100, Tried: tried[i]}
		if ids[i] == "cautious" { // it was found with less demand than is reckoned with
			again := best.Problem.Try([]bestuse.Solution{s}, []bestuse.Came{w.asReckoned(best.Problem)})
			v, _ := measure.MoneyFromFloat(again[0].Mean)
			way.Brings = w.Shop.Money.Round(v)
		}
		way.Over = w.heads.Minutes != nil && s.Minutes > *w.heads.Minutes || w.heads.Saw != nil && s.Saw > *w.heads.Saw
		w.Ways = append(w.Ways, way)
	}
	w.Safest = ids[bestuse.Safest(tried)]
	return nil
}

// asReckoned is a week that comes as it was reckoned.
func (w *week) asReckoned(p bestuse.Problem) bestuse.Came {
	c := bestuse.Came{}
	for _, pr := range p.Products {
		limit := math.Inf(1)
		if pr.Cap != nil {
			limit = pr.Cap.Grams() / 1000
		}
		c.Caps, c.Factors = append(c.Caps, limit), append(c.Factors, 1)
	}
	return c
}

// weeks draws weeks as they may come: demand that is known from sales is negative binomial about what a week sells,
// other caps stand; what is made of a product varies a little. Cautious is the problem with each demand at its lower
// end. The draws are the same every time, so that the same question has the same answer.
func (w *week) weeks(ctx context.Context) ([]bestuse.Came, bestuse.Heads, error) {
	sold, err := w.s.sales.Sales(ctx)
	if err != nil {
		return nil, bestuse.Heads{}, err
	}
	cautious := w.heads
	cautious.Products = slices.Clone(w.heads.Products)
	spread := make([]float64, len(w.heads.Products)) // of demand, as a share of it
	for _, p := range sold.Products {
		j, ok := w.maker.at[p.Key]
		if !ok || w.heads.Products[j].Cap == nil || p.Mean <= 0 {
			continue
		}
		// the 80 % interval of a normal is 2.563 standard deviations wide
		spread[j] = float64(p.High-p.Low) / 2.563 / p.Mean
		low := measure.Mass(float64(*w.heads.Products[j].Cap) * math.Min(1, float64(p.Low)/p.Mean))
		cautious.Products[j].Cap = &low
	}
	rng := rand.New(rand.NewPCG(uint64(len(w.heads.Ways)), uint64(w.Asked.Days)))
	out := make([]bestuse.Came, weekDraws)
	for i := range out {
		out[i] = w.asReckoned(bestuse.Problem{Products: w.heads.Products})
		for j := range out[i].Caps {
			if spread[j] > 0 {
				out[i].Caps[j] *= math.Max(0, 1+spread[j]*rng.NormFloat64())
			}
			out[i].Factors[j] = math.Max(0, 1+yieldSpread*rng.NormFloat64())
		}
	}
	return out, cautious, nil
}

// margins says what one more head, hour and kilogram of demand would be worth.
func (w *week) margins(best bestuse.HeadsSolution, solver bestuse.Solver, stop bestuse.Stop) error {
	hour, proven, err := bestuse.AnHour(w.heads, best, solver, stop)
	if errors.Is(err, bestuse.ErrStopped) {
		w.Notes = append(w.Notes, "What one more head, hour or kilogram would bring was not found in time.")
		return nil
	}
	if err != nil {
		return err
	}
	if proven {
		w.Hour = hour
	}
	for i, h := range w.heads.Heads {
		more := w.heads
		more.Heads = slices.Clone(w.heads.Heads)
		more.Heads[i].Count++
		s, err := bestuse.BestHeads(more, solver, stop)
		if errors.Is(err, bestuse.ErrStopped) || errors.Is(err, bestuse.ErrInfeasible) {
			continue
		}
		if err != nil {
			return err
		}
		c, kg := w.carcass[h.ID], w.mass[h.ID].In(measure.UnitKilogram)
		gain := w.Shop.Money.Round(s.Value.Sub(best.Value))
		w.Worth = append(w.Worth, WeekWorth{Carcass: h.ID, Name: c.NameIn(w.Shop.Market), More: gain,
			PerKg: w.Shop.Money.Round(gain.Over(kg)), Mean: w.mean(best, h)})
	}
	shadow, err := bestuse.Margins(best.Problem, best.Solution, solver, stop)
	if err != nil && !errors.Is(err, bestuse.ErrStopped) {
		return err
	}
	for _, m := range shadow.Demand {
		for i := range w.Sales {
			if w.Sales[i].Product == m.Product {
				worth := w.Shop.Money.Round(m.PerKg)
				w.Sales[i].Kilo = &worth
			}
		}
	}
	return nil
}

// mean is what one head of a kind brings in the mean, by what its pieces make at the prices that the products fetch.
func (w *week) mean(best bestuse.HeadsSolution, h bestuse.Head) measure.Money {
	fetched := map[string]float64{}
	for _, s := range best.Sales {
		if s.Made > 0 {
			fetched[s.Product] = s.Value.Float() / (s.Made.Grams() / 1000)
		}
	}
	sum := 0.0
	for _, u := range best.Use {
		if u.Head != h.ID {
			continue
		}
		i := slices.IndexFunc(w.heads.Ways, func(x bestuse.Way) bool {
			return x.Head == u.Head && x.Division == best.Divisions[u.Head] && x.Piece == u.Piece && x.ID == u.Way
		})
		plan := w.heads.Ways[i].Plan
		v := -plan.Cost.Float()
		for _, y := range plan.Yields {
			v += fetched[y.Product] * y.Mass.Grams() / 1000
		}
		sum += v * float64(u.Pieces)
	}
	m, _ := measure.MoneyFromFloat(sum / float64(h.Count))
	return w.Shop.Money.Round(m)
}

// clash says which orders and limits cannot be kept together.
func (w *week) clash(solver bestuse.Solver, stop bestuse.Stop) error {
	c, err := bestuse.HeadsConflict(w.heads, solver, stop)
	if err != nil {
		return err
	}
	var faults fault.List
	if len(c.Orders) > 0 {
		var names []string
		for _, o := range c.Orders {
			names = append(names, w.maker.names[o.Product].Name)
		}
		faults.Add("open_orders", fault.New("", "infeasible", "cannot all be met: "+strings.Join(names, ", "),
			"Leave orders out, or kill more."))
	}
	if c.Minutes || len(c.Orders) == 0 && !c.Saw {
		faults.Add("minutes", fault.New("", "infeasible", "are too few to cut all of it", "Give more."))
	}
	if c.Saw {
		faults.Add("saw_minutes", fault.New("", "infeasible", "are too few to cut all of it", "Give more."))
	}
	return faults.Err()
}

// say puts the answer into a sentence.
func (w *week) say() {
	var heads []string
	for _, h := range w.heads.Heads {
		heads = append(heads, fmt.Sprintf("%d × %s", h.Count, words.Uncapitalised(w.carcass[h.ID].NameIn(w.Shop.Market))))
	}
	best, old := w.Ways[0], w.Ways[1]
	w.Sentence = fmt.Sprintf("%s bring %s: %s more than cut traditionally, with %d of %d pieces seamed.",
		strings.Join(heads, " and "), w.Shop.Money.Text(best.Brings), w.Shop.Money.Text(best.Brings.Sub(old.Brings)),
		w.Seamed, w.Pieces)
	if seam := w.Ways[2]; seam.Brings.Cmp(best.Brings) < 0 {
		w.Notes = append(w.Notes, fmt.Sprintf("Everything seamed would bring %s less, with what is known of what sells.",
			w.Shop.Money.Text(best.Brings.Sub(seam.Brings))))
	}
	if !w.Proven {
		w.Notes = append(w.Notes, "Not proven to be the best: nothing can bring more than "+w.Shop.Money.Text(w.AtMost)+".")
	}
	var free []string
	for _, x := range w.Sales {
		if x.Cap == nil {
			free = append(free, x.Name)
		}
	}
	if len(free) > 0 {
		w.Notes = append(w.Notes, fmt.Sprintf("All of it is taken to sell, for nobody has said what sells in a week: %s%s.",
			strings.Join(free[:min(6, len(free))], ", "),
			map[bool]string{true: fmt.Sprintf(" and %d more", len(free)-6)}[len(free) > 6]))
	}
	w.Notes = append(w.Notes, "Before the animals are paid; after labour, packaging and what is added. Weights by the "+
		"atlas’ shares; by the atlas’ plans, as each piece comes ready.")
}
