package made

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"falda/internal/core/fault"
	core "falda/internal/core/goods"
	"falda/internal/core/ingredient"
	"falda/internal/core/measure"
	"falda/internal/core/recipe"
	"falda/internal/core/trim"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/goods"
	"falda/internal/work/shop"
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
	if _, err := uuid.Parse(in.ID); err != nil {
		faults.Add("id", fault.New("", "not_an_id", "is not a UUID", "Make one for each batch."))
	}
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

// read folds the logs of makings.
func (s *Service) read(ctx context.Context, sh shop.WithPlans, rows []store.Making) ([]Making, error) {
	ids := make([]int64, len(rows))
	for i, m := range rows {
		ids[i] = m.ID
	}
	log, err := s.store.MakingLog(ctx, sh.ID, ids)
	if err != nil {
		return nil, err
	}
	var used []int64
	for _, e := range log {
		if e.GoodsID != nil {
			used = append(used, *e.GoodsID)
		}
	}
	list, err := s.store.GoodsOf(ctx, sh.ID, used)
	if err != nil {
		return nil, err
	}
	tubs, err := s.goods.Tubs(ctx, sh, list)
	if err != nil {
		return nil, err
	}
	names, species, of := map[string]string{}, map[string]string{}, map[int64]goods.Tub{}
	for _, t := range tubs {
		for _, g := range t.Goods {
			of[g.ID] = t
		}
	}
	for _, p := range s.prices.Products(sh, "") {
		names[p.Key], species[p.Key] = p.Name, p.Species+", "
	}
	book, err := s.shops.Book(ctx, sh.Shop)
	if err != nil {
		return nil, err
	}
	out := make([]Making, 0, len(rows))
	for _, row := range rows {
		m := Making{Making: row}
		if err := json.Unmarshal(row.Body, &m.Recipe); err != nil {
			return nil, err
		}
		m.fold(log, of, book)
		m.plan(names, species, book)
		out = append(out, m)
	}
	return out, nil
}

// fold reads the log of one making.
func (m *Making) fold(log []store.GoodsEvent, of map[int64]goods.Tub, book ingredient.Book) {
	undone := map[string]bool{}
	for _, e := range log {
		if e.Undoes != "" {
			undone[e.Undoes] = true
		}
	}
	var f trim.Figures
	known := 0.0
	at := map[string]int{}
	for _, e := range log {
		if *e.MakingID != m.ID || e.Undoes != "" || undone[e.Together] {
			continue
		}
		mass := measure.Mass(e.ChangeMg)
		name, what := "", e.Ingredient
		switch e.Kind {
		case core.Used:
			mass = -mass
			tub := of[*e.GoodsID]
			name, what = tub.Name, tub.String()
			m.Meat += mass
			if tub.Figures != nil {
				known += mass.Grams()
				f.Lean += tub.Figures.Lean * mass.Grams()
				f.Connective += tub.Figures.Connective * mass.Grams()
			}
		case added:
			in := book[e.Ingredient]
			name = in.Called(e.Ingredient)
			if in.Unit == "kg" || in.Unit == "litre" || in.Unit == "" {
				m.Added += mass
			}
		case came:
			m.Came += mass
			m.Pieces += e.Count
		case dropped:
			m.Dropped += mass
		}
		i, ok := at[e.Together]
		if !ok {
			i = len(m.Log)
			at[e.Together] = i
			m.Log = append(m.Log, Line{Together: e.Together, Kind: e.Kind, Name: name, Of: what, At: e.At})
		}
		m.Log[i].Mass += mass
		m.Log[i].Count += e.Count
	}
	m.Lost = m.Meat + m.Added - m.Came - m.Dropped
	if in := m.Meat + m.Added; in > 0 {
		m.LossPct = 100 * m.Lost.Grams() / in.Grams()
	}
	kept := (1 - m.Recipe.MakingLoss/100) * (1 - m.Recipe.CookingLoss/100) * (1 - m.Recipe.SlicingLoss/100)
	m.LimitPct = 100*(1-kept) + usualSlack
	if known > 0 {
		f.Lean, f.Connective = f.Lean/known, f.Connective/known
		m.Figures, m.Fat = &f, 100-f.Lean
		m.Breaks = breaks(m.Recipe, f)
	}
}

