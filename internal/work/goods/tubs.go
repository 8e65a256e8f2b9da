package goods

import (
	"cmp"
	"context"
	"fmt"
	"math/big"
	"slices"
	"strings"
	"time"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/trim"
	"falda/internal/store"
	"falda/internal/work/shop"
)

// TubID names a tub: a product of a day in a place. What could not be minced any more when it was cut lies apart from
// what could.
type TubID struct {
	Key    string
	MadeOn time.Time
	Place  string
	Old    bool
}

// String writes it as requests name it.
func (t TubID) String() string {
	id := t.Key + "~" + t.MadeOn.Format(time.DateOnly) + "~" + t.Place
	if t.Old {
		id += "~old"
	}
	return id
}

// tubOf is the tub that goods lie in.
func tubOf(g store.Goods) TubID {
	return TubID{g.ProductKey, g.MadeOn, g.Place, g.MinceUntil != nil && g.MinceUntil.Before(g.MadeOn)}
}

// ReadTubID reads a tub's id; ok is false for what is none.
func ReadTubID(text string) (t TubID, ok bool) {
	text, old := strings.CutSuffix(text, "~old")
	parts := strings.Split(text, "~")
	if len(parts) != 3 || parts[0] == "" {
		return t, false
	}
	day, err := time.Parse(time.DateOnly, parts[1])
	return TubID{parts[0], day, parts[2], old}, err == nil
}

// Tub is what was cut or made of one product on one day and lies in one place.
type Tub struct {
	TubID
	Name, Species, Form, Kind string
	Left                      measure.Mass
	UseBy                     time.Time  // the earliest of what is in it
	MinceUntil                *time.Time // likewise; nil of what is no trim
	Slaughtered               [2]*time.Time
	Atlas                     *trim.Figures // by the atlas; nil of bone and of what is no meat
	Figures                   *trim.Figures // with the house's own fat tests
	Tests                     trim.Correction
	Price                     *measure.Price // of the day, in full
	Sells                     *measure.Price // with what it is reduced by
	Goods                     []store.Goods
	Off                       float64 // per cent that it is sold for less
	LotNumber                 string  // of something made
}

// Less gives what is asked for a price that is reduced by per cent, as it is written on a ticket.
func Less(sh shop.Shop, p *measure.Price, off float64) *measure.Price {
	if p == nil || off == 0 {
		return p
	}
	left := new(big.Rat).SetFloat64(1 - off/100)
	return &measure.Price{Amount: sh.Money.Round(p.Amount.Times(left)), Per: p.Per}
}

// Stock is what a shop has lying about.
type Stock struct {
	From  *time.Time // the day since which it is kept; nil: not yet
	Today time.Time
	Tubs  []Tub // first the one whose use-by comes first
}

// Stock lists the tubs of the shop that hold anything.
func (s *Service) Stock(ctx context.Context) (Stock, error) {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return Stock{}, err
	}
	out := Stock{From: sh.StockFrom, Today: sh.Day(s.now())}
	if sh.StockFrom == nil {
		return out, nil
	}
	list, err := s.store.GoodsThere(ctx, sh.ID)
	if err != nil {
		return out, err
	}
	out.Tubs, err = s.Tubs(ctx, sh, list)
	out.Tubs = slices.DeleteFunc(out.Tubs, func(t Tub) bool { // less than the scale can show
		return t.Left > -measure.Mass(sh.DivisionMg) && t.Left < measure.Mass(sh.DivisionMg)
	})
	return out, err
}

// Tubs puts goods together by tub.
func (s *Service) Tubs(ctx context.Context, sh shop.WithPlans, list []store.Goods) ([]Tub, error) {
	names, err := s.names(ctx, sh, list)
	if err != nil {
		return nil, err
	}
	corrections, err := s.Corrections(ctx, sh.ID)
	if err != nil {
		return nil, err
	}
	at := map[string]int{}
	var out []Tub
	for _, g := range list {
		id := tubOf(g)
		i, ok := at[id.String()]
		if !ok {
			i = len(out)
			at[id.String()] = i
			out = append(out, names.of(Tub{TubID: id, Kind: g.Kind, UseBy: g.UseBy, Tests: corrections[g.ProductKey]}, g))
		}
		out[i].put(g)
	}
	for i := range out {
		out[i].settle()
		out[i].Sells = Less(sh.Shop, out[i].Price, out[i].Off)
	}
	slices.SortStableFunc(out, func(a, b Tub) int {
		return cmp.Or(a.UseBy.Compare(b.UseBy), cmp.Compare(a.Name, b.Name), cmp.Compare(a.Place, b.Place))
	})
	return out, nil
}

// put adds goods to a tub.
func (t *Tub) put(g store.Goods) {
	t.Goods = append(t.Goods, g)
	t.Left += measure.Mass(g.LeftMg)
	t.Off = max(t.Off, g.OffPct)
	if g.UseBy.Before(t.UseBy) {
		t.UseBy = g.UseBy
	}
	if m := g.MinceUntil; m != nil && (t.MinceUntil == nil || m.Before(*t.MinceUntil)) {
		t.MinceUntil = m
	}
	if d := g.SlaughteredOn; d != nil {
		if t.Slaughtered[0] == nil || d.Before(*t.Slaughtered[0]) {
			t.Slaughtered[0] = d
		}
		if t.Slaughtered[1] == nil || d.After(*t.Slaughtered[1]) {
			t.Slaughtered[1] = d
		}
	}
}

