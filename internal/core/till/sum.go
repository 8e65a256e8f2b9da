package till

import (
	"math/big"

	"falda/internal/core/measure"
)

// Sum is what became of a product over the counter in a time.
type Sum struct {
	Full, Reduced, Returned, Wasted measure.Mass
	Packs                           int           // sold, those that came back taken off
	Takings                         measure.Money // what came back taken off
}

// Add adds what was sold in one way.
func (s *Sum) Add(kind string, packs int, mass measure.Mass, amount measure.Money) {
	switch kind {
	case Sold, Reduced:
		if kind == Sold {
			s.Full += mass
		} else {
			s.Reduced += mass
		}
		s.Packs += packs
		s.Takings = s.Takings.Add(amount)
	case Returned:
		s.Returned += mass
		s.Packs -= packs
		s.Takings = s.Takings.Sub(amount)
	case Wasted:
		s.Wasted += mass
	}
}

// Gone is all that went: sold, and thrown away. What came back went nowhere.
func (s Sum) Gone() measure.Mass { return s.Full + s.Reduced - s.Returned + s.Wasted }

// FullShare is which part of what went was sold at its full price, 0 to 1; false where nothing went.
func (s Sum) FullShare() (float64, bool) {
	gone := s.Gone()
	if gone <= 0 {
		return 0, false
	}
	return min(1, max(0, float64(s.Full-s.Returned)/float64(gone))), true
}

// PerKg is what a kilogram of all that went brought, exactly: what was sold for less and what was thrown away bring it
// down; nil where nothing went, or less than nothing was taken.
func (s Sum) PerKg() *measure.Money {
	gone := s.Gone()
	if gone <= 0 || s.Takings.Sign() < 0 {
		return nil
	}
	v := s.Takings.Over(big.NewRat(int64(gone), int64(measure.Kilogram)))
	return &v
}
