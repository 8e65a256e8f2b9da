package compare

import (
	"math"
	"slices"

	"falda/internal/core/atlas"
	"falda/internal/core/bestuse"
	"falda/internal/core/measure"
	"falda/internal/store"
)

// The days before a week that tell how the last one was cut, and those whose yields tell how much they scatter.
const (
	lastDays    = 7
	scatterDays = 365
	maxFinished = 2000
	leastFree   = 5 // degrees of freedom from which a house's own scatter is taken
)

// houseYields is how much what the house makes of a piece scatters about the mean of its kind and plan.
type houseYields struct {
	spread float64 // relative standard deviation of one piece
	n      int     // pieces behind it; 0 where the usual is taken
}

// scatter pools how far the meat of each finished piece lies from the mean of its kind and plan.
func scatter(rows []store.ResultRow) houseYields {
	var order [][2]string
	groups := map[[2]string][]float64{}
	for _, r := range rows {
		if r.InputMg > 0 && r.MeatMg > 0 {
			key := [2]string{r.AtlasID, r.PlanID}
			if groups[key] == nil {
				order = append(order, key)
			}
			groups[key] = append(groups[key], float64(r.MeatMg)/float64(r.InputMg))
		}
	}
	squares, free, n := 0.0, 0, 0
	for _, key := range order {
		list := groups[key]
		mean := 0.0
		for _, x := range list {
			mean += x / float64(len(list))
		}
		for _, x := range list {
			squares += (x/mean - 1) * (x/mean - 1)
		}
		free, n = free+len(list)-1, n+len(list)
	}
	if free < leastFree {
		return houseYields{spread: yieldSpread}
	}
	return houseYields{spread: math.Sqrt(squares / float64(free)), n: n}
}

// lastWeek is the heads cut as the last week was: each piece by the plans that were cut of its kind, in their
// proportions, and by the traditional one where none was; ok is false where nothing of it was cut.
func (w *week) lastWeek() (p bestuse.Problem, cut int, ok bool) {
	counts := map[string]map[string]int64{}
	from := w.Shop.Day(w.s.now()).AddDate(0, 0, -lastDays)
	for _, r := range w.finished {
		if r.ClosedOn.Before(from) {
			break
		}
		if counts[r.AtlasID] == nil {
			counts[r.AtlasID] = map[string]int64{}
		}
		counts[r.AtlasID][r.PlanID]++
	}
	p = bestuse.Problem{Products: slices.Clone(w.heads.Products)}
	for j := range p.Products {
		p.Products[j].Order = 0
	}
	per := map[string]int{}
	for _, x := range w.heads.Heads {
		per[x.ID] = x.Count
	}
	var order [][2]string
	ways := map[[2]string][]bestuse.Way{}
	for _, x := range w.heads.Ways {
		if x.Division != atlas.UsualDivision {
			continue
		}
		key := [2]string{x.Head, x.Piece}
		if ways[key] == nil {
			order = append(order, key)
		}
		ways[key] = append(ways[key], x)
	}
	for _, key := range order {
		list := ways[key]
		first := w.plans[[3]string{key[0] + atlas.UsualDivision, key[1], list[0].ID}].piece
		weights, sum := make([]int64, len(list)), int64(0)
		for i, x := range list {
			if key[1] != breaking {
				weights[i] = counts[first.ID][x.ID]
			}
			sum += weights[i]
		}
		cut += int(sum)
		if sum == 0 {
			at := max(0, slices.IndexFunc(list, func(x bestuse.Way) bool { return x.ID == traditional(first) }))
			weights[at] = 1
		}
		shares, err := measure.Apportion(int64(per[key[0]]*list[0].PerHead), weights)
		if err != nil {
			return p, 0, false
		}
		for i, n := range shares {
			if n > 0 {
				p.Pieces = append(p.Pieces, bestuse.Piece{ID: key[0] + "\x00" + key[1] + "\x00" + list[i].ID, Count: int(n),
					Plans: []bestuse.Plan{list[i].Plan}})
			}
		}
	}
	return p, cut, cut > 0
}

