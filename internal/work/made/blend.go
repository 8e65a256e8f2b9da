package made

import (
	"context"
	"errors"
	"fmt"
	"math/big"
	"slices"
	"strconv"
	"time"

	"falda/internal/core/blend"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/trim"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/goods"
	"falda/internal/work/shop"
)

// BlendWant is what is asked of a recipe, in what is sold of it.
type BlendWant struct {
	Recipe      string
	Least, Most string // kg sold; empty for no limit
}

// BlendAsk asks what the tubs should become.
type BlendAsk struct {
	Tubs    []string // ids; empty for all trim that may be minced
	Recipes []BlendWant
	Cheap   bool // at least cost: exactly the least of each recipe, whatever it sells for
}

// BlendUse is how much of a tub goes into a recipe.
type BlendUse struct {
	Tub    int
	Recipe int
	Mass   measure.Mass
}

// BlendTub is a tub of a blend.
type BlendTub struct {
	goods.Tub
	Worth    measure.Money // of a kilogram where it goes into nothing
	Unpriced bool          // nobody said what it is worth: it counts as nothing
	Left     measure.Mass
	Margin   measure.Money // what one more kilogram would add
}

// BlendMade is what is made of a recipe.
type BlendMade struct {
	Recipe             Recipe
	Meat, Sold         measure.Mass
	Lean               *float64 // of the meat, percent
	Fat, CollagenRatio *float64
	Batches, Pieces    int
	Value              measure.Money // sold, less what else went in
	Category           *trim.Category
}

// Blend is what the tubs should become.
type Blend struct {
	Tubs   []BlendTub
	Made   []BlendMade
	Use    []BlendUse
	Value  measure.Money // of what is made and of what is left
	AsItIs measure.Money // of the tubs at their worth, nothing made
	Proven bool
	Late   []goods.Tub // past the day until which the law lets meat be minced; left out unless they were named
	Cheap  bool
}

// Gain is what making it adds.
func (b Blend) Gain() measure.Money { return b.Value.Sub(b.AsItIs) }

// Blend finds what the tubs should become so that the whole brings the most; or, where it is asked cheaply, what the
// recipes that must be made cost least from. Stop says when to give up.
func (s *Service) Blend(ctx context.Context, in BlendAsk, stop blend.Stop) (Blend, error) {
	stock, err := s.goods.Stock(ctx)
	if err != nil {
		return Blend{Cheap: in.Cheap}, err
	}
	return s.BlendOf(ctx, in, stock.Tubs, 7, stop)
}

// BlendOf finds what such tubs should become, whether they lie there or will; what sells of a recipe counts for so many
// days.
func (s *Service) BlendOf(ctx context.Context, in BlendAsk, tubs []goods.Tub, days int, stop blend.Stop) (Blend,
	error) {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return Blend{}, err
	}
	q := question{sh: sh, cheap: in.Cheap, today: sh.Day(s.now()), days: days}
	q.out.Cheap = in.Cheap
	q.takeTubs(in.Tubs, tubs)
	recipes, err := s.recipes(ctx, sh.Shop)
	if err != nil {
		return q.out, err
	}
	q.takeRecipes(in.Recipes, recipes)
	if err := q.faults.Err(); err != nil {
		return q.out, err
	}
	mix, err := blend.Best(q.streams, q.products, stop)
	var unmet blend.Unmet
	switch {
	case errors.As(err, &unmet):
		return q.out, fault.New(fmt.Sprintf("recipes[%d].least", q.asked[unmet.Product]), "infeasible",
			"cannot be made from these tubs, beside what stands before it", "Ask for less, or take another tub.")
	case errors.Is(err, blend.ErrStopped):
		return q.out, fault.New("", "too_hard", "No mix was found in time.", "Take fewer tubs or recipes.")
	case err != nil:
		return q.out, err
	}
	return q.answer(mix)
}

// question is a blend on its way.
type question struct {
	sh       shop.WithPlans
	cheap    bool
	today    time.Time
	days     int
	faults   fault.List
	out      Blend
	streams  []blend.Stream
	products []blend.Product
	asked    []int // of each product its place in what was asked
}

// exact is a figure of statistics as a fraction, to a ten-thousandth.
func exact(v float64) *big.Rat {
	r, _ := new(big.Rat).SetString(strconv.FormatFloat(v, 'f', 4, 64))
	return r
}