// breaks says which limits of a recipe meat does not keep.
func breaks(r recipe.Recipe, f trim.Figures) (out []string) {
	const bit = 0.005 // what rounding alone may do
	lean, high, ratio := r.Bounds()
	if f.Lean < lean-bit {
		out = append(out, fmt.Sprintf("%.1f %% lean, and it must be at least %g %%.", f.Lean, lean))
	}
	if high > 0 && f.Lean > high+bit {
		out = append(out, fmt.Sprintf("%.1f %% lean, and it may be at most %g %%.", f.Lean, high))
	}
	if collagen := 100 * f.Connective / (f.Lean / 5); ratio > 0 && f.Lean > 0 && collagen > ratio+bit {
		out = append(out, fmt.Sprintf("Collagen is %.1f %% of its protein, and may be at most %g %%.", collagen, ratio))
	}
	return out
}

// plan reads what is to go in.
func (m *Making) plan(names, species map[string]string, book ingredient.Book) {
	meat := measure.Mass(0)
	for tub, mg := range m.Making.Plan {
		id, _ := goods.ReadTubID(tub)
		name := names[id.Key]
		if name == "" {
			name = id.Key
		}
		m.Plan = append(m.Plan, PlannedTub{tub, name + ", " + species[id.Key] + id.MadeOn.Format("2 Jan"), measure.Mass(mg)})
		meat += measure.Mass(mg)
	}
	slices.SortFunc(m.Plan, func(a, b PlannedTub) int { return strings.Compare(a.Tub, b.Tub) })
	if m.Meat > 0 {
		meat = m.Meat
	}
	if meat == 0 {
		meat = measure.Kilogram
	}
	m.Planned = m.Recipe.For(meat.In(measure.UnitKilogram), book)
}

// Weighing is something that is weighed while something is made.
type Weighing struct {
	ID     string
	Kind   string // used, added, came or dropped
	Tub    string // of what is used
	Key    string // of an ingredient
	Weight string // or how much of the ingredient's unit
	Unit   string
	Count  int
	Source string
	Note   string
	At     time.Time
}

// Weigh books a weighing on something that is being made.
func (s *Service) Weigh(ctx context.Context, makingID string, in Weighing) (Making, error) {
	sh, err := s.shops.Current(ctx)
	if err != nil {
		return Making{}, err
	}
	row, err := s.store.Making(ctx, sh.ID, makingID, false)
	if err != nil {
		return Making{}, err
	}
	if row.State != "open" {
		if known, err := s.store.GoodsBooked(ctx, sh.ID, in.ID); err == nil && len(known) > 0 {
			return s.Making(ctx, makingID) // it was sent before it was closed
		}
		return Making{}, fault.NewConflict("", "closed", "This batch is closed.", "Open it again to weigh more.")
	}
	if in.Kind == core.Used {
		err = s.goods.Book(ctx, goods.Booking{ID: in.ID, Tub: in.Tub, Kind: core.Used, Weight: in.Weight, Unit: in.Unit,
			Note: in.Note, Source: in.Source, At: in.At, Making: &row.ID})
	} else {
		err = s.weigh(ctx, sh, row, in)
	}
	if err != nil {
		return Making{}, err
	}
	return s.Making(ctx, makingID)
}

