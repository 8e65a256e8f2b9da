package sales

import (
	"context"
	"math"

	"falda/internal/core/age"
	"falda/internal/core/carcass"
	"falda/internal/core/demand"
	"falda/internal/core/markdown"
	"falda/internal/core/measure"
	"falda/internal/core/value"
	"falda/internal/store"
	"falda/internal/work/goods"
	"falda/internal/work/pricing"
)

// Advice is what to do with a tub before its use-by.
type Advice struct {
	Tub       goods.Tub
	Plan      markdown.Plan
	Pack      measure.Mass // one of its packs, as it is reckoned
	Packs     int
	Days      int           // on which it can be sold, today counted
	PerDay    float64       // packs that sell today, of this tub, at the full price
	Weeks     int           // of sales behind it
	Elsewhere measure.Money // what a kilogram brings elsewhere
	Price     measure.Price // now asked, for a kilogram or pound
	Asked     measure.Price // with the plan's step
}

// most is into how many packs a tub is divided; of more, several go together.
const most = 200

// Advise says of each tub in the cold room and at the counter when to reduce it, and by how much. Of a product the tub
// that must go first is sold first: what lies before another of it takes its buyers.
func (s *Service) Advise(ctx context.Context) ([]Advice, Settings, error) {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return nil, Settings{}, err
	}
	sales, sums, err := s.known(ctx, sh)
	if err != nil {
		return nil, sales.Settings, err
	}
	stock, err := s.goods.Stock(ctx)
	if err != nil {
		return nil, sales.Settings, err
	}
	rows, err := s.store.Demands(ctx, sh.ID)
	if err != nil {
		return nil, sales.Settings, err
	}
	falls, err := pricing.DemandOn(rows, value.SeasonOn(sh.Seasons, sales.Today))
	if err != nil {
		return nil, sales.Settings, err
	}
	products, err := s.goods.Products(ctx, sh)
	if err != nil {
		return nil, sales.Settings, err
	}
	brings := elsewhere(falls, products)
	before := map[string]float64{} // packs of a product that go first
	var out []Advice
	for _, t := range stock.Tubs { // first the one whose use-by comes first
		days := int(t.UseBy.Sub(sales.Today).Hours()/24) + 1
		if t.Kind == store.GoodsStream || t.Place == "frozen" || t.Price == nil || t.Left <= 0 || days < 1 {
			continue
		}
		look := sales.look(sh.Shop, sums, t.Key)
		a := Advice{Tub: t, Pack: look.Pack, Days: min(days, markdown.MaxDays), Weeks: look.N, Price: *t.Sells}
		rates := []float64{}
		for d := range a.Days {
			day := sales.Today.AddDate(0, 0, d)
			rates = append(rates, look.Weekday[demand.Weekday(day)].Mean)
		}
		packs := float64(t.Left) / float64(look.Pack)
		rates = behind(rates, before[t.Key])
		before[t.Key] += packs
		a.Elsewhere = brings(t)
		if err := a.plan(sales.Settings, rates, packs); err != nil {
			return nil, sales.Settings, err
		}
		a.Asked = *goods.Less(sh.Shop, t.Price, a.Plan.Now)
		out = append(out, a)
	}
	return out, sales.Settings, nil
}

// behind takes from what sells on days what others that go first take of it.
func behind(rates []float64, first float64) []float64 {
	out := make([]float64, len(rates))
	for i, r := range rates {
		taken := math.Min(r, first)
		first -= taken
		out[i] = r - taken
	}
	return out
}

// elsewhere says what a kilogram of each product brings where it is cut small, minced or frozen: what the price book's
// demand says of the rest; else, of meat so young that it may be minced until its use-by, what the cheapest trim of the
// species sells at.
func elsewhere(falls map[string]carcass.Cap, products map[string]goods.Product) func(goods.Tub) measure.Money {
	trim := map[string]measure.Money{}
	for _, p := range products {
		if p.Form != "trim" || p.Price == nil {
			continue
		}
		perKg := p.Price.PerKilogram()
		if was, ok := trim[p.Species]; !ok || perKg.Cmp(was) < 0 {
			trim[p.Species] = perKg
		}
	}
	return func(t goods.Tub) measure.Money {
		if c, ok := falls[t.Key]; ok {
			return c.Fallback
		}
		killed := t.Slaughtered[0]
		if t.Kind != store.GoodsProduct || killed == nil || killed.AddDate(0, 0, age.MinceDays).Before(t.UseBy) {
			return measure.Money{}
		}
		if v := trim[t.Species]; v.Cmp(t.Price.PerKilogram()) < 0 {
			return v
		}
		return measure.Money{}
	}
}

// plan asks the core.
func (a *Advice) plan(set Settings, rates []float64, packs float64) error {
	together := math.Ceil(packs / most)
	a.Pack = measure.Mass(math.Round(float64(a.Pack) * together))
	a.Packs = max(1, int(math.Round(packs/together)))
	for i := range rates {
		rates[i] /= together
	}
	a.PerDay = rates[0]
	kg := float64(a.Pack) / float64(measure.Kilogram)
	other := math.Max(0, a.Elsewhere.Float()*kg)
	plan, err := markdown.Best(markdown.Ask{Packs: a.Packs, Days: a.Days, Price: a.Tub.Price.PerKilogram().Float() * kg,
		Steps: set.Steps, Off: a.Tub.Off, PerDay: rates, Elasticity: set.Elasticity, Elsewhere: other})
	a.Plan = plan
	return err
}