// takeTubs takes those that were named; all trim where none was.
func (q *question) takeTubs(named []string, all []goods.Tub) {
	for i, id := range named {
		if !slices.ContainsFunc(all, func(t goods.Tub) bool { return t.String() == id }) {
			q.faults.Add(fmt.Sprintf("tubs[%d]", i), fault.New("", "unknown", "is empty, or no tub of this shop",
				"Look at the list again."))
		}
	}
	for _, t := range all {
		taken := slices.Contains(named, t.String()) || len(named) == 0 && t.Kind == store.GoodsStream &&
			t.Form != "bone" && t.Place != "frozen"
		if !taken || t.Left <= 0 || t.Figures == nil {
			continue
		}
		if t.MinceUntil != nil && q.today.After(*t.MinceUntil) && t.Place != "frozen" {
			if q.out.Late = append(q.out.Late, t); len(named) == 0 { // who names it answers for it
				continue
			}
		}
		x := BlendTub{Tub: t, Worth: q.sh.Money.Of(measure.Money{}), Unpriced: t.Price == nil}
		if t.Price != nil {
			x.Worth = t.Price.Amount.Over(t.Price.Per.Kilograms())
		}
		q.out.Tubs = append(q.out.Tubs, x)
		q.streams = append(q.streams, blend.Stream{ID: t.String(), Kg: t.Left.In(measure.UnitKilogram),
			LeanPct: exact(t.Figures.Lean), ConnectivePct: exact(t.Figures.Connective), WorthPerKg: x.Worth.Rat()})
	}
	if len(q.streams) == 0 {
		q.faults.Add("tubs", fault.New("", "empty", "hold nothing that may be minced", "Cut something, or take other tubs."))
	}
	if len(q.streams) > maxStreams {
		q.faults.Add("tubs", fault.New("", "too_many", fmt.Sprintf("are more than %d", maxStreams), "Choose some of them."))
	}
}

// maxStreams and maxWants bound a question: more would take long to answer exactly.
const (
	maxStreams = 40
	maxWants   = 20
)

// takeRecipes takes those that were named; all that have a price where none was.
func (q *question) takeRecipes(wants []BlendWant, all []Recipe) {
	if len(wants) == 0 {
		for _, r := range all {
			if !r.Retired && r.Scaled.Meat.Sign() > 0 && (r.Net != nil) {
				wants = append(wants, BlendWant{Recipe: r.PublicID})
			}
		}
	}
	if len(wants) > maxWants {
		q.faults.Add("recipes", fault.New("", "too_many", fmt.Sprintf("are more than %d", maxWants), "Choose some of them."))
		return
	}
	for i, w := range wants {
		at := fmt.Sprintf("recipes[%d].", i)
		k := slices.IndexFunc(all, func(r Recipe) bool { return r.PublicID == w.Recipe })
		if k < 0 || all[k].Scaled.Meat.Sign() == 0 {
			q.faults.Add(at+"recipe", fault.New("", "unknown", "is no recipe that takes meat", "Take one of the list."))
			continue
		}
		r := all[k]
		if r.Net == nil && !q.cheap {
			q.faults.Add(at+"recipe", fault.New("", "unpriced", "has no price", "Give it one, or ask for the least cost."))
			continue
		}
		q.products = append(q.products, q.product(at, r, w))
		q.asked = append(q.asked, i)
		q.out.Made = append(q.out.Made, BlendMade{Recipe: r})
	}
	if len(q.products) == 0 && len(q.faults) == 0 {
		q.faults.Add("recipes", fault.New("", "empty", "hold none with meat and a price", "Write one first."))
	}
}

// product is a recipe as the blend takes it, by the kilogram of meat.
func (q *question) product(at string, r Recipe, w BlendWant) blend.Product {
	b := r.Body
	p := blend.Product{ID: r.PublicID, PricePerKg: new(big.Rat)}
	if !q.cheap {
		p.PricePerKg = r.Net
	}
	low, high, collagen := b.Bounds()
	limit := func(pct float64) *big.Rat {
		if pct <= 0 {
			return nil
		}
		return exact(pct)
	}
	p.LeanMinPct, p.LeanMaxPct, p.CollagenMaxPct = limit(low), limit(high), limit(collagen)
	meat := func(field, text string) *big.Rat { // of what is sold
		if text == "" {
			return nil
		}
		m, err := measure.ParseMass(text, measure.UnitKilogram)
		if err == nil && m < 0 {
			err = fault.New("", "negative", "is below zero", "Enter zero or more.")
		}
		q.faults.Add(at+field, err)
		return new(big.Rat).Quo(m.In(measure.UnitKilogram), r.Scaled.Out)
	}
	p.MinKg, p.MaxKg = meat("least", w.Least), meat("most", w.Most)
	if q.cheap {
		if p.MinKg == nil {
			q.faults.Add(at+"least", fault.Required("Say how much must be made."))
		}
		p.MaxKg = p.MinKg
	} else if b.WeekKg > 0 {
		sells := new(big.Rat).Mul(exact(b.WeekKg), big.NewRat(int64(q.days), 7))
		p.DemandKg, p.FallbackPerKg = sells.Quo(sells, r.Scaled.Out), new(big.Rat)
	}
	if b.BatchKg > 0 && !q.cheap {
		p.BatchKg = exact(b.BatchKg)
	}
	for _, sh := range b.Shares {
		x := blend.Share{Of: q.source(sh.Of)}
		if sh.MostPct > 0 {
			x.Most = exact(sh.MostPct / 100)
		}
		if sh.LeastPct > 0 {
			x.Least = exact(sh.LeastPct / 100)
		}
		p.Shares = append(p.Shares, x)
	}
	for _, t := range q.out.Tubs {
		if b.Species != "" && t.Species != b.Species {
			p.Not = append(p.Not, t.String())
		}
	}
	return p
}