// weigh books what is no goods of the stock.
func (s *Service) weigh(ctx context.Context, sh shop.Shop, row store.Making, in Weighing) error {
	who, err := audit.Who(ctx)
	if err != nil {
		return err
	}
	var faults fault.List
	if _, err := uuid.Parse(in.ID); err != nil {
		faults.Add("id", fault.New("", "not_an_id", "is not a UUID", "Make one for each weighing."))
	}
	var m measure.Mass
	if in.Kind == added && (in.Unit == "m" || in.Unit == "piece") { // counted, and not weighed
		if in.Count <= 0 {
			faults.Add("count", fault.Required("Say how many."))
		}
	} else {
		if m, err = measure.ParseMass(in.Weight, measure.Unit(in.Unit)); err == nil && m <= 0 {
			err = fault.New("", "too_small", "must be above zero", "Weigh it again.")
		}
		faults.Add("weight", err)
	}
	switch in.Kind {
	case added:
		if in.Key == "" || len(in.Key) > 40 {
			faults.Add("ingredient", fault.Required("Say which ingredient."))
		}
	case came, dropped:
	default:
		faults.Add("kind", fault.New("", "unknown", fault.Quote(in.Kind)+" is nothing that is weighed here",
			"used, added, came or dropped."))
	}
	if in.Count < 0 || in.Count > 100_000 {
		faults.Add("count", fault.New("", "out_of_range", "must be from 0 to 100,000", "Count again."))
	}
	faults.Add("note", fault.Text(in.Note, 200, in.Kind == dropped))
	if err := faults.Err(); err != nil {
		return err
	}
	e := store.GoodsEvent{PublicID: in.ID, ShopID: sh.ID, Together: in.ID, MakingID: &row.ID, Kind: in.Kind,
		ChangeMg: int64(m), Ingredient: in.Key, Count: in.Count, Source: in.Source, Note: in.Note, At: s.now(),
		ReceivedAt: s.now()}
	if !in.At.IsZero() && in.At.Before(e.At) {
		e.At = in.At.UTC()
	}
	if who.MemberID != 0 {
		e.MemberID = &who.MemberID
	}
	return s.store.Tx(ctx, func(tx *store.Store) error {
		if known, err := tx.GoodsBooked(ctx, sh.ID, in.ID); err != nil || len(known) > 0 {
			return err
		}
		return tx.AddGoodsEvents(ctx, []store.GoodsEvent{e})
	})
}

// Close ends the making: what came of it lies in stock. Where more was lost than is usual a reason is asked.
func (s *Service) Close(ctx context.Context, id, reason string) (Making, error) {
	sh, err := s.shops.Current(ctx)
	if err != nil {
		return Making{}, err
	}
	m, err := s.Making(ctx, id)
	if err != nil || m.State == "closed" {
		return m, err
	}
	reason = strings.TrimSpace(reason)
	if err := m.mayClose(reason); err != nil {
		return m, err
	}
	earliest, useBy, err := s.clocks(ctx, sh.ID, m)
	if err != nil {
		return m, err
	}
	now := s.now()
	row := m.Making
	row.State, row.ClosedAt, row.Reason, row.UseBy = "closed", &now, reason, useBy
	g := store.Goods{PublicID: store.NewID(), ShopID: sh.ID, ProductKey: goods.MadeKey(""), MakingID: &row.ID,
		MadeOn: row.MadeOn, SlaughteredOn: earliest, UseBy: useBy, MadeMg: int64(m.Came)}
	if m.Figures != nil {
		g.LeanPct, g.ConnectivePct = &m.Figures.Lean, &m.Figures.Connective
	}
	if g.ProductKey, err = s.keyOf(ctx, sh.ID, row); err != nil {
		return m, err
	}
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		if _, err := tx.Making(ctx, sh.ID, id, true); err != nil {
			return audit.Change{}, err
		}
		if err := tx.SetMaking(ctx, row); err != nil {
			return audit.Change{}, err
		}
		return audit.Change{Action: "batch.made", Subject: id, SubjectName: row.Name + " " + row.LotNumber,
			Became: map[string]any{"came_g": m.Came.Grams(), "lost_g": m.Lost.Grams(), "reason": reason}}, tx.PutMade(ctx, g)
	})
	if err != nil {
		return m, err
	}
	return s.Making(ctx, id)
}

// keyOf is the product key of what a making gives.
func (s *Service) keyOf(ctx context.Context, shopID int64, m store.Making) (string, error) {
	rows, err := s.store.Recipes(ctx, shopID)
	for _, r := range rows {
		if r.ID == m.RecipeID {
			return goods.MadeKey(r.PublicID), err
		}
	}
	return "", store.ErrNotFound
}

// mayClose says why a making cannot end as it is.
func (m Making) mayClose(reason string) error {
	var faults fault.List
	switch {
	case m.Came == 0:
		faults.Add("came", fault.Required("Weigh what came out first."))
	case m.Lost < 0:
		faults.Add("came", fault.New("", "too_much", "is "+(-m.Lost).Text(measure.UnitKilogram, 3)+
			" more than went in", "Book what else went in, or weigh it again."))
	case m.LossPct > m.LimitPct && reason == "":
		faults.Add("reason", fault.Required(fmt.Sprintf("%.1f %% was lost, and %.1f %% is usual: say why.", m.LossPct,
			m.LimitPct)))
	}
	faults.Add("reason", fault.Text(reason, 200, false))
	return faults.Err()
}

