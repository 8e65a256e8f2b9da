package compare

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"falda/internal/core/atlas"
	"falda/internal/core/bestuse"
	"falda/internal/core/carcass"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/value"
	"falda/internal/core/words"
	"falda/internal/work/bench"
	"falda/internal/work/pricing"
	"falda/internal/work/shop"
	"falda/internal/work/stock"
)

// best is a problem with what its ids stand for.
type best struct {
	problem bestuse.Problem
	free    []bestuse.Piece // its pieces, before plans were settled
	wishes  []bestuse.Wish  // of open orders
	names   map[string]value.SoldProduct
	said    words.BestUse
}

// problemMaker lays a best use out as a problem.
type problemMaker struct {
	*best
	shop     shop.WithPlans
	view     *BestView
	caps     map[string]carcass.Cap
	at       map[string]int // product → its place
	shares   map[string]houseShares
	inTrial  map[int64]bool
	bound    int // pieces that keep the way that was drawn for them
	unpriced map[string]bool
}

// bestProblem lays out the pieces that are ready and what may be made of them.
func (s *Service) bestProblem(ctx context.Context, shop shop.WithPlans, v *BestView) (*best, error) {
	ready, err := s.stock.ReadyAtOnce(ctx, maxReady)
	if err != nil {
		return nil, err
	}
	demands, err := s.store.Demands(ctx, shop.ID)
	if err != nil {
		return nil, err
	}
	b := &best{names: s.productNames(shop)}
	b.said = words.BestUse{Limit: v.Minutes, Season: v.Book.Season, Unit: shop.Unit, Currency: shop.Money,
		ProductName: func(key string) string { return b.names[key].Name }}
	b.problem.Minutes = v.Minutes
	m := problemMaker{best: b, shop: shop, view: v, at: map[string]int{}, shares: map[string]houseShares{},
		unpriced: map[string]bool{}}
	if m.caps, err = pricing.DemandOn(demands, v.Book.Season); err != nil {
		return nil, err
	}
	if m.inTrial, err = s.inTrials(ctx, shop, ready); err != nil {
		return nil, err
	}
	for _, r := range ready {
		id := r.Card.Row.Piece.PublicID
		if len(v.Asked.Pieces) > 0 && !slices.Contains(v.Asked.Pieces, id) || slices.Contains(v.Asked.Leave, id) {
			continue
		}
		if _, ok := m.shares[r.Card.Piece.ID]; !ok {
			if m.shares[r.Card.Piece.ID], err = s.houseSharesOf(ctx, shop, r.Card.Piece.ID); err != nil {
				return nil, err
			}
		}
		m.piece(r)
	}
	switch n := len(b.problem.Pieces); {
	case n == 0:
		return nil, fault.New("pieces", "none_ready", "No piece is ready to be cut.",
			"Receive some, or wait until they are old enough; the ready page says when.")
	case n > bestuse.MaxPieces:
		return nil,
			fault.New("pieces", "too_many", fmt.Sprintf("are more than %d", bestuse.MaxPieces), "Choose some of them.")
	}
	if err := m.pins(); err != nil {
		return nil, err
	}
	for key := range m.at {
		if b.said.Of++; v.Book.Prices[key].Guessed() {
			b.said.Guessed++
		}
	}
	b.said.InTrial, b.said.WithoutPrice = m.bound, slices.Sorted(maps.Keys(m.unpriced))
	if err := m.orders(); err != nil || !v.Asked.Open {
		return b, err
	}
	today := shop.Day(s.now())
	if v.Needs, err = s.orders.Needs(ctx, shop.Begins(today.AddDate(0, 0, v.Asked.Days))); err != nil {
		return nil, err
	}
	b.wishes = m.wishes()
	return b, nil
}

