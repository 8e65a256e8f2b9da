package sales

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"falda/internal/core/demand"
	"falda/internal/core/fault"
	"falda/internal/core/till"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/goods"
	"falda/internal/work/shop"
)

// Service keeps the sales.
type Service struct {
	store *store.Store
	now   func() time.Time
	audit *audit.Log
	shops *shop.Service
	goods *goods.Service
}

// New makes the service. Now is the clock.
func New(s *store.Store, now func() time.Time, log *audit.Log, shops *shop.Service, lying *goods.Service) *Service {
	return &Service{store: s, now: now, audit: log, shops: shops, goods: lying}
}

// Settings are how a shop reckons with its sales.
type Settings struct {
	Packs      float64             `json:"packs"`      // a week that it expects of a product it has not sold yet
	Weeks      float64             `json:"weeks"`      // of sales that this weighs as much as
	HalfLife   float64             `json:"half_life"`  // after how many weeks a week counts half
	Elasticity float64             `json:"elasticity"` // by how many per cent more sells where the price is one lower
	Steps      []float64           `json:"steps"`      // per cent that prices are reduced by
	PackG      float64             `json:"pack_g"`     // of a product that was not weighed in packs yet
	Ways       map[string]till.Way `json:"ways"`       // how files of a heading are read
	Version    int                 `json:"-"`
}

// usual are the settings until a shop sets its own. Common practice, no source.
func usual() Settings {
	return Settings{Packs: 3, Weeks: 0.25, HalfLife: demand.HalfLife, Elasticity: 2, Steps: []float64{10, 20, 30, 50},
		PackG: 400, Ways: map[string]till.Way{}}
}

// belief is what is expected before anything was sold.
func (s Settings) belief() demand.Belief {
	return demand.Belief{Prior: demand.Prior{Packs: s.Packs, Weeks: s.Weeks}, HalfLife: s.HalfLife}
}

// Settings gives the shop's.
func (s *Service) Settings(ctx context.Context) (Settings, error) {
	sh, err := s.shops.Current(ctx)
	if err != nil {
		return Settings{}, err
	}
	return settingsOf(ctx, s.store, sh.ID)
}

func settingsOf(ctx context.Context, st *store.Store, shopID int64) (Settings, error) {
	out := usual()
	row, err := st.SaleSettings(ctx, shopID)
	if errors.Is(err, store.ErrNotFound) {
		return out, nil
	}
	if err == nil {
		err = json.Unmarshal(row.Body, &out)
	}
	out.Version = row.Version
	return out, err
}

// SaveSettings sets them; how files are read stays as it is.
func (s *Service) SaveSettings(ctx context.Context, in Settings) error {
	sh, err := s.shops.Current(ctx)
	if err != nil {
		return err
	}
	var faults fault.List
	span := func(field string, v, low, high float64) {
		if !(v >= low && v <= high) {
			faults.Add(field, fault.New("", "out_of_range", fmt.Sprintf("must be from %g to %g", low, high),
				"Enter a number in between."))
		}
	}
	span("packs", in.Packs, 0.01, 10_000)
	span("weeks", in.Weeks, 0.01, 52)
	span("half_life", in.HalfLife, 0.5, 520)
	span("elasticity", in.Elasticity, 0, 10)
	span("pack_g", in.PackG, 10, 50_000)
	if len(in.Steps) > 20 {
		faults.Add("steps", fault.New("", "too_many", "are more than 20", "Leave some out."))
	}
	for i, v := range in.Steps {
		span("steps", v, 1, 90)
		if i > 0 && v <= in.Steps[i-1] {
			faults.Add("steps", fault.New("", "order", "must rise", "Write them from the least to the most."))
		}
	}
	if err := faults.Err(); err != nil {
		return err
	}
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		was, err := settingsOf(ctx, tx, sh.ID)
		if err != nil {
			return audit.Change{}, err
		}
		in.Ways = was.Ways
		facts := map[string]any{"packs": in.Packs, "weeks": in.Weeks, "half_life": in.HalfLife,
			"elasticity": in.Elasticity, "steps": in.Steps, "pack_g": in.PackG}
		return audit.Change{Action: "sales.set", Became: facts}, save(ctx, tx, sh.ID, in)
	})
}

func save(ctx context.Context, tx *store.Store, shopID int64, in Settings) error {
	body, err := json.Marshal(in)
	if err != nil {
		return err
	}
	return tx.SaveSaleSettings(ctx, store.SaleSettings{ShopID: shopID, Body: body, Version: in.Version})
}
