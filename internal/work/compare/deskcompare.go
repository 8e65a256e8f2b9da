package compare

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"math"
	"math/big"
	"slices"
	"strconv"
	"strings"
	"sync"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/value"
	"falda/internal/core/words"
	"falda/internal/store"
	"falda/internal/work/pricing"
	"falda/internal/work/sales"
	"falda/internal/work/shop"
)

// Two sides at least, and no more than fit beside each other.
const (
	minAlternatives = 2
	maxAlternatives = 6
)

// Desk is what is asked of a comparison.
type Desk struct {
	Alternatives []AlternativePick
	Market       string // whose prices today are; the main one where empty
	Today        bool   // all at today's prices, instead of each at those of its day
	// what every block is taken to cost; what was paid where empty. A plan alone costs what is paid for the first recorded
	// one
	Block    string
	BlockPer string
	Margin   float64 // per cent of sales that minimum prices and the worth of a block leave
	Method   string  // of joint cost
	Credit   bool    // by-products carry what they bring
	Chain    []DeskMarkdown
	SoldDays int // above 0: at what was really sold in so many days, for less and not at all counted
}

// DeskMarkdown is a step that what does not sell goes down to.
type DeskMarkdown struct {
	Key   string
	Sells float64 // per cent
}

// AlternativeView is an alternative with what it comes to.
type AlternativeView struct {
	alternative
	Costs          value.CostTable
	MaxBlock       measure.Money
	PerCarcassSide *measure.Money // of a carcass; nil where its share of one is not known
	CarcassSide    string         // of which carcass, in words
}

// DeskSell is how much of a product must sell at its full price.
type DeskSell struct {
	Key, Name string
	Price     measure.Money
	Fraction  float64
	OK        bool
	Always    bool
	Chain     []value.Markdown
	Rest      measure.Money
}

// DeskEven is at which price of a product both alternatives come out even.
type DeskEven struct {
	Key, Name string
	Now, At   measure.Money
	OK        bool
}

// DeskPair is the first alternative against another.
type DeskPair struct {
	A, B           value.Alternative
	Lead           measure.Money // a kilogram of block
	PerPiece       measure.Money // on a piece of b's mean weight
	PerHour        *measure.Money
	PerCarcassSide *measure.Money
	Sentence       string
	ByPart         []value.Step
	ByCause        []value.Step
	Evens          []DeskEven
	Sells          []DeskSell
	Turns          []value.Turn
	Anew           *measure.Money // the lead at the other prices: today's, or those of the day
	AnewSays       string
}

// DeskView is a comparison, worked out.
type DeskView struct {
	Shop         shop.WithPlans
	Book         pricing.Book
	Asked        Desk
	Alternatives []AlternativeView
	Pairs        []DeskPair
	Basis        []string
	Margin       *big.Rat
	// LastPaid is what a kilogram of such a block last cost, where that is taken; nil otherwise.
	LastPaid *measure.Money
	// Sold is what became of the products over the counter; nil where that is not asked for.
	Sold *sales.Realised
}

// lastPaid is what a kilogram of a kind of piece cost when it was last received; nil where it never was.
func (s *Service) lastPaid(ctx context.Context, shop shop.WithPlans, atlasID string) (*measure.Money, error) {
	lot, err := s.store.LastLot(ctx, shop.ID, atlasID)
	if errors.Is(err, store.ErrNotFound) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	price, err := shop.Price(lot.Price, lot.PricePer)
	perKg := price.PerKilogram()
	return &perKg, err
}