// piece adds a piece with the plans that it is ready for.
func (m *problemMaker) piece(r stock.ReadyPiece) {
	x := bestuse.Piece{ID: r.Card.Row.Piece.PublicID, Count: 1, Waits: m.view.Asked.Wait}
	out := BestPiece{Card: r.Card, leaves: map[string]measure.Money{}}
	var piece atlas.Piece
	piece, out.Basis = m.shares[r.Card.Piece.ID].on(r.Card.Piece)
	drawn := m.inTrial[r.Card.Row.Piece.ID]
	if drawn {
		m.bound++
	}
	for _, plan := range r.Plans {
		switch {
		case drawn && !plan.Chosen: // how it is cut was drawn
		case !plan.Ready:
			out.Young = append(out.Young, plan.Plan.Name)
		default:
			laid, leaves := m.plan(r.Card, piece, plan.Plan)
			x.Plans, out.leaves[plan.Plan.ID] = append(x.Plans, laid), leaves
			out.Plans = append(out.Plans, plan.Plan)
		}
	}
	if len(x.Plans) == 0 {
		m.view.Left++
		return
	}
	m.problem.Pieces = append(m.problem.Pieces, x)
	m.view.Pieces = append(m.view.Pieces, out)
}

// pins leaves each piece whose plan is settled that plan alone.
func (m *problemMaker) pins() error {
	m.free = slices.Clone(m.problem.Pieces)
	var faults fault.List
	for i, pin := range m.view.Asked.Pins {
		field := fmt.Sprintf("pins[%d].", i)
		at := slices.IndexFunc(m.problem.Pieces, func(p bestuse.Piece) bool { return p.ID == pin.Piece })
		if at < 0 {
			faults.Add(field+"piece_id", fault.New("", "not_ready", "is no piece that is ready", "Leave it out."))
			continue
		}
		p := &m.problem.Pieces[at]
		plan := slices.IndexFunc(p.Plans, func(x bestuse.Plan) bool { return x.ID == pin.Plan })
		if plan < 0 {
			faults.Add(field+"plan_id", fault.New("", "not_possible", "is no plan that it is ready for", "Choose another."))
			continue
		}
		p.Plans, p.Waits, m.view.Pieces[at].Pinned = p.Plans[plan:plan+1], false, true
	}
	return faults.Err()
}

// plan lays a plan out on a piece: what it costs, and what it makes; and what it leaves by itself.
func (m *problemMaker) plan(card stock.Card, piece atlas.Piece, plan atlas.Plan) (bestuse.Plan, measure.Money) {
	sheet := pricing.ForecastSheet(m.shop.Shop, piece, plan, card.Weight, m.view.Book.Prices)
	t := sheet.Totals()
	out := bestuse.Plan{ID: plan.ID, Minutes: bestuse.Minutes(math.Round(sheet.Minutes * 100)),
		Cost: t.Packaging.Add(t.Labour).Add(t.Discard).Add(t.Ingredients)}
	for _, pr := range plan.Products {
		if mass := sheet.ProductMass(pr.ID); mass > 0 {
			key := card.Piece.Key(pr)
			m.product(key)
			out.Yields = append(out.Yields, bestuse.Yield{Product: key, Mass: mass})
		}
	}
	for _, name := range sheet.Unpriced() {
		m.unpriced[name] = true
	}
	return out, t.Sales.Sub(out.Cost)
}

// product adds a product, once, with what can be sold of it.
func (m *problemMaker) product(key string) {
	if _, ok := m.at[key]; ok {
		return
	}
	m.at[key] = len(m.problem.Products)
	pr := bestuse.Product{ID: key, Price: m.view.Book.Prices[key].PerKilogram()}
	pr.Fallback = pr.Price
	if d, ok := m.caps[key]; ok {
		limit := d.Week * measure.Mass(m.view.Asked.Days) / 7
		pr.Cap = &limit
		if d.Fallback.Cmp(pr.Price) < 0 {
			pr.Fallback = d.Fallback
		}
	}
	m.problem.Products = append(m.problem.Products, pr)
}

