package goods

import (
	"context"
	"strconv"
	"time"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/trim"
	"falda/internal/store"
	"falda/internal/work/audit"
)

// NewFatTest is a fat test as it is entered.
type NewFatTest struct {
	ID   string // a UUID of whoever enters it
	Tub  string
	Lean string // percent
	Note string
}

// FatTests lists the shop's fat tests, the latest first.
func (s *Service) FatTests(ctx context.Context) ([]store.FatTest, error) {
	sh, err := s.shops.Current(ctx)
	if err != nil {
		return nil, err
	}
	return s.store.FatTests(ctx, sh.ID)
}

// latestTests is how many of the latest tests of a stream count.
const latestTests = 20

// Corrections says by how much each stream is leaner than the atlas says, by the shop's latest tests of it.
func (s *Service) Corrections(ctx context.Context, shopID int64) (map[string]trim.Correction, error) {
	list, err := s.store.FatTests(ctx, shopID)
	if err != nil {
		return nil, err
	}
	apart := map[string][]float64{}
	for _, t := range list {
		if len(apart[t.ProductKey]) < latestTests {
			apart[t.ProductKey] = append(apart[t.ProductKey], t.LeanPct-t.AtlasPct)
		}
	}
	out := map[string]trim.Correction{}
	for key, differences := range apart {
		out[key] = trim.Corrected(differences)
	}
	return out, nil
}

// TestFat enters how lean a tub was found to be; sent twice it counts once.
func (s *Service) TestFat(ctx context.Context, in NewFatTest) error {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return err
	}
	who, err := audit.Who(ctx)
	if err != nil {
		return err
	}
	var faults fault.List
	faults.Add("id", CheckID(in.ID, "test"))
	id, ok := ReadTubID(in.Tub)
	if !ok {
		faults.Add("tub", fault.New("", "unknown", "is no tub", "Take one of the list."))
	}
	lean := 0.0
	if n, err := measure.ParseNumber(in.Lean); err != nil {
		faults.Add("lean_pct", err)
	} else if lean, _ = strconv.ParseFloat(n.FloatString(3), 64); lean < 0 || lean > 100 {
		faults.Add("lean_pct", fault.New("", "out_of_range", "must be from 0 to 100", "100 less the fat that was found."))
	}
	faults.Add("note", fault.Text(in.Note, maxNote, false))
	if err := faults.Err(); err != nil {
		return err
	}
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		list, err := tx.HoldTub(ctx, sh.ID, id.Key, id.MadeOn, id.Place, id.Old)
		if err != nil {
			return audit.Change{}, err
		}
		tubs, err := s.Tubs(ctx, sh, list)
		if err != nil {
			return audit.Change{}, err
		}
		if len(tubs) != 1 || tubs[0].Atlas == nil || tubs[0].Kind != store.GoodsStream {
			return audit.Change{}, fault.New("tub", "unknown", "holds no trim", "Take a tub of trim or fat.")
		}
		row := store.FatTest{PublicID: in.ID, ShopID: sh.ID, ProductKey: id.Key, MadeOn: id.MadeOn, LeanPct: lean,
			AtlasPct: tubs[0].Atlas.Lean, Note: in.Note, At: s.now()}
		row.MemberID = who.MemberKey()
		err = tx.CreateFatTest(ctx, &row)
		if err == store.ErrDuplicate {
			return audit.Change{}, nil
		}
		return audit.Change{Action: "fat_test.added", Subject: in.ID, SubjectName: tubs[0].Name,
			Became: map[string]any{"lean_pct": lean, "atlas_pct": row.AtlasPct, "made_on": id.MadeOn.Format(time.DateOnly)}}, err
	})
}

// DropFatTest takes a test away.
func (s *Service) DropFatTest(ctx context.Context, id string) error {
	sh, err := s.shops.Current(ctx)
	if err != nil {
		return err
	}
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		return audit.Change{Action: "fat_test.dropped", Subject: id}, tx.DropFatTest(ctx, sh.ID, id)
	})
}