// CompareAlternatives lays two or more sides beside each other: plans, recorded pieces and groups of them, in any
// mixture, of one kind of piece.
func (s *Service) CompareAlternatives(ctx context.Context, in Desk) (DeskView, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return DeskView{}, err
	}
	v := DeskView{Shop: shop, Asked: in}
	block, err := v.read(in)
	if err != nil {
		return v, err
	}
	if v.Book, err = s.prices.BookOn(ctx, shop.Shop, in.Market, shop.Day(s.now())); err != nil {
		return v, err
	}
	if in.SoldDays > 0 {
		if err := s.asSold(ctx, &v); err != nil {
			return v, err
		}
		in = v.Asked
	}
	alternatives, err := s.alternativesOf(ctx, shop, in.Alternatives, v.Book)
	if err != nil {
		return v, err
	}
	sameNames(alternatives)
	if block == nil &&
		!slices.ContainsFunc(alternatives, func(x alternative) bool { return x.Pick.Kind != AlternativePlan }) {
		// plans alone: the block costs what was last paid for one
		if block, err = s.lastPaid(ctx, shop, alternatives[0].Pick.AtlasID); err != nil {
			return v, err
		}
		v.LastPaid = block
	}
	v.payFor(alternatives, block)
	chain, err := v.chain(s.productNames(shop), alternatives)
	if err != nil {
		return v, err
	}
	for _, alternative := range alternatives {
		d := AlternativeView{alternative: alternative}
		if in.Today {
			d.Alternative, d.Today = alternative.Today, alternative.Alternative
		}
		d.Today.Name = d.Name
		if d.Costs, err = value.CostsOf(d.Alternative, value.Method(v.Asked.Method), in.Credit, v.Margin); err != nil &&
			fault.Of(err) == nil {
			return v, err
		}
		d.MaxBlock = d.MaxBlockPrice(v.Margin)
		if mass, of, ok := s.ofCarcass(alternative.Pick.AtlasID); ok {
			whole := shop.Money.Round(d.PerKg(d.Value()).Times(mass.In(measure.UnitKilogram)))
			d.PerCarcassSide, d.CarcassSide = &whole, of
		}
		v.Alternatives = append(v.Alternatives, d)
	}
	for i := range v.Alternatives[1:] {
		v.Pairs = append(v.Pairs, v.pair(v.Alternatives[0], v.Alternatives[i+1], chain))
	}
	v.explain()
	return v, nil
}

// asSold puts what was really sold in the place of the prices: what a kilogram of all that went brought. What was not
// sold keeps its price. All is then at today's, for there is no other.
func (s *Service) asSold(ctx context.Context, v *DeskView) error {
	sold, err := s.sales.Realised(ctx, v.Asked.SoldDays)
	if err != nil {
		return err
	}
	if len(sold.PerKg) == 0 {
		return fault.New("sold_days", "empty", "holds no sales", "Read what the till sold first, or ask for more days.")
	}
	v.Sold, v.Asked.Today = &sold, true
	v.Book.Prices = maps.Clone(v.Book.Prices)
	for key, perKg := range sold.PerKg {
		v.Book.Prices[key] = measure.Price{Amount: perKg, Per: measure.UnitKilogram}
	}
	return nil
}

// SellThrough is which part of what an alternative makes is of products that were sold, and which part of that went at
// its full price, 0 to 1; false where nothing of it was sold.
func (v *DeskView) SellThrough(a value.Alternative) (known, full float64, ok bool) {
	if v.Sold == nil {
		return 0, 0, false
	}
	all, sold := 0.0, 0.0
	for _, c := range a.Cells {
		if c.Fate != value.Sold {
			continue
		}
		all += c.Mass.Grams()
		if share, ok := v.Sold.Sums[c.Key].FullShare(); ok {
			sold += c.Mass.Grams()
			full += c.Mass.Grams() * share
		}
	}
	if sold == 0 {
		return 0, 0, false
	}
	return sold / all, full / sold, true
}

// read reads what is asked into the view, and what a kilogram of the block costs where that is said.
func (v *DeskView) read(in Desk) (block *measure.Money, err error) {
	var faults fault.List
	if len(in.Alternatives) < minAlternatives || len(in.Alternatives) > maxAlternatives {
		faults.Add("alternatives",
			fault.New("", "out_of_range", fmt.Sprintf("must be from %d to %d", minAlternatives, maxAlternatives),
				"Choose what is to be compared."))
	}
	v.Margin, err = fraction(in.Margin, 95)
	faults.Add("margin_pct", err)
	if in.Method == "" {
		v.Asked.Method = string(value.NRV)
	} else if !value.KnownMethod(in.Method) {
		faults.Add("method",
			fault.New("", "unknown", fault.Quote(in.Method)+" is not a method",
				"Use physical, sales_value, nrv or constant_margin."))
	}
	if in.SoldDays < 0 || in.SoldDays > sales.MaxRealised {
		faults.Add("sold_days", fault.New("", "out_of_range", fmt.Sprintf("must be from 1 to %d", sales.MaxRealised),
			"Ask for fewer days."))
	}
	if in.Block != "" {
		price, err := v.Shop.ParsePrice(in.Block, in.BlockPer)
		faults.Add("block_price", err)
		perKg := price.PerKilogram()
		block = &perKg
	}
	return block, faults.Err()
}