// clocks gives the earliest day of slaughter of what went in, and until when what came of it keeps: as its recipe says,
// and where it is not cooked or frozen no longer than meat made of the same may.
func (s *Service) clocks(ctx context.Context, shopID int64, m Making) (earliest *time.Time, useBy time.Time,
	err error) {
	log, err := s.store.MakingLog(ctx, shopID, []int64{m.ID})
	if err != nil {
		return nil, m.UseBy, err
	}
	var ids []int64
	for _, e := range log {
		if e.GoodsID != nil {
			ids = append(ids, *e.GoodsID)
		}
	}
	list, err := s.store.GoodsOf(ctx, shopID, ids)
	for _, g := range list {
		if d := g.SlaughteredOn; d != nil && (earliest == nil || d.Before(*earliest)) {
			earliest = d
		}
	}
	return earliest, m.MadeOn.AddDate(0, 0, m.Recipe.ShelfDays), err
}

// Reopen opens a closed batch again, so that it can be corrected; not once some of it has gone.
func (s *Service) Reopen(ctx context.Context, id string) (Making, error) {
	return s.turn(ctx, id, "open", func(tx *store.Store, row store.Making) error {
		list, err := tx.GoodsMadeIn(ctx, row.ShopID, []int64{row.ID})
		if err != nil {
			return err
		}
		for _, g := range list {
			if g.ChangeMg != 0 || g.Part > 0 {
				return fault.NewConflict("", "gone", "Some of it has been used, moved or sold.", "Take that back first.")
			}
			g.MadeMg = 0
			if err := tx.PutMade(ctx, g); err != nil {
				return err
			}
		}
		return nil
	})
}

// Drop takes away a batch of which nothing stands.
func (s *Service) Drop(ctx context.Context, id string) error {
	m, err := s.Making(ctx, id)
	if err != nil {
		return err
	}
	if len(m.Log) > 0 {
		return fault.NewConflict("", "begun", "Something was weighed for it.", "Take that back first.")
	}
	_, err = s.turn(ctx, id, "dropped", func(*store.Store, store.Making) error { return nil })
	return err
}

// turn changes the state of a making.
func (s *Service) turn(ctx context.Context, id, state string, f func(*store.Store, store.Making) error) (Making,
	error) {
	sh, err := s.shops.Current(ctx)
	if err != nil {
		return Making{}, err
	}
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		row, err := tx.Making(ctx, sh.ID, id, true)
		if err != nil || row.State == state {
			return audit.Change{}, err
		}
		if err := f(tx, row); err != nil {
			return audit.Change{}, err
		}
		was := row.State
		row.State, row.ClosedAt = state, nil
		return audit.Change{Action: "batch." + map[bool]string{true: "reopened", false: "dropped"}[state == "open"],
				Subject: id, SubjectName: row.Name + " " + row.LotNumber, Was: map[string]any{"state": was}},
			tx.SetMaking(ctx, row)
	})
	if err != nil || state == "dropped" {
		return Making{}, err
	}
	return s.Making(ctx, id)
}

// Undo takes back a weighing of a batch that is open.
func (s *Service) Undo(ctx context.Context, makingID, id, booking string) (Making, error) {
	m, err := s.Making(ctx, makingID)
	if err != nil {
		return m, err
	}
	if m.State != "open" {
		return m, fault.NewConflict("", "closed", "This batch is closed.", "Open it again to correct it.")
	}
	if !slices.ContainsFunc(m.Log, func(l Line) bool { return l.Together == booking }) {
		// taken back already, or never weighed for this batch
		log, err := s.store.MakingLog(ctx, m.ShopID, []int64{m.ID})
		if err != nil {
			return m, err
		}
		if !slices.ContainsFunc(log, func(e store.GoodsEvent) bool { return e.Together == booking }) {
			return m, store.ErrNotFound
		}
		return m, nil
	}
	if err := s.goods.Undo(ctx, id, booking); err != nil {
		return m, err
	}
	return s.Making(ctx, makingID)
}
