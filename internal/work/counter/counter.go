// Package counter holds where a shop sells: how large its counter is, what stands in it today, and the page that hangs
// above it.
package counter

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"slices"
	"time"

	"falda/internal/core/atlas"
	core "falda/internal/core/counter"
	"falda/internal/core/demand"
	"falda/internal/core/measure"
	"falda/internal/secret"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/goods"
	"falda/internal/work/labels"
	"falda/internal/work/sales"
	"falda/internal/work/shop"
)

// Service keeps the counter.
type Service struct {
	store  *store.Store
	atlas  *atlas.Atlas
	now    func() time.Time
	audit  *audit.Log
	shops  *shop.Service
	goods  *goods.Service
	labels *labels.Service
	sales  *sales.Service
}

// New makes the service. Now is the clock.
func New(s *store.Store, a *atlas.Atlas, now func() time.Time, log *audit.Log, shops *shop.Service,
	lying *goods.Service, tickets *labels.Service, sold *sales.Service) *Service {
	return &Service{store: s, atlas: a, now: now, audit: log, shops: shops, goods: lying, labels: tickets, sales: sold}
}

// View is a counter as it should stand today.
type View struct {
	Room    core.Room
	Version int
	Screen  bool // a page hangs above it
	Layout  core.Layout
	Menu    map[string]string // what the shop calls things, by product key
	At      map[string]measure.Mass
	Prices  map[string]measure.Price
}

// read gives the shop's counter; a usual one where it has said nothing.
func (s *Service) read(ctx context.Context, shopID int64) (store.Counter, core.Room, error) {
	room := core.Usual()
	row, err := s.store.Counter(ctx, shopID)
	if errors.Is(err, store.ErrNotFound) {
		return store.Counter{ShopID: shopID}, room, nil
	}
	if err == nil {
		err = json.Unmarshal(row.Body, &room)
	}
	return row, room, err
}

// Counter lays out what lies in the cold room and at the counter.
func (s *Service) Counter(ctx context.Context) (View, error) {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return View{}, err
	}
	row, room, err := s.read(ctx, sh.ID)
	if err != nil {
		return View{}, err
	}
	out := View{Room: room, Version: row.Version, Screen: row.Secret != nil, Menu: map[string]string{},
		At: map[string]measure.Mass{}, Prices: map[string]measure.Price{}}
	called, err := labels.CalledOn(ctx, s.store, sh.Shop, sh.Day(s.now()))
	if err != nil {
		return out, err
	}
	items, err := s.items(ctx, sh, &out)
	if err != nil {
		return out, err
	}
	for _, i := range items {
		out.Menu[i.Key] = called[i.Key].Name
		if p := called[i.Key].Price; p != nil {
			out.Prices[i.Key] = *p
		}
	}
	out.Layout, err = core.Lay(room, items)
	return out, err
}

// items are the products that could stand in it: of what is not frozen and not past its use-by.
func (s *Service) items(ctx context.Context, sh shop.WithPlans, v *View) ([]core.Item, error) {
	stock, err := s.goods.Stock(ctx)
	if err != nil {
		return nil, err
	}
	sold, err := s.sales.Selling(ctx)
	if err != nil {
		return nil, err
	}
	bony := s.bony()
	var out []core.Item
	for _, t := range stock.Tubs {
		if !forSale(t, stock.Today) {
			continue
		}
		if t.Place == "counter" {
			v.At[t.Key] += t.Left
		}
		i := slices.IndexFunc(out, func(x core.Item) bool { return x.Key == t.Key })
		if i < 0 {
			i = len(out)
			v.Prices[t.Key] = *t.Sells
			item := core.Item{Key: t.Key, Name: t.Name, Species: t.Species, Form: t.Form, Bony: bony[t.Key],
				PerKg: t.Sells.PerKilogram().Float()}
			holds, err := s.labels.Allergens(ctx, sh, t)
			if err != nil {
				return nil, err
			}
			item.Allergen = len(holds) > 0
			p := sales.Product{Outlook: sold.Unsold}
			if at := slices.IndexFunc(sold.Products, func(p sales.Product) bool { return p.Key == t.Key }); at >= 0 {
				p = sold.Products[at]
			}
			item.DayKg = p.Kg(p.Weekday[demand.Weekday(sold.Today)].Mean).Grams() / 1000
			out = append(out, item)
		}
		out[i].Kg += t.Left.Grams() / 1000
	}
	return out, nil
}