// orders sets what must be there of each product.
func (m *problemMaker) orders() error {
	var faults fault.List
	for i, o := range m.view.Asked.Orders {
		field := fmt.Sprintf("orders[%d].", i)
		mass, err := measure.ParseMass(o.Weight, measure.Unit(o.Unit))
		if err == nil && mass <= 0 {
			err = fault.New("", "not_positive", "must be above zero", "Leave the order out.")
		}
		faults.Add(field+"weight", err)
		n, ok := m.at[o.Key]
		switch name := m.names[o.Key].Name; {
		case ok && m.problem.Products[n].Order > 0:
			faults.Add(field+"product_key", fault.New("", "twice", "stands in an earlier order", "Put them together."))
		case ok:
			m.problem.Products[n].Order = mass
		case name == "":
			faults.Add(field+"product_key",
				fault.New("", "unknown", fault.Quote(o.Key)+" is not a product of the atlas", "Choose one of the list."))
		default:
			faults.Add(field+"product_key", fault.New("", "not_possible", "No piece that is ready becomes "+name,
				"Leave the order out, or receive what it is cut from."))
		}
	}
	return faults.Err()
}

// wishes are what open orders still ask for, the first due first, where no order was typed for a product; what nothing
// that is ready becomes is only told of.
func (m *problemMaker) wishes() (out []bestuse.Wish) {
	for _, need := range m.view.Needs {
		i, ok := m.at[need.Key]
		switch {
		case need.ToCut <= 0:
		case !ok:
			m.said.Unmade = append(m.said.Unmade, fmt.Sprintf("%s %s (%s)", need.ToCut.Text(m.shop.Unit, 2),
				cmp.Or(m.names[need.Key].Name, need.Key), strings.Join(need.Orders, ", ")))
		case m.problem.Products[i].Order == 0:
			out = append(out, bestuse.Wish{Product: i, Mass: need.ToCut})
		}
	}
	return out
}

// inTrials says which of some pieces are in a trial that counts.
func (s *Service) inTrials(ctx context.Context, shop shop.WithPlans, ready []stock.ReadyPiece) (map[int64]bool, error) {
	ids := make([]int64, len(ready))
	for i, r := range ready {
		ids[i] = r.Card.Row.Piece.ID
	}
	out := map[int64]bool{}
	if len(ids) == 0 {
		return out, nil
	}
	taken, err := s.store.InTrial(ctx, shop.ID, ids)
	for _, id := range taken {
		out[id] = true
	}
	return out, err
}

// boundPieces are the pieces that wait to be cut and keep the way that a trial drew for them.
func (s *Service) boundPieces(ctx context.Context, shop shop.WithPlans) ([]string, error) {
	ready, err := s.stock.ReadyAtOnce(ctx, maxReady)
	if err != nil {
		return nil, err
	}
	drawn, err := s.inTrials(ctx, shop, ready)
	out := []string{}
	for _, r := range ready {
		if drawn[r.Card.Row.Piece.ID] {
			out = append(out, r.Card.Row.Piece.PublicID)
		}
	}
	return out, err
}

// houseShares are the shares of a piece's parts as the house's own seamed pieces had them.
type houseShares struct {
	shares map[string]float64
	n      int
}

func (s *Service) houseSharesOf(ctx context.Context, shop shop.WithPlans, atlasID string) (h houseShares, err error) {
	h.shares, h.n, err = s.store.MeanShares(ctx, shop.ID, atlasID, bench.PastPieces)
	return h, err
}

// on gives the piece with the house's shares in the place of the atlas', where there is enough of them and they know
// every muscle that is there.
func (h houseShares) on(p atlas.Piece) (atlas.Piece, string) {
	if h.n < value.EnoughPast {
		return p, "estimated: the atlas’ shares"
	}
	muscles, others := slices.Clone(p.Muscles), slices.Clone(p.Other)
	sum := 0.0
	for i := range muscles {
		muscles[i].SharePct = h.shares[muscles[i].ID]
		if muscles[i].SharePct <= 0 {
			return p, "estimated: the atlas’ shares"
		}
		sum += muscles[i].SharePct
	}
	for i := range others {
		others[i].SharePct = math.Max(0, h.shares[others[i].ID])
		sum += others[i].SharePct
	}
	for i := range muscles {
		muscles[i].SharePct *= 100 / sum
	}
	for i := range others {
		others[i].SharePct *= 100 / sum
	}
	p.Muscles, p.Other = muscles, others
	return p, fmt.Sprintf("measured: the house’s own shares, n = %d", h.n)
}
