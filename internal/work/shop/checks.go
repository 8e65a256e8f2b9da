package shop

import (
	"context"
	"fmt"
	"time"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/store"
	"falda/internal/work/audit"
)

// ScaleState is when a bench's scale was checked last, and whether it is to be checked now.
type ScaleState struct {
	Last *store.ScaleCheckRow // nil where it never was
	Due  bool
}

// NewScaleCheck is a test weight on a scale and what it showed, in grams.
type NewScaleCheck struct {
	Weight, Shown float64
	Source        string // scale or typed
	Note          string
}

// checksShown is how many checks of a bench are listed.
const checksShown = 100

// CheckScale logs a test weight on a bench's scale. A scale that is off is logged like one that fits.
func (s *Service) CheckScale(ctx context.Context, benchID string, in NewScaleCheck) (row store.ScaleCheckRow,
	err error) {
	shop, err := s.Current(ctx)
	if err != nil {
		return row, err
	}
	who, err := audit.Who(ctx)
	if err != nil {
		return row, err
	}
	var faults fault.List
	weight, err := measure.FromGrams(in.Weight)
	if err != nil || weight < 10*measure.Gram || weight > 100*measure.Kilogram {
		faults.Add("weight_g", fault.New("", "out_of_range", "must be from 10 g to 100 kg",
			"Enter what is written on the test weight."))
	}
	shown, err := measure.FromGrams(in.Shown)
	if err != nil || shown < 0 || shown > 200*measure.Kilogram {
		faults.Add("shown_g", fault.New("", "out_of_range", "must be from 0 g to 200 kg", "Enter what the scale shows."))
	}
	if in.Source != "scale" && in.Source != "typed" {
		faults.Add("source", fault.New("", "unknown", fault.Quote(in.Source)+" is no source", "Use scale or typed."))
	}
	faults.Add("note", fault.Text(in.Note, 200, false))
	if err := faults.Err(); err != nil {
		return row, err
	}
	check := measure.CheckScale(weight, shown, measure.Mass(shop.DivisionMg))
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		bench, err := tx.Bench(ctx, shop.ID, benchID)
		if err != nil {
			return audit.Change{}, err
		}
		row = store.ScaleCheckRow{ScaleCheck: store.ScaleCheck{PublicID: store.NewID(), ShopID: shop.ID, BenchID: bench.ID,
			At: s.now(), WeightMg: int64(weight), ShownMg: int64(shown), AllowedMg: int64(check.Allowed), Source: in.Source,
			Note: in.Note}, Name: who.Name}
		row.MemberID = who.MemberKey()
		return audit.Change{Action: "scale.checked", Subject: bench.PublicID, SubjectName: bench.Name,
				Became: map[string]any{"weight_g": weight.Grams(), "shown_g": shown.Grams(), "fits": check.Fits()}},
			tx.CreateScaleCheck(ctx, &row.ScaleCheck)
	})
	return row, err
}

// ScaleChecks lists the latest checks of a bench's scale, and whether one is due.
func (s *Service) ScaleChecks(ctx context.Context, benchID string) ([]store.ScaleCheckRow, ScaleState, error) {
	shop, err := s.Current(ctx)
	if err != nil {
		return nil, ScaleState{}, err
	}
	bench, err := s.store.Bench(ctx, shop.ID, benchID)
	if err != nil {
		return nil, ScaleState{}, err
	}
	rows, err := s.store.ScaleChecks(ctx, shop.ID, bench.ID, checksShown)
	var state ScaleState
	if len(rows) > 0 {
		state.Last = &rows[0]
	}
	state.Due = shop.checkDue(state.Last, s.now())
	return rows, state, err
}

// scaleStates gives the state of the scale of each bench of a shop.
func (s *Service) scaleStates(ctx context.Context, shop Shop, benches []store.Bench) (map[string]ScaleState, error) {
	last, err := s.store.LastScaleChecks(ctx, shop.ID)
	if err != nil {
		return nil, fmt.Errorf("checks of the scales: %w", err)
	}
	out := map[string]ScaleState{}
	for _, b := range benches {
		var state ScaleState
		if row, ok := last[b.ID]; ok {
			state.Last = &row
		}
		state.Due = shop.checkDue(state.Last, s.now())
		out[b.PublicID] = state
	}
	return out, nil
}

// checkDue says whether a scale is to be checked: it never was, was off, or so many days ago as the shop set; never
// where it set none.
func (sh Shop) checkDue(last *store.ScaleCheckRow, now time.Time) bool {
	switch {
	case sh.ScaleCheckDays == 0:
		return false
	case last == nil || !FitsOf(*last):
		return true
	default:
		return !sh.Day(now).Before(sh.Day(last.At).AddDate(0, 0, sh.ScaleCheckDays))
	}
}

// FitsOf says whether a scale fitted at a check, by what was allowed then.
func FitsOf(c store.ScaleCheckRow) bool {
	return measure.ScaleCheck{Weight: measure.Mass(c.WeightMg), Shown: measure.Mass(c.ShownMg),
		Allowed: measure.Mass(c.AllowedMg)}.Fits()
}
