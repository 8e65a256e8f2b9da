package api

import (
	"math"
	"time"

	"falda/internal/api/contract"
	"falda/internal/core/bestuse"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
)

// some is a pointer to a value, nil for the zero value.
func some[T comparable](v T) *T {
	var zero T
	if v == zero {
		return nil
	}
	return &v
}

// from is the value behind a pointer, the zero value for nil.
func from[T any](p *T) T {
	if p == nil {
		var zero T
		return zero
	}
	return *p
}

// listed is a list that is left out where it is empty.
func listed(in []string) *[]string {
	if len(in) == 0 {
		return nil
	}
	return &in
}

// each encodes a list; an empty one as [], never as null.
func each[A, B any](in []A, f func(A) B) []B {
	out := make([]B, len(in))
	for i, a := range in {
		out[i] = f(a)
	}
	return out
}

// moneyField reads amounts that may be left out; what is wrong with one is a fault of its field.
func moneyField(faults *fault.List) func(field string, s *string) measure.Money {
	return func(field string, s *string) measure.Money {
		if s == nil {
			return measure.Money{}
		}
		m, err := measure.ParseMoney(*s)
		faults.Add(field, err)
		return m
	}
}

// massField reads grams that may be left out likewise.
func massField(faults *fault.List) func(field string, g *float64) measure.Mass {
	return func(field string, g *float64) measure.Mass {
		if g == nil {
			return 0
		}
		m, err := measure.FromGrams(*g)
		faults.Add(field, err)
		return m
	}
}

func texts(in []string) []string { return each(in, func(s string) string { return s }) }

func round(f float64, places int) float64 {
	scale := math.Pow10(places)
	return math.Round(f*scale) / scale
}

func basis(measured bool) contract.Basis {
	if measured {
		return "measured"
	}
	return "estimated"
}

func day(t time.Time) string { return t.Format(time.DateOnly) }

// minutesField reads minutes; what is wrong with them is a fault of their field.
func minutesField(faults *fault.List) func(field string, v float64) bestuse.Minutes {
	return func(field string, v float64) bestuse.Minutes {
		if math.IsNaN(v) || math.Abs(v) > 1e6 {
			faults.Add(field, fault.New("", "too_large", "is more than a million", "Give minutes."))
			return 0
		}
		return bestuse.Minutes(math.Round(v * 100))
	}
}