// alternativesOf reads the alternatives, all at once: groups may take their time to add up.
func (s *Service) alternativesOf(ctx context.Context, shop shop.WithPlans, picks []AlternativePick,
	b pricing.Book) ([]alternative, error) {
	alternatives, errs := make([]alternative, len(picks)), make([]error, len(picks))
	read := func(planned bool, like *alternative) {
		var all sync.WaitGroup
		for i, k := range picks {
			if (k.Kind == AlternativePlan) == planned {
				all.Go(func() { alternatives[i], errs[i] = s.alternativeOf(ctx, shop, k, b, like) })
			}
		}
		all.Wait()
	}
	read(false, nil) // what was recorded first: plans are laid beside it
	var like *alternative
	for i, k := range picks {
		if like == nil && k.Kind != AlternativePlan && errs[i] == nil {
			like = &alternatives[i]
		}
	}
	read(true, like)
	var faults fault.List
	for i, err := range errs {
		for _, f := range fault.Of(err) {
			f.Field = strings.TrimSuffix(fmt.Sprintf("alternatives[%d].%s", i, f.Field), ".")
			faults = append(faults, f)
		}
		if err != nil && fault.Of(err) == nil {
			return nil, err
		}
		if err == nil && errs[0] == nil && alternatives[i].Piece.ID != alternatives[0].Piece.ID {
			faults.Add(fmt.Sprintf("alternatives[%d]", i),
				fault.New("", "different", "is of "+alternatives[i].Piece.Name+", the first of "+alternatives[0].Piece.Name,
					"Compare ways of cutting one kind of piece."))
		}
	}
	return alternatives, faults.Err()
}

// fraction reads a percentage from 0 to below most as a fraction.
func fraction(pct, limit float64) (*big.Rat, error) {
	if !(pct >= 0 && pct <= limit) {
		return nil, fault.New("", "out_of_range", fmt.Sprintf("must be from 0 to %g", limit), "Enter percent.")
	}
	return big.NewRat(int64(math.Round(pct*100)), 10000), nil
}

// payFor sets what the blocks cost: what is asked, or for plans what was paid for the first recorded alternative.
func (v *DeskView) payFor(alternatives []alternative, block *measure.Money) {
	perKg := block
	for _, x := range alternatives {
		if perKg == nil && x.Pick.Kind != AlternativePlan {
			paid := x.PerKg(x.Purchase)
			perKg = &paid
		}
	}
	for i := range alternatives {
		if perKg != nil && (block != nil || alternatives[i].Pick.Kind == AlternativePlan) {
			alternatives[i].Alternative, alternatives[i].Today = alternatives[i].AtBlockPrice(*perKg),
				alternatives[i].Today.AtBlockPrice(*perKg)
		}
	}
}

// ofCarcass is how much of a piece one carcass, or side of one, has.
func (s *Service) ofCarcass(atlasID string) (mass measure.Mass, of string, ok bool) {
	for _, c := range s.atlas.Carcasses {
		for _, part := range c.Parts {
			if part.Piece == atlasID {
				return measure.Mass(math.Round(c.WeightKg.Typical * part.SharePct / 100 * float64(measure.Kilogram))),
					strings.ToLower(c.Name), true
			}
		}
	}
	return 0, "", false
}

// chain reads the markdown chain; where none is asked for, what does not sell becomes cubes, of which half sells, and
// then trim, at the prices at which the alternatives sell such.
func (v *DeskView) chain(names map[string]value.SoldProduct, alternatives []alternative) ([]value.Markdown, error) {
	var out []value.Markdown
	var faults fault.List
	for i, m := range v.Asked.Chain {
		at := fmt.Sprintf("chain[%d].", i)
		price, ok := v.Book.Prices[m.Key]
		if !ok {
			faults.Add(at+"key", fault.New("", "unknown", "has no price", "Choose a product that has one."))
		}
		if !(m.Sells >= 0 && m.Sells <= 100) {
			faults.Add(at+"sells_pct", fault.New("", "out_of_range", "must be from 0 to 100", "Enter percent."))
		}
		out = append(out,
			value.Markdown{Name: names[m.Key].Name, Key: m.Key, PerKg: price.PerKilogram(), Sells: m.Sells / 100})
	}
	if len(v.Asked.Chain) > 5 {
		faults.Add("chain", fault.New("", "too_many", "is longer than 5 steps", "Leave some out."))
	}
	if err := faults.Err(); err != nil || len(out) > 0 {
		return out, err
	}
	for _, forms := range [][]string{{"dice", "kebab"}, {"trim", "sausage_trim"}} {
		best := ""
		for _, alternative := range alternatives {
			for _, c := range alternative.Cells {
				if price, ok := v.Book.Prices[c.Key]; ok && slices.Contains(forms, alternative.Products[c.Key].Form) {
					if best == "" || price.PerKilogram().Cmp(v.Book.Prices[best].PerKilogram()) < 0 {
						best = c.Key
					}
				}
			}
		}
		if best != "" {
			out = append(out,
				value.Markdown{Name: names[best].Name, Key: best, PerKg: v.Book.Prices[best].PerKilogram(), Sells: 0.5})
		}
	}
	return out, nil
}

