package labels

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"math/big"
	"slices"
	"strings"
	"time"

	"falda/internal/core/fault"
	"falda/internal/core/label"
	"falda/internal/core/measure"
	"falda/internal/core/recipe"
	"falda/internal/core/trim"
	"falda/internal/core/words"
	"falda/internal/store"
	"falda/internal/work/goods"
	"falda/internal/work/shop"
)

// PackAsk is a pack that is to be labelled.
type PackAsk struct {
	Tub    string
	Weight string // net
	Unit   string
	Places map[string]string // sentences on how to keep it, by place; nil for the usual ones
}

// Pack is what stands on its label.
type Pack struct {
	Settings    Settings
	Tub         goods.Tub
	Menu        string // the shop's own name; empty where it has none
	Net         measure.Mass
	PricePerKg  *measure.Price
	Price       *measure.Money
	Lot         string
	UseBy       time.Time
	Ingredients string
	Allergens   []string
	Origin      []string
	Missing     []string // what the law asks for and nobody said
	Storage     string
	Notes       []string
	Item        string
	EAN         string // of the shop's own scale
	GS1         string // empty where the product has no number of its article
	Atlas       string // piece and product whose cooking card tells how to cook it; empty where there is none
	Product     string
}

// Pack works out the label of a pack that is taken from a tub.
func (s *Service) Pack(ctx context.Context, in PackAsk) (Pack, error) {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return Pack{}, err
	}
	var faults fault.List
	net, err := measure.ParseMass(in.Weight, measure.Unit(in.Unit))
	if err == nil && (net < measure.Gram || net >= 1000*measure.Kilogram) {
		err = fault.New("", "out_of_range", "must be from 1 g to 1,000 kg", "Weigh the pack.")
	}
	faults.Add("weight", err)
	there, err := s.goods.Stock(ctx)
	if err != nil {
		return Pack{}, err
	}
	at := slices.IndexFunc(there.Tubs, func(t goods.Tub) bool { return t.String() == in.Tub })
	if at < 0 {
		faults.Add("tub", fault.New("", "unknown", "is no tub of this shop", "Look at the list again."))
	}
	if err := faults.Err(); err != nil {
		return Pack{}, err
	}
	p := Pack{Tub: there.Tubs[at], Net: net}
	if p.Settings, err = SettingsOf(ctx, s.store, sh.Shop); err != nil {
		return p, err
	}
	code, err := s.codeOf(ctx, sh.ID, p.Tub.Key)
	if err != nil {
		return p, err
	}
	p.Item, p.UseBy, p.Storage = code.Item, p.Tub.UseBy, storage(p.Tub)
	p.Lot = cmp.Or(p.Tub.LotNumber, p.Tub.MadeOn.Format("060102")+code.Item)
	p.find(s, sh)
	if err := s.origin(ctx, sh, &p); err != nil {
		return p, err
	}
	if err := s.contents(ctx, sh, &p); err != nil {
		return p, err
	}
	called, err := CalledOn(ctx, s.store, sh.Shop, there.Today)
	if err != nil {
		return p, err
	}
	c := called[p.Tub.Key]
	p.Menu, p.PricePerKg = c.Name, p.Tub.Sells
	if c.Price != nil {
		p.PricePerKg = goods.Less(sh.Shop, c.Price, p.Tub.Off)
	}
	if p.Tub.Off > 0 {
		p.Notes = append(p.Notes, "Reduced.")
	}
	return p, p.codes(sh, code)
}

// Allergens names those of what is in a tub; none of what was only cut.
func (s *Service) Allergens(ctx context.Context, sh shop.WithPlans, t goods.Tub) ([]string, error) {
	p := Pack{Tub: t}
	err := s.contents(ctx, sh, &p)
	return p.Allergens, err
}

// storage is how a pack is kept: by place, and colder what is minced. Regulation (EC) No 853/2004 for the temperatures
// of the trade, the kitchen's lower; from memory.
func storage(t goods.Tub) string {
	switch {
	case t.Place == "frozen":
		return "Keep frozen at −18 °C or below. Once thawed, do not freeze again."
	case t.Kind != store.GoodsProduct:
		return "Keep refrigerated at 2 °C or below."
	}
	return "Keep refrigerated at 4 °C or below."
}

// find looks for the piece and product of the atlas that the tub holds.
func (p *Pack) find(s *Service, sh shop.WithPlans) {
	for _, piece := range s.atlas.Pieces {
		for _, pl := range piece.Plans {
			for _, pr := range pl.Products {
				if p.Tub.Kind == store.GoodsProduct && piece.Key(pr) == p.Tub.Key {
					p.Atlas, p.Product = piece.ID, pr.ID
					return
				}
			}
		}
	}
}