// FiguresOf is what goods of the tub are like, with the house's own fat tests where they are trim; nil of what has
// none.
func (t Tub) FiguresOf(g store.Goods) *trim.Figures {
	if g.LeanPct == nil || g.ConnectivePct == nil {
		return nil
	}
	f := trim.Figures{Lean: *g.LeanPct, Connective: *g.ConnectivePct}
	if g.Kind == store.GoodsStream {
		f = t.Tests.With(f)
	}
	return &f
}

// settle works out what the whole tub is like: the mean of its goods by what is left of each.
func (t *Tub) settle() {
	var f trim.Figures
	total := 0.0
	for _, g := range t.Goods {
		if g.LeanPct == nil || g.ConnectivePct == nil || g.LeftMg <= 0 {
			continue
		}
		w := float64(g.LeftMg)
		total += w
		f.Lean += w * *g.LeanPct
		f.Connective += w * *g.ConnectivePct
	}
	if total <= 0 {
		return
	}
	f.Lean, f.Connective = f.Lean/total, f.Connective/total
	t.Atlas = &f
	with := f
	if t.Kind == store.GoodsStream {
		with = t.Tests.With(f)
	}
	t.Figures = &with
}

// naming knows what goods are called and cost.
type naming struct {
	names, species, forms map[string]string
	prices                map[string]measure.Price
	made                  map[int64]store.Making
}

func (s *Service) names(ctx context.Context, sh shop.WithPlans, list []store.Goods) (naming, error) {
	n := naming{names: map[string]string{}, species: map[string]string{}, forms: map[string]string{},
		made: map[int64]store.Making{}}
	for _, p := range s.prices.Products(sh, "") {
		n.names[p.Key], n.species[p.Key], n.forms[p.Key] = p.Name, p.Species, p.Form
	}
	book, err := s.prices.BookOn(ctx, sh.Shop, "", sh.Day(s.now()))
	if err != nil {
		return n, err
	}
	n.prices = book.Prices
	for key, price := range book.ByUse { // a tub is worth what it sells for; what it becomes follows from that
		if n.prices[key] = price; price.Per == "" {
			delete(n.prices, key)
		}
	}
	recipes, err := s.store.Recipes(ctx, sh.ID)
	if err != nil {
		return n, err
	}
	for _, r := range recipes {
		key := MadeKey(r.PublicID)
		n.names[key] = r.Name
		if r.Price != nil {
			if price, err := sh.Price(*r.Price, "kg"); err == nil {
				n.prices[key] = price
			}
		}
	}
	var ids []int64
	for _, g := range list {
		if g.MakingID != nil {
			ids = append(ids, *g.MakingID)
		}
	}
	makings, err := s.store.MakingsOf(ctx, sh.ID, ids)
	for _, m := range makings {
		n.made[m.ID] = m
	}
	return n, err
}

// Product is what goods are sold as.
type Product struct {
	Key, Name, Species, Form string
	Price                    *measure.Price // of the day; nil where there is none
}

// Products gives all that the shop can sell, by key: what its plans cut, and what its recipes make.
func (s *Service) Products(ctx context.Context, sh shop.WithPlans) (map[string]Product, error) {
	n, err := s.names(ctx, sh, nil)
	if err != nil {
		return nil, err
	}
	out := make(map[string]Product, len(n.names))
	for key, name := range n.names {
		p := Product{Key: key, Name: name, Species: n.species[key], Form: n.forms[key]}
		if price, ok := n.prices[key]; ok && price.Per != "" {
			p.Price = &price
		}
		out[key] = p
	}
	return out, nil
}

// MadeKey is the product key of what a recipe makes.
func MadeKey(recipe string) string { return "made." + recipe }

func (n naming) of(t Tub, g store.Goods) Tub {
	t.Name, t.Species, t.Form = cmp.Or(n.names[t.Key], t.Key), n.species[t.Key], n.forms[t.Key]
	if price, ok := n.prices[t.Key]; ok {
		t.Price = &price
	}
	if g.MakingID != nil {
		t.LotNumber = n.made[*g.MakingID].LotNumber
	}
	return t
}

// day reads a day between two.
func (s *Service) day(field, text string, first, last time.Time) (time.Time, error) {
	day, err := time.Parse(time.DateOnly, text)
	if err != nil {
		return day, fault.New(field, "not_a_day", fault.Quote(text)+" is not a day", "Write it as 2026-05-15.")
	}
	if day.Before(first) || day.After(last) {
		return day, fault.New(field, "out_of_range", fmt.Sprintf("must be from %s to %s", first.Format(time.DateOnly),
			last.Format(time.DateOnly)), "Choose a day in between.")
	}
	return day, nil
}