// source gives the tubs of a species, or of a product.
func (q *question) source(of string) []string {
	var out []string
	for _, t := range q.out.Tubs {
		if t.Species == of || t.Key == of {
			out = append(out, t.String())
		}
	}
	return out
}

// kilograms is a fraction of kilograms as a mass, to the milligram.
func kilograms(kg *big.Rat) measure.Mass {
	mg := new(big.Rat).Mul(kg, new(big.Rat).SetInt64(int64(measure.Kilogram)))
	half := new(big.Rat).Add(mg, big.NewRat(1, 2))
	return measure.Mass(new(big.Int).Quo(half.Num(), half.Denom()).Int64())
}

// answer reads a mix in the words of what was asked.
func (q *question) answer(mix blend.Mix) (Blend, error) {
	out := q.out
	out.Proven = mix.Proven
	money := func(r *big.Rat) measure.Money { return q.sh.Money.Round(measure.MoneyFromRat(r)) }
	tub, made := map[string]int{}, map[string]int{}
	asItIs := new(big.Rat)
	for i := range out.Tubs {
		tub[out.Tubs[i].String()] = i
		out.Tubs[i].Left = kilograms(mix.Left[i].Kg)
		out.Tubs[i].Margin = money(mix.Margins[i].PerKg)
		asItIs.Add(asItIs, new(big.Rat).Mul(q.streams[i].Kg, q.streams[i].WorthPerKg))
	}
	out.Value, out.AsItIs = money(mix.Value), money(asItIs)
	for k := range out.Made {
		m, x := &out.Made[k], mix.Products[k]
		made[x.ID] = k
		m.Meat, m.Batches = kilograms(x.Kg), x.Batches
		sold := new(big.Rat).Mul(x.Kg, m.Recipe.Scaled.Out)
		m.Sold = kilograms(sold)
		m.Lean, m.CollagenRatio = percent(x.LeanPct), percent(x.CollagenPct)
		if m.Lean != nil {
			fat := 100 - *m.Lean
			m.Fat = &fat
		}
		if g := m.Recipe.Body.PieceG; g > 0 {
			m.Pieces = int(m.Sold.Grams() / g)
		}
		full := x.Kg
		if d := q.products[k].DemandKg; d != nil && d.Cmp(full) < 0 {
			full = d
		}
		m.Value = money(new(big.Rat).Mul(full, q.products[k].PricePerKg))
		if c, ok := trim.FindCategory(m.Recipe.Body.Category); ok {
			m.Category = &c
		}
	}
	for _, u := range mix.Use {
		if m := kilograms(u.Kg); m > 0 {
			out.Use = append(out.Use, BlendUse{Tub: tub[u.Stream], Recipe: made[u.Product], Mass: m})
		}
	}
	return out, nil
}

func percent(r *big.Rat) *float64 {
	if r == nil {
		return nil
	}
	v, _ := r.Float64()
	return &v
}

// ValueByUse says whether trim is valued by what it becomes, in comparisons, carcasses and best use. Where it is, what
// one more kilogram of each stream would add to the blend as it stands now is what it is valued at from then on.
func (s *Service) ValueByUse(ctx context.Context, on bool, stop blend.Stop) error {
	sh, err := s.shops.Current(ctx)
	if err != nil {
		return err
	}
	var list []store.TrimWorth
	if on {
		b, err := s.Blend(ctx, BlendAsk{}, stop)
		if err != nil {
			return err
		}
		list = worths(sh, b, s.now())
	}
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		became := map[string]any{"on": on}
		for _, w := range list {
			became[w.ProductKey] = w.PerKg
		}
		return audit.Change{Action: "trim_value.set", Became: became}, tx.SetTrimWorths(ctx, sh.ID, list, on)
	})
	s.shops.Wake()
	return err
}

// worths is what one more kilogram of each stream would add: the mean of its tubs by what is in them.
func worths(sh shop.Shop, b Blend, at time.Time) []store.TrimWorth {
	sum, mass := map[string]measure.Money{}, map[string]measure.Mass{}
	var keys []string
	for _, t := range b.Tubs {
		if t.Kind != store.GoodsStream {
			continue
		}
		if _, ok := sum[t.Key]; !ok {
			keys = append(keys, t.Key)
		}
		m := t.Tub.Left
		sum[t.Key] = sum[t.Key].Add(t.Margin.Times(m.In(measure.UnitKilogram)))
		mass[t.Key] += m
	}
	slices.Sort(keys)
	var out []store.TrimWorth
	for _, k := range keys {
		out = append(out, store.TrimWorth{ShopID: sh.ID, ProductKey: k, At: at,
			PerKg: sum[k].Over(mass[k].In(measure.UnitKilogram)).Text(measure.PriceDecimals)})
	}
	return out
}
