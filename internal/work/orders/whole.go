package orders

import (
	"cmp"
	"context"
	"fmt"
	"slices"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/order"
	"falda/internal/work/pricing"
	"falda/internal/work/shop"
)

// Whole is a whole animal as a customer wants it cut.
type Whole struct {
	Carcass  string       `json:"carcass"`
	Division string       `json:"division"`
	Mass     measure.Mass `json:"mg"`     // cold
	PerKg    string       `json:"per_kg"` // what it costs, all of it
	Cuts     []Cut        `json:"cuts"`
}

// Cut is how some of its pieces are cut.
type Cut struct {
	Piece  string `json:"piece"`
	Plan   string `json:"plan"`
	Count  int    `json:"count"`
	Pieces int    `json:"pieces,omitempty"` // in a pack; 0 where nobody said
	Note   string `json:"note,omitempty"`
}

// CutView is a cut as it is expected to come out.
type CutView struct {
	Cut
	Name, PlanName string
	Each           measure.Mass // of one such piece
	Minutes        float64      // of all of them
	Sales          measure.Money
	Products       []CutProduct
	Plans          []atlas.Plan // that it could be cut by
}

// CutProduct is what comes of a cut.
type CutProduct struct {
	Key, Name string
	Mass      measure.Mass
	Loose     bool // trim, fat or bone, which nobody counts
}

// WholeView is a whole animal with what it costs, and what its cuts would cost one by one.
type WholeView struct {
	Whole
	Name      string
	Divisions []atlas.Division
	Cuts      []CutView
	Price     measure.Money // of the whole
	OneByOne  measure.Money // its products at the list's prices
	Unpriced  []string      // products that have none
	Minutes   float64       // of breaking it and of all cuts
}

// Lines are the products that come of it, as lines of the order.
func (v WholeView) Lines() []order.Line {
	at := map[string]int{}
	var out []order.Line
	for _, c := range v.Cuts {
		for _, p := range c.Products {
			i, ok := at[p.Key]
			if !ok {
				i = len(out)
				at[p.Key] = i
				out = append(out, order.Line{Key: p.Key})
				if !p.Loose {
					out[i].Pieces = c.Pieces
				}
			}
			out[i].Mass += p.Mass
		}
	}
	return out
}

// WholeAnimal says how a whole animal would come out, cut to a wish: what is not said is cut as the first plan of the
// carcass has it.
func (s *Service) WholeAnimal(ctx context.Context, w Whole) (WholeView, error) {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return WholeView{}, err
	}
	book, err := s.prices.BookOn(ctx, sh.Shop, "", sh.Day(s.now()))
	if err != nil {
		return WholeView{}, err
	}
	return s.whole(sh, book.Prices, w)
}

// whole is WholeAnimal at the prices of a book.
func (s *Service) whole(sh shop.WithPlans, book map[string]measure.Price, w Whole) (WholeView, error) {
	v := WholeView{Whole: w}
	c, ok := s.atlas.FindCarcass(w.Carcass)
	if !ok {
		return v, fault.New("carcass", "unknown", fault.Quote(w.Carcass)+" is no carcass of the atlas",
			"Choose one of the list.")
	}
	v.Name, v.Divisions = c.Name, c.Divisions()
	d := c.Division(w.Division)
	v.Division = d.ID
	price, err := sh.ParsePrice(w.PerKg, "kg")
	var faults fault.List
	faults.Add("price_per_kg", err)
	if w.Mass <= 0 {
		faults.Add("weight", fault.Required("Say what it weighs, cold."))
	}
	masses := map[string]measure.Mass{}
	whole := s.atlas.Whole(c, d.ID)
	split := whole.Split(w.Mass)
	for i, part := range whole.Parts() {
		masses[part.ID] = split[i]
	}
	m := maker{Service: s, sh: sh, book: book, view: &v, faults: &faults, said: map[string]int{}}
	v.Minutes = c.Minutes
	for _, part := range d.Parts {
		m.part(c, part, masses[part.Piece])
	}
	for i, cut := range w.Cuts {
		if !slices.ContainsFunc(d.Parts, func(p atlas.CarcassPart) bool { return p.Piece == cut.Piece }) {
			faults.Add(fmt.Sprintf("cuts[%d].piece", i),
				fault.New("", "unknown", "is no piece of it, broken so", "Leave it out."))
		}
	}
	v.Price, v.OneByOne = order.Amount(w.Mass, price, sh.Money), sh.Money.Of(v.OneByOne)
	return v, faults.Err()
}

