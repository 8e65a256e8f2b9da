package made

import (
	"context"
	"fmt"
	"slices"
	"time"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/recipe"
	"falda/internal/core/trim"
	"falda/internal/store"
	"falda/internal/work/goods"
)

// What is weighed while something is made, beside goods that are used.
const (
	added   = "added"   // an ingredient
	came    = "came"    // of what is made
	dropped = "dropped" // thrown away in the making
)

// Line is something that was weighed while something was made.
type Line struct {
	Together string
	Kind     string
	Name     string // of the tub or ingredient; empty of what came out
	Of       string // id of the tub, or key of the ingredient
	Mass     measure.Mass
	Count    int
	At       time.Time
}

// Making is something that is being made, or was.
type Making struct {
	store.Making
	Recipe   recipe.Recipe
	Planned  recipe.Scaled // for the meat that is to go in; where nothing was planned, for what went in
	Plan     []PlannedTub
	Log      []Line // what stands, in order
	Meat     measure.Mass
	Added    measure.Mass
	Came     measure.Mass
	Dropped  measure.Mass
	Lost     measure.Mass
	LossPct  float64
	LimitPct float64 // above it a reason is asked
	Pieces   int
	Figures  *trim.Figures // of the meat that went in
	Fat      float64
	Breaks   []string // limits of the recipe that what went in does not keep
	events   int      // rows of its log
}

// PlannedTub is how much of a tub is to go in.
type PlannedTub struct {
	Tub  string
	Name string
	Mass measure.Mass
}

// NewMaking begins to make something.
type NewMaking struct {
	ID     string // a UUID of whoever begins it
	Recipe string
	Plan   map[string]string // tub → kg; may be empty
}

// usualSlack is by how many points more than a recipe says may be lost before a reason is asked.
const usualSlack = 1.5

// Begin begins to make something; sent twice it begins once.
func (s *Service) Begin(ctx context.Context, in NewMaking) (Making, error) {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return Making{}, err
	}
	r, err := s.Recipe(ctx, in.Recipe)
	if err != nil {
		return Making{}, err
	}
	var faults fault.List
	faults.Add("id", goods.CheckID(in.ID, "batch"))
	if r.Retired {
		faults.Add("recipe", fault.New("", "retired", "is out of use", "Take another, or use it again."))
	}
	plan := map[string]int64{}
	for tub, kg := range in.Plan {
		m, err := measure.ParseMass(kg, measure.UnitKilogram)
		if _, ok := goods.ReadTubID(tub); !ok && err == nil {
			err = fault.New("", "unknown", "is no tub", "Take one of the list.")
		}
		faults.Add("plan["+tub+"]", err)
		plan[tub] = int64(m)
	}
	if err := faults.Err(); err != nil {
		return Making{}, err
	}
	today := sh.Day(s.now())
	err = s.store.Tx(ctx, func(tx *store.Store) error {
		if _, err := tx.LockShop(ctx, sh.ID); err != nil {
			return err
		}
		if _, err := tx.Making(ctx, sh.ID, in.ID, false); err != store.ErrNotFound {
			return err
		}
		number, err := lotNumber(ctx, tx, sh.ID, today)
		if err != nil {
			return err
		}
		return tx.CreateMaking(ctx, &store.Making{PublicID: in.ID, ShopID: sh.ID, RecipeID: r.ID, Name: r.Name,
			Body: r.Recipe.Body, Plan: plan, LotNumber: number, MadeOn: today, UseBy: today.AddDate(0, 0, r.Body.ShelfDays),
			State: "open", OpenedAt: s.now()})
	})
	if err != nil {
		return Making{}, err
	}
	return s.Making(ctx, in.ID)
}

// lotNumber is the next of a day: M261128-1. The shop is held.
func lotNumber(ctx context.Context, tx *store.Store, shopID int64, day time.Time) (string, error) {
	prefix := "M" + day.Format("060102") + "-"
	taken, err := tx.LotsMadeOn(ctx, shopID, prefix)
	if err != nil {
		return "", err
	}
	n := len(taken) + 1
	for slices.Contains(taken, fmt.Sprint(prefix, n)) {
		n++
	}
	return fmt.Sprint(prefix, n), nil
}

// Makings lists what the shop makes and has made, the latest first; next goes on after it, "" ends it.
func (s *Service) Makings(ctx context.Context, before int64) (list []Making, next int64, err error) {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return nil, 0, err
	}
	const page = 50
	rows, err := s.store.Makings(ctx, sh.ID, before, page)
	if err != nil {
		return nil, 0, err
	}
	if len(rows) == page {
		next = rows[page-1].ID
	}
	list, err = s.read(ctx, sh, rows)
	return list, next, err
}

// Making gives one.
func (s *Service) Making(ctx context.Context, id string) (Making, error) {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return Making{}, err
	}
	row, err := s.store.Making(ctx, sh.ID, id, false)
	if err != nil {
		return Making{}, err
	}
	list, err := s.read(ctx, sh, []store.Making{row})
	if err != nil {
		return Making{}, err
	}
	return list[0], nil
}
