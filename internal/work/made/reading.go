package made

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	core "falda/internal/core/goods"
	"falda/internal/core/ingredient"
	"falda/internal/core/measure"
	"falda/internal/core/recipe"
	"falda/internal/core/trim"
	"falda/internal/store"
	"falda/internal/work/goods"
	"falda/internal/work/shop"
)

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
	var taken []int64
	for _, e := range log {
		if e.GoodsID != nil {
			taken = append(taken, *e.GoodsID)
		}
	}
	list, err := s.store.GoodsOf(ctx, sh.ID, taken)
	if err != nil {
		return nil, err
	}
	tubs, err := s.goods.Tubs(ctx, sh, list)
	if err != nil {
		return nil, err
	}
	of := used{tubs: map[int64]goods.Tub{}, figures: map[int64]*trim.Figures{}}
	for _, t := range tubs {
		for _, g := range t.Goods {
			of.tubs[g.ID], of.figures[g.ID] = t, t.FiguresOf(g)
		}
	}
	products, err := s.goods.Products(ctx, sh)
	if err != nil {
		return nil, err
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
		m.plan(products, book)
		out = append(out, m)
	}
	return out, nil
}

// used is what goods that went in are, by their keys.
type used struct {
	tubs    map[int64]goods.Tub
	figures map[int64]*trim.Figures
}

// fold reads the log of one making.
func (m *Making) fold(log []store.GoodsEvent, of used, book ingredient.Book) {
	log = slices.DeleteFunc(slices.Clone(log), func(e store.GoodsEvent) bool { return *e.MakingID != m.ID })
	m.events = len(log)
	var f trim.Figures
	known := 0.0
	at := map[string]int{}
	for _, e := range goods.Standing(log) {
		mass := measure.Mass(e.ChangeMg)
		name, what := "", e.Ingredient
		switch e.Kind {
		case core.Used:
			mass = -mass
			tub := of.tubs[*e.GoodsID]
			name, what = tub.Name, tub.String()
			m.Meat += mass
			// of the goods themselves: of a tub that is empty by now nothing is left to take the mean of
			if is := of.figures[*e.GoodsID]; is != nil {
				known += mass.Grams()
				f.Lean += is.Lean * mass.Grams()
				f.Connective += is.Connective * mass.Grams()
			}
		case added:
			in := book[e.Ingredient]
			name = in.Called(e.Ingredient)
			if in.Weighs() {
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
	kept, _ := m.Recipe.Kept().Float64()
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
	if collagen := f.Collagen(); ratio > 0 && collagen > ratio+bit {
		out = append(out, fmt.Sprintf("Collagen is %.1f %% of its protein, and may be at most %g %%.", collagen, ratio))
	}
	return out
}

// plan reads what is to go in.
func (m *Making) plan(products map[string]goods.Product, book ingredient.Book) {
	meat := measure.Mass(0)
	for tub, mg := range m.Making.Plan {
		id, _ := goods.ReadTubID(tub)
		name := cmp.Or(products[id.Key].Name, id.Key) + ", "
		if of := products[id.Key].Species; of != "" {
			name += of + ", "
		}
		m.Plan = append(m.Plan, PlannedTub{tub, name + id.MadeOn.Format("2 Jan"), measure.Mass(mg)})
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