// origin says where the animals came from whose meat is in the tub.
func (s *Service) origin(ctx context.Context, sh shop.WithPlans, p *Pack) error {
	var ids []int64
	makings := map[string]bool{}
	for _, g := range p.Tub.Goods {
		ids = append(ids, g.ID)
	}
	origins, err := s.store.Origins(ctx, sh.ID, ids)
	if err != nil {
		return err
	}
	if p.Tub.Kind == store.GoodsMade {
		made, err := s.store.MakingsOf(ctx, sh.ID, makingsIn(p.Tub.Goods))
		if err != nil {
			return err
		}
		for _, m := range made {
			if makings[m.PublicID] {
				continue
			}
			makings[m.PublicID] = true
			steps, err := s.goods.Trace(ctx, m.PublicID)
			if err != nil {
				return err
			}
			for _, x := range steps {
				if x.Origin != nil {
					origins = append(origins, *x.Origin)
				}
				if p.Tub.Species == "" {
					p.Tub.Species = x.Tub.Species
				}
			}
		}
	}
	var from []label.Origin
	for _, o := range origins {
		one := label.Origin{Born: o.BornIn, Reared: o.RearedIn, Slaughtered: o.SlaughteredIn, Plant: o.Plant}
		if !slices.Contains(from, one) {
			from = append(from, one)
		}
	}
	p.Origin, p.Missing = label.OriginLines(p.Tub.Species, from,
		label.Cutting{Country: p.Settings.Country, Plant: p.Settings.Plant}, p.Lot)
	return nil
}

func makingsIn(list []store.Goods) []int64 {
	var out []int64
	for _, g := range list {
		if g.MakingID != nil && !slices.Contains(out, *g.MakingID) {
			out = append(out, *g.MakingID)
		}
	}
	return out
}

// contents names what is in the pack beside meat, allergens in capitals: of something made by its recipe.
func (s *Service) contents(ctx context.Context, sh shop.WithPlans, p *Pack) error {
	if p.Tub.Kind != store.GoodsMade {
		return nil
	}
	made, err := s.store.MakingsOf(ctx, sh.ID, makingsIn(p.Tub.Goods))
	if err != nil || len(made) == 0 {
		return err
	}
	var r recipe.Recipe
	if err := json.Unmarshal(made[0].Body, &r); err != nil {
		return err
	}
	book, err := s.shops.Book(ctx, sh.Shop)
	if err != nil {
		return err
	}
	scaled := r.For(big.NewRat(1, 1), book)
	var parts []string
	for _, x := range scaled.Label(cmp.Or(words.Capitalised(p.Tub.Species), "Meat")) {
		text := x.Name
		if x.Allergen {
			text = strings.ToUpper(text)
		}
		if x.Meat {
			text += fmt.Sprintf(" (%.0f %%)", x.Pct)
		}
		parts = append(parts, text)
	}
	if len(parts) > 1 {
		p.Ingredients = strings.Join(parts, ", ")
	}
	for _, a := range scaled.Allergens() {
		p.Allergens = append(p.Allergens, a.Name)
	}
	if len(p.Allergens) > 0 {
		p.Ingredients += ". Contains: " + strings.ToUpper(strings.Join(p.Allergens, ", "))
	}
	if c, ok := trim.FindCategory(r.Category); ok && c.Market == "eu" {
		p.Notes = append(p.Notes,
			fmt.Sprintf("Fat content under %.0f %%, collagen to meat protein under %.0f %%.", c.FatMaxPct,
				c.CollagenMaxPct))
	}
	p.Notes = append(p.Notes, "Cook through before eating: 71 °C in the middle.")
	return nil
}

// codes works out price and codes.
func (p *Pack) codes(sh shop.WithPlans, code store.ProductCode) error {
	in := label.InStore{Prefix: p.Settings.Prefix, Item: code.Item}
	grams := int((p.Net + measure.Gram/2) / measure.Gram)
	if p.PricePerKg != nil {
		price := sh.Money.Round(p.PricePerKg.Of(p.Net))
		p.Price = &price
	}
	inside := p.Price != nil && !p.Settings.ByWeight && p.Price.Rat().Cmp(mostInside(sh.Money.Places())) <= 0
	if inside {
		in.Price = p.Price.Rat()
	} else {
		in.WeightG = &grams
	}
	var err error
	if in.WeightG == nil || grams <= 99_999 {
		if p.EAN, err = in.EAN13(sh.Money.Places()); err != nil {
			return fault.Under("code", err)
		}
	}
	if code.GTIN == "" {
		return nil
	}
	elements, err := label.Pack{GTIN: code.GTIN, WeightG: grams, UseBy: p.UseBy, Lot: p.Lot}.Elements()
	p.GS1 = label.Text(elements)
	return fault.Under("code", err)
}

// mostInside is the highest price that five digits of the smallest coin hold.
func mostInside(places int) *big.Rat {
	coins := new(big.Int).Exp(big.NewInt(10), big.NewInt(int64(places)), nil)
	return new(big.Rat).SetFrac(big.NewInt(99_999), coins)
}