// maker works out the pieces of a whole animal.
type maker struct {
	*Service
	sh     shop.WithPlans
	book   map[string]measure.Price
	view   *WholeView
	faults *fault.List
	said   map[string]int
}

// part works out the pieces of one kind, each cut as was said.
func (m *maker) part(c atlas.Carcass, part atlas.CarcassPart, mass measure.Mass) {
	chosen := []Cut{}
	left := part.Count
	for i, cut := range m.view.Whole.Cuts {
		if cut.Piece != part.Piece {
			continue
		}
		if left -= cut.Count; cut.Count < 1 || left < 0 {
			m.faults.Add(fmt.Sprintf("cuts[%d].count", i), fault.New("", "out_of_range",
				fmt.Sprintf("there are %d of it", part.Count), "Make them add up."))
			return
		}
		m.faults.Add(fmt.Sprintf("cuts[%d].note", i), fault.Text(cut.Note, 120, false))
		chosen = append(chosen, cut)
	}
	if left > 0 {
		chosen = append(chosen, Cut{Piece: part.Piece, Count: left})
	}
	masses, err := measure.ApportionMass(mass, slices.Repeat([]int64{1}, part.Count))
	if err != nil {
		return
	}
	for _, cut := range chosen {
		m.cut(c, part, cut, masses[:cut.Count])
		masses = masses[cut.Count:]
	}
}

// cut works out some pieces that are cut the same way.
func (m *maker) cut(c atlas.Carcass, part atlas.CarcassPart, cut Cut, masses []measure.Mass) {
	p, _ := m.atlas.Find(part.Piece)
	if len(part.Findings) > 0 {
		p = p.Found(part.Findings, nil)
	}
	p = m.sh.AddOwn(p, cut.Plan).In(m.sh.Market)
	pl, ok := p.Plan(cmp.Or(cut.Plan, c.Plans[0].Pieces[part.Piece]))
	if !ok && cut.Plan == "" {
		pl, ok = p.Plans[0], true
	}
	if !ok {
		at := slices.IndexFunc(m.view.Whole.Cuts, func(x Cut) bool { return x == cut })
		m.faults.Add(fmt.Sprintf("cuts[%d].plan_id", at),
			fault.New("", "unknown", fault.Quote(cut.Plan)+" is not a plan of this piece", "Choose one of its plans."))
		return
	}
	cut.Plan = pl.ID
	out := CutView{Cut: cut, Name: p.NameIn(m.sh.Market), PlanName: pl.Name, Each: masses[0], Plans: p.Plans}
	made := map[string]measure.Mass{}
	for _, mass := range masses {
		sheet := pricing.ForecastSheet(m.sh.Shop, p, pl, mass, m.book)
		out.Sales = out.Sales.Add(sheet.Totals().Sales)
		out.Minutes += sheet.Minutes
		for _, pr := range pl.Products {
			made[pr.ID] += sheet.ProductMass(pr.ID)
		}
	}
	for _, pr := range pl.Products {
		if pr.Form == atlas.FormPiece || made[pr.ID] == 0 {
			continue
		}
		key := p.Key(pr)
		out.Products = append(out.Products,
			CutProduct{Key: key, Name: pr.Name, Mass: made[pr.ID], Loose: pr.ByProduct() || pr.IsTrim()})
		if _, ok := m.book[key]; !ok && !slices.Contains(m.view.Unpriced, pr.Name) {
			m.view.Unpriced = append(m.view.Unpriced, pr.Name)
		}
	}
	m.view.OneByOne = m.view.OneByOne.Add(out.Sales)
	m.view.Minutes += out.Minutes
	m.view.Cuts = append(m.view.Cuts, out)
}