// forSale says whether what is in a tub can stand in a counter.
func forSale(t goods.Tub, today time.Time) bool {
	return t.Kind != store.GoodsStream && t.Place != "frozen" && !t.UseBy.Before(today) && t.Left > 0 && t.Sells != nil
}

// bony says which products hold bone, by key.
func (s *Service) bony() map[string]bool {
	out := map[string]bool{}
	for _, p := range s.atlas.Pieces {
		for _, pl := range p.Plans {
			for _, pr := range pl.Products {
				for part := range pr.From {
					if x, ok := p.Part(part); ok && x.Kind == atlas.KindBone {
						out[p.Key(pr)] = true
					}
				}
			}
		}
	}
	return out
}

// Save sets how large the counter is, and by which rules it is laid out.
func (s *Service) Save(ctx context.Context, room core.Room, version int) error {
	sh, err := s.shops.Current(ctx)
	if err != nil {
		return err
	}
	if err := room.Check(); err != nil {
		return err
	}
	return s.set(ctx, sh.ID, version, "counter.set", room, func(row *store.Counter) (err error) {
		row.Body, err = json.Marshal(room)
		return err
	})
}

// set changes the counter where its version is still the given one.
func (s *Service) set(ctx context.Context, shopID int64, version int, action string, became any,
	change func(*store.Counter) error) error {
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		row, room, err := s.read(ctx, shopID)
		if err != nil {
			return audit.Change{}, err
		}
		if row.Version != version {
			return audit.Change{}, store.ErrConflict
		}
		if row.Body == nil {
			if row.Body, err = json.Marshal(room); err != nil {
				return audit.Change{}, err
			}
		}
		if err := change(&row); err != nil {
			return audit.Change{}, err
		}
		return audit.Change{Action: action, Became: became}, tx.SaveCounter(ctx, row)
	})
}

// Hang makes a link that opens the page above the counter, in the place of one there was; it is given here and never
// again. On false takes it down.
func (s *Service) Hang(ctx context.Context, on bool, version int) (link string, err error) {
	sh, err := s.shops.Current(ctx)
	if err != nil {
		return "", err
	}
	var digest *string
	if on {
		link = secret.NewToken("fc_")
		d := secret.Digest(link)
		digest = &d
	}
	err = s.set(ctx, sh.ID, version, "counter.screen", map[string]any{"on": on}, func(row *store.Counter) error {
		row.Secret = digest
		return nil
	})
	return link, err
}

// Above is what hangs above a counter: what there is, and nothing else of the shop.
type Above struct {
	Shop    shop.Shop
	Tickets []labels.Ticket
	Species map[string]string
}

// Above gives the page of a link to whoever has it: what lies in the counter, or where nothing does what could.
func (s *Service) Above(ctx context.Context, link string) (Above, context.Context, error) {
	_, row, err := s.store.CounterBy(ctx, secret.Digest(link))
	if err != nil {
		return Above{}, ctx, err
	}
	ctx = audit.As(ctx, audit.Caller{ShopID: row.ID, Shop: row.PublicID, Via: audit.ViaProgram})
	out := Above{Species: map[string]string{}}
	if out.Shop, err = s.shops.Current(ctx); err != nil {
		return out, ctx, err
	}
	stock, err := s.goods.Stock(ctx)
	if err != nil {
		return out, ctx, err
	}
	there := slices.DeleteFunc(stock.Tubs, func(t goods.Tub) bool {
		return !forSale(t, stock.Today)
	})
	if slices.ContainsFunc(there, func(t goods.Tub) bool { return t.Place == "counter" }) {
		there = slices.DeleteFunc(there, func(t goods.Tub) bool { return t.Place != "counter" })
	}
	slices.SortStableFunc(there, func(a, b goods.Tub) int {
		return cmp.Or(cmp.Compare(a.Species, b.Species), cmp.Compare(a.Form, b.Form), cmp.Compare(a.Name, b.Name))
	})
	var keys []string
	for _, t := range there {
		if !slices.Contains(keys, t.Key) {
			keys = append(keys, t.Key)
		}
		out.Species[t.Key] = t.Species
	}
	out.Tickets, err = s.labels.Tickets(ctx, keys)
	return out, ctx, err
}
