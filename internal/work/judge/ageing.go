package judge

import (
	"context"
	"fmt"
	"math"
	"math/big"
	"strconv"
	"time"

	"falda/internal/core/age"
	"falda/internal/core/atlas"
	"falda/internal/core/eating"
	"falda/internal/core/measure"
	"falda/internal/core/words"
	"falda/internal/work/shop"
)

// The days that a curve covers, and how long waiting is weighed.
const (
	curveDays = 42
	waitDays  = 7
)

// AgedScore is a muscle's score at a day after slaughter.
type AgedScore struct {
	Day   int
	Score float64
}

// AgedMuscle is a muscle over the days, by its best quick method; the worth of waiting for it.
type AgedMuscle struct {
	Muscle  atlas.Muscle
	Method  atlas.Method
	Curve   []AgedScore
	Now     float64
	Gain    float64 // points that another week brings
	ReadyOn time.Time
	Ready   bool
}

// AgeingView is a piece over the days, and what another week brings and costs.
type AgeingView struct {
	Today    int // days since slaughter
	Muscles  []AgedMuscle
	Loss     measure.Mass  // in a week
	LossCost measure.Money // of that, at the piece's price
	Store    measure.Money // of the week in the cold store
	House    eating.House
	Sentence string
}

// Ageing says how a piece's muscles eat by the day, and what waiting another week would bring and cost.
func (s *Service) Ageing(ctx context.Context, pieceID string) (AgeingView, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return AgeingView{}, err
	}
	h, err := s.store.PieceRow(ctx, shop.ID, pieceID)
	if err != nil {
		return AgeingView{}, err
	}
	c, err := s.stock.Card(h, shop)
	if err != nil {
		return AgeingView{}, err
	}
	g, err := s.HouseGrades(ctx, shop)
	if err != nil {
		return AgeingView{}, err
	}
	v := AgeingView{Today: c.AgeDays, House: g.House}
	p := c.Piece
	for _, m := range p.Muscles {
		known := facts(p, h.Lot, shop.Day(s.now()))
		var quick []eating.Score
		for _, sc := range g.Scores(p, m.ID, known) {
			if method, ok := atlas.FindMethod(sc.Method); ok && method.Quick {
				quick = append(quick, sc)
			}
		}
		best, ok := eating.Best(quick)
		if !ok {
			continue
		}
		a := AgedMuscle{Muscle: m, Now: best.Mean, ReadyOn: age.Day(h.Lot.SlaughteredOn).AddDate(0, 0, m.MinAgeDays)}
		a.Method, _ = atlas.FindMethod(best.Method)
		a.Ready = !shop.Day(s.now()).Before(a.ReadyOn)
		at := func(day int) float64 {
			known.AgeDays = day
			return g.With(p, m.ID, best.Method, known).Score.Mean
		}
		for d := 1; d <= curveDays; d++ {
			a.Curve = append(a.Curve, AgedScore{d, at(d)})
		}
		a.Gain = at(v.Today+waitDays) - at(v.Today)
		v.Muscles = append(v.Muscles, a)
	}
	v.Loss = measure.Mass(math.Round(float64(c.Weight) * g.House.WeekLossPct / 100)) // to the milligram
	price, err := shop.Price(h.Lot.Price, h.Lot.PricePer)
	if err != nil {
		return v, err
	}
	v.LossCost = price.Of(v.Loss)
	day, err := measure.ParseMoney(strconv.FormatFloat(g.House.StorePerKgDay, 'f', -1, 64))
	if err != nil {
		return v, fmt.Errorf("cost of the cold store: %w", err)
	}
	v.Store = measure.Price{Amount: day.Times(big.NewRat(waitDays, 1)), Per: measure.UnitKilogram}.Of(c.Weight)
	v.explain(shop.Shop)
	return v, nil
}

// explain puts the week in a sentence.
func (v *AgeingView) explain(shop shop.Shop) {
	if len(v.Muscles) == 0 {
		return
	}
	limit := v.Muscles[0]
	for _, m := range v.Muscles {
		if m.Gain > limit.Gain {
			limit = m
		}
	}
	said := words.Ageing{Points: limit.Gain, Muscle: limit.Muscle.Name, Method: limit.Method.Name,
		Cost: v.LossCost.Add(v.Store), Loss: v.Loss, Unit: shop.Unit, Currency: shop.Money}
	for _, m := range v.Muscles {
		if !m.Ready {
			said.Young = append(said.Young, words.TooYoung{Muscle: m.Muscle.Name, Method: m.Method.Name, Until: m.ReadyOn})
		}
	}
	v.Sentence = said.Sentence()
}