// pair works the first alternative against another.
func (v *DeskView) pair(a, b AlternativeView, chain []value.Markdown) DeskPair {
	p := DeskPair{A: a.Alternative, B: b.Alternative, Lead: value.Lead(a.Alternative, b.Alternative),
		ByPart: value.BridgeByPart(a.Alternative, b.Alternative), ByCause: value.BridgeByCause(a.Alternative, b.Alternative)}
	telling := words.Telling{Unit: v.Shop.Unit, Currency: v.Shop.Money}
	p.Sentence = words.Lead(a.Alternative, b.Alternative, telling)
	p.PerPiece = value.LeadPerPiece(a.Alternative, b.Alternative)
	p.PerHour = value.PerExtraHour(a.Alternative, b.Alternative)
	if a.PerCarcassSide != nil && b.PerCarcassSide != nil {
		d := b.PerCarcassSide.Sub(*a.PerCarcassSide)
		p.PerCarcassSide = &d
	}
	rate := b.Rate
	if v.Asked.Today {
		rate = b.RateNow
	}
	p.Turns = value.Turns(a.Alternative, b.Alternative, rate)
	for _, key := range b.Keys() {
		pr := b.Products[key]
		now, at, ok := value.BreakEvenPrice(a.Alternative, b.Alternative, key)
		p.Evens = append(p.Evens, DeskEven{Key: key, Name: pr.Name, Now: now, At: at, OK: ok})
		if !pr.Falls() || now.Cmp(value.Remainder(chain)) <= 0 {
			continue
		}
		own := slices.DeleteFunc(slices.Clone(chain),
			func(m value.Markdown) bool { return m.Key == key || m.PerKg.Cmp(now) >= 0 })
		s := DeskSell{Key: key, Name: pr.Name, Price: now, Chain: own, Rest: b.Currency.Of(value.Remainder(own))}
		s.Fraction, s.OK, s.Always = value.SellThrough(a.Alternative, b.Alternative, key, own)
		p.Sells = append(p.Sells, s)
	}
	if anew := value.Lead(a.Today, b.Today); anew.Cmp(p.Lead) != 0 {
		p.Anew, p.AnewSays = &anew, words.Lead(a.Today, b.Today, telling)
	}
	return p
}

// explain says what the comparison rests on.
func (v *DeskView) explain() {
	market := "the standing prices"
	if v.Book.Market.ID != 0 {
		market = "the prices of “" + v.Book.Market.Name + "”"
		if v.Book.Season != "" {
			market += ", " + v.Book.Season
		}
	}
	for _, s := range v.Alternatives {
		weights := "weighed on the bench"
		if s.Same {
			weights = "of the same piece, its parts as they were weighed"
		} else if s.Planned {
			weights = "estimated from the atlas’ shares"
		} else if s.Pieces > 1 {
			weights = "weighed on the bench, n = " + strconv.Itoa(s.Pieces)
		}
		priced := s.Priced
		switch {
		case v.Sold != nil:
			priced = "prices as it really sold"
		case v.Asked.Today:
			priced = "prices of today"
		}
		v.Basis = append(v.Basis, fmt.Sprintf("%s: weights %s; %s.", s.Name, weights, priced))
	}
	if v.LastPaid != nil {
		v.Basis = append(v.Basis, "The block at "+v.Shop.Money.Text(*v.LastPaid)+" a kilogram, as it was last received.")
	}
	if v.Sold != nil {
		v.Basis = append(v.Basis, fmt.Sprintf("As it really sold: takings from %s to %s by all that went, sold in full, "+
			"for less and thrown away; %d products. What was not sold keeps its price.", v.Sold.First.Format(words.LongDay),
			v.Sold.Last.Format(words.LongDay), len(v.Sold.PerKg)))
	}
	v.Basis = append(v.Basis,
		"Today is "+v.Book.Day.Format(words.LongDay)+" by "+market+
			". All differences are a kilogram of block, so that pieces of different weight can be compared. "+value.CauseOrder)
}