// bid is what one more head is worth, between what it lies for a single one by the scatter of the house's own yields:
// the pieces of a head scatter each by itself. Normal, 95 %.
func (w *week) bid(best bestuse.HeadsSolution, h bestuse.Head, more measure.Money) (low, high measure.Money) {
	squares, sum := 0.0, 0.0
	for _, v := range w.pieceValues(best, h) {
		sum += v.each * v.perHead
		squares += v.each * v.each * v.perHead
	}
	if sum <= 0 {
		return more, more
	}
	half, _ := measure.MoneyFromFloat(1.96 * w.house.spread * math.Sqrt(squares))
	return w.Shop.Money.Round(more.Sub(half)), w.Shop.Money.Round(more.Add(half))
}

// pieceValue is what a piece of a head brings in the mean, and how many of it a head has.
type pieceValue struct{ each, perHead float64 }

// pieceValues values the pieces of a head by what their products fetch.
func (w *week) pieceValues(best bestuse.HeadsSolution, h bestuse.Head) (out []pieceValue) {
	fetched := fetchedBy(best)
	at := map[string]int{}
	for _, u := range best.Use {
		if u.Head != h.ID {
			continue
		}
		x := w.wayOf(best, u)
		if _, ok := at[u.Piece]; !ok {
			at[u.Piece] = len(out)
			out = append(out, pieceValue{perHead: float64(x.PerHead)})
		}
		for _, y := range x.Plan.Yields {
			out[at[u.Piece]].each += fetched[y.Product] * y.Mass.Grams() / 1000 * float64(u.Pieces) /
				float64(h.Count*x.PerHead)
		}
	}
	return out
}

// fetchedBy is what a kilogram of each product fetches in the mean, sold in full and beyond what sells.
func fetchedBy(best bestuse.HeadsSolution) map[string]float64 {
	out := map[string]float64{}
	for _, s := range best.Sales {
		if s.Made > 0 {
			out[s.Product] = s.Value.Float() / (s.Made.Grams() / 1000)
		}
	}
	return out
}

// wayOf finds the way that a use goes.
func (w *week) wayOf(best bestuse.HeadsSolution, u bestuse.Use) bestuse.Way {
	i := slices.IndexFunc(w.heads.Ways, func(x bestuse.Way) bool {
		return x.Head == u.Head && (x.Division == "" || x.Division == best.Divisions[u.Head]) && x.Piece == u.Piece &&
			x.ID == u.Way
	})
	return w.heads.Ways[i]
}

// WeekFlow is how much of one thing becomes another: of the kill pieces, of pieces products.
type WeekFlow struct {
	From, To string
	Mass     measure.Mass
	Value    float64 // at what the products fetch
}

// flow draws where the kill goes: by kind of carcass and piece, then by product.
func (w *week) flow(best bestuse.HeadsSolution) {
	fetched := fetchedBy(best)
	at := map[[2]string]int{}
	add := func(from, to string, m measure.Mass, value float64) {
		key := [2]string{from, to}
		i, ok := at[key]
		if !ok {
			i = len(w.Flows)
			at[key] = i
			w.Flows = append(w.Flows, WeekFlow{From: from, To: to})
		}
		w.Flows[i].Mass += m
		w.Flows[i].Value += value
	}
	for _, u := range best.Use {
		x := w.planOf(best, u)
		piece := "piece/" + x.piece.ID
		if u.Piece == breaking {
			piece = "piece/" + breaking
		}
		for _, y := range w.wayOf(best, u).Plan.Yields {
			m := y.Mass * measure.Mass(u.Pieces)
			value := fetched[y.Product] * m.Grams() / 1000
			add("carcass", piece, m, value)
			add(piece, "product/"+y.Product, m, value)
			w.FlowNames["product/"+y.Product] = w.maker.names[y.Product].Name
		}
		w.FlowNames[piece] = x.piece.Name
		if u.Piece == breaking {
			w.FlowNames[piece] = "Sold as it is broken"
		}
	}
}
