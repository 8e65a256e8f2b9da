package labels

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/label"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/goods"
	"falda/internal/work/shop"
)

// Service makes labels.
type Service struct {
	store *store.Store
	atlas *atlas.Atlas
	now   func() time.Time
	audit *audit.Log
	shops *shop.Service
	goods *goods.Service
}

// New makes the service. Now is the clock.
func New(s *store.Store, a *atlas.Atlas, now func() time.Time, log *audit.Log, shops *shop.Service,
	lying *goods.Service) *Service {
	return &Service{store: s, atlas: a, now: now, audit: log, shops: shops, goods: lying}
}

// Settings are what a shop's labels say beside what is on the pack.
type Settings struct {
	Packer   string  `json:"packer"` // name and address
	Country  string  `json:"country"`
	Plant    string  `json:"plant"`  // approval number of the cutting plant
	Prefix   string  `json:"prefix"` // of the shop's own numbers, 20 to 29
	ByWeight bool    `json:"by_weight"`
	Wide     float64 `json:"wide"` // of a label, in millimetres
	High     float64 `json:"high"`
	Version  int     `json:"-"`
}

// usual are the settings until a shop sets its own.
var usual = Settings{Prefix: "21", Wide: 105, High: 74}

// Settings gives the shop's.
func (s *Service) Settings(ctx context.Context) (Settings, error) {
	sh, err := s.shops.Current(ctx)
	if err != nil {
		return Settings{}, err
	}
	return SettingsOf(ctx, s.store, sh)
}

// SettingsOf gives a shop's.
func SettingsOf(ctx context.Context, st *store.Store, sh shop.Shop) (Settings, error) {
	row, err := st.LabelSettings(ctx, sh.ID)
	out := usual
	if errors.Is(err, store.ErrNotFound) {
		out.Packer = sh.Name
		return out, nil
	}
	if err == nil {
		err = json.Unmarshal(row.Body, &out)
	}
	out.Version = row.Version
	return out, err
}

// SaveSettings sets them.
func (s *Service) SaveSettings(ctx context.Context, in Settings) (Settings, error) {
	sh, err := s.shops.Current(ctx)
	if err != nil {
		return in, err
	}
	var faults fault.List
	for _, x := range []struct {
		field string
		text  *string
		max   int
	}{{"packer", &in.Packer, 120}, {"country", &in.Country, 40}, {"plant", &in.Plant, 20}} {
		*x.text = strings.Join(strings.Fields(*x.text), " ")
		faults.Add(x.field, fault.Text(*x.text, x.max, false))
	}
	if len(in.Prefix) != 2 || in.Prefix[0] != '2' || in.Prefix[1] < '0' || in.Prefix[1] > '9' {
		faults.Add("prefix", fault.New("", "out_of_range", "must be from 20 to 29", "Take one that your till knows."))
	}
	for _, side := range []struct {
		field string
		mm    float64
	}{{"wide_mm", in.Wide}, {"high_mm", in.High}} {
		if !(side.mm >= minSide && side.mm <= maxSide) {
			faults.Add(side.field, fault.New("", "out_of_range", fmt.Sprintf("must be from %d to %d", minSide, maxSide),
				"Measure a label."))
		}
	}
	if err := faults.Err(); err != nil {
		return in, err
	}
	body, err := json.Marshal(in)
	if err != nil {
		return in, err
	}
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		return audit.Change{Action: "labels.set", Became: in},
			tx.SaveLabelSettings(ctx, store.LabelSettings{ShopID: sh.ID, Body: body, Version: in.Version})
	})
	if err != nil {
		return in, err
	}
	return SettingsOf(ctx, s.store, sh)
}

// Sides of a label that are taken, in millimetres.
const minSide, maxSide = 40, 190

// Code is the numbers of a product.
type Code struct {
	Key, Name, Species string
	Item, GTIN         string // empty where it has none yet
}

// Codes lists the products that lie in stock or have a number, with their numbers.
func (s *Service) Codes(ctx context.Context) ([]Code, error) {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return nil, err
	}
	products, err := s.goods.Products(ctx, sh)
	if err != nil {
		return nil, err
	}
	codes, err := s.store.ProductCodes(ctx, sh.ID)
	if err != nil {
		return nil, err
	}
	there, err := s.goods.Stock(ctx)
	if err != nil {
		return nil, err
	}
	keys := []string{}
	for key := range codes {
		keys = append(keys, key)
	}
	for _, t := range there.Tubs {
		if !slices.Contains(keys, t.Key) {
			keys = append(keys, t.Key)
		}
	}
	out := make([]Code, 0, len(keys))
	for _, key := range keys {
		p := products[key]
		out = append(out, Code{Key: key, Name: p.Name, Species: p.Species, Item: codes[key].Item, GTIN: codes[key].GTIN})
	}
	slices.SortFunc(out, func(a, b Code) int { return strings.Compare(a.Name+a.Species, b.Name+b.Species) })
	return out, nil
}

// SetCode gives a product its numbers: five digits of the shop's own, and its article's where it has one.
func (s *Service) SetCode(ctx context.Context, key, item, gtin string) error {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return err
	}
	products, err := s.goods.Products(ctx, sh)
	if err != nil {
		return err
	}
	var faults fault.List
	if _, ok := products[key]; !ok {
		return store.ErrNotFound
	}
	if len(item) != 5 || strings.Trim(item, "0123456789") != "" {
		faults.Add("item", fault.New("", "not_digits", "must be five digits", "Fill it up with zeros in front."))
	}
	if gtin != "" {
		_, err := label.GTIN14(gtin)
		faults.Add("gtin", err)
	}
	if err := faults.Err(); err != nil {
		return err
	}
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		err := tx.SetProductCode(ctx, store.ProductCode{ShopID: sh.ID, ProductKey: key, Item: item, GTIN: gtin})
		if errors.Is(err, store.ErrDuplicate) {
			err = fault.New("item", "taken", "is another product's number", "Take another.")
		}
		return audit.Change{Action: "product.numbered", Subject: key, SubjectName: products[key].Name,
			Became: map[string]any{"item": item, "gtin": gtin}}, err
	})
}

// firstItem is where a shop's own numbers begin that nobody chose.
const firstItem = 1001

// codeOf gives the numbers of a product; where it has none it gets the next that is free.
func (s *Service) codeOf(ctx context.Context, shopID int64, key string) (out store.ProductCode, err error) {
	codes, err := s.store.ProductCodes(ctx, shopID)
	if err != nil {
		return out, err
	}
	if c, ok := codes[key]; ok {
		return c, nil
	}
	err = s.store.Tx(ctx, func(tx *store.Store) error {
		if _, err := tx.LockShop(ctx, shopID); err != nil { // numbers follow each other
			return err
		}
		codes, err := tx.ProductCodes(ctx, shopID)
		if err != nil {
			return err
		}
		if c, ok := codes[key]; ok {
			out = c
			return nil
		}
		taken := map[string]bool{}
		for _, c := range codes {
			taken[c.Item] = true
		}
		n := firstItem
		for taken[fmt.Sprintf("%05d", n)] {
			n++
		}
		out = store.ProductCode{ShopID: shopID, ProductKey: key, Item: fmt.Sprintf("%05d", n)}
		return tx.SetProductCode(ctx, out)
	})
	return out, err
}
