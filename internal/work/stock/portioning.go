package stock

import (
	"context"
	"fmt"
	"math"
	"math/big"
	"strconv"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/portion"
)

// The ways in which a muscle is portioned.
const (
	ByWeight    = "weight"    // each at least so heavy, as many as there are
	ByCount     = "count"     // so many of equal weight
	ByThickness = "thickness" // each so thick
)

// PortionAsk is how a muscle is to be portioned.
type PortionAsk struct {
	AtlasID, Part string
	WeightG       float64
	LengthMm      float64 // 0: as the atlas has it
	Way           string
	Count         int     // of ByCount
	LabelG, OverG float64 // of ByWeight: each weighs so much, and at most so much more
	ThickMm       int     // of ByThickness
	KerfMm        int
	Cut           []CutPortion // what is off already, from the first end
}

// CutPortion is a portion that was cut and weighed.
type CutPortion struct {
	ToMm int
	G    float64
}

// PortionView is how a muscle is portioned.
type PortionView struct {
	Unit     measure.Unit // in which the shop weighs
	Piece    atlas.Piece
	Muscle   atlas.Muscle
	LengthMm int
	OffMm    int // what is cut off already
	Basis    string
	Layout   portion.Layout // of what is left
	Other    *portion.Layout
	OtherMm  int // the thickness of the other way
}

// wasteful is what a rest is worth beside a portion: little, so that portions come first.
const wasteful = 10

// Portion lays the cuts of a muscle of the atlas, by weight, count or thickness; what was cut and weighed already moves
// the marks of what is left.
func (s *Service) Portion(ctx context.Context, in PortionAsk) (v PortionView, err error) {
	shop, err := s.shops.Current(ctx)
	if err != nil {
		return v, err
	}
	v.Unit = shop.Unit
	piece, ok := s.atlas.Find(in.AtlasID)
	if !ok {
		return v, fault.New("atlas_id", "unknown", "is no piece of the atlas", "Look it up in the atlas.")
	}
	v.Piece = piece
	if v.Muscle, ok = piece.Muscle(in.Part); !ok {
		return v, fault.New("part", "unknown", "is no muscle of this piece", "Name one of its muscles.")
	}
	if err := in.check(); err != nil {
		return v, err
	}
	p, err := s.problem(&v, in)
	if err != nil {
		return v, err
	}
	for i, c := range in.Cut {
		left := p.LengthMm - (c.ToMm - v.OffMm) - p.KerfMm
		g := exactly(c.G)
		if left < 1 || c.ToMm <= v.OffMm || g.Cmp(p.WeightG) >= 0 {
			return v,
				fault.New(fmt.Sprintf("cut[%d]", i), "out_of_range", "is more than what was left", "Check place and weight.")
		}
		p = p.After(c.ToMm-v.OffMm, g)
		v.OffMm = c.ToMm + p.KerfMm
	}
	if in.Way == ByCount {
		in.Count -= len(in.Cut)
		if in.Count < 1 {
			return v, fault.New("count", "out_of_range", "are cut already", "Ask for more, or begin anew.")
		}
	}
	if v.Layout, err = in.lay(p); err != nil {
		return v, err
	}
	return v, v.compare(p, in)
}

// check says what is wrong with what is asked.
func (in PortionAsk) check() error {
	var faults fault.List
	within := func(field string, v, low, high float64) {
		if !(v >= low && v <= high) {
			faults.Add(field, fault.New("", "out_of_range", fmt.Sprintf("must be from %g to %g", low, high), "Check it."))
		}
	}
	within("weight_g", in.WeightG, 20, 100_000)
	if in.LengthMm != 0 {
		within("length_mm", in.LengthMm, 20, 1500)
	}
	within("kerf_mm", float64(in.KerfMm), 0, 5)
	switch in.Way {
	case ByWeight:
		within("label_g", in.LabelG, 10, in.WeightG)
		within("over_g", in.OverG, 0, in.WeightG)
	case ByCount:
		within("count", float64(in.Count), 1, 60)
	case ByThickness:
		within("thickness_mm", float64(in.ThickMm), 3, 300)
	default:
		faults.Add("way", fault.New("", "unknown", fault.Quote(in.Way)+" is no way of portioning",
			"Use weight, count or thickness."))
	}
	return faults.Err()
}

// exactly is a figure as the decimal that was typed.
func exactly(v float64) *big.Rat {
	r, _ := new(big.Rat).SetString(strconv.FormatFloat(v, 'f', 3, 64))
	return r
}

// problem is the muscle with its profile.
func (s *Service) problem(v *PortionView, in PortionAsk) (portion.Problem, error) {
	profile, err := v.Piece.ProfileOf(v.Muscle, in.LengthMm)
	if err != nil {
		return portion.Problem{}, err
	}
	v.LengthMm, v.Basis = int(math.Round(profile.LengthMm)), profile.Basis
	p := portion.Problem{LengthMm: v.LengthMm, WeightG: exactly(in.WeightG), KerfMm: in.KerfMm,
		RestPricePerKg: big.NewRat(1, 1)}
	for i := range profile.Mm {
		// whole millimetres, so that the figures stay short
		at := int64(math.Round(profile.Mm[i] / profile.LengthMm * float64(v.LengthMm)))
		if n := len(p.Profile); n > 0 && p.Profile[n-1].Mm.Cmp(big.NewRat(at, 1)) == 0 {
			continue
		}
		p.Profile = append(p.Profile,
			portion.Point{Mm: big.NewRat(at, 1), Area: big.NewRat(int64(math.Round(profile.Area[i]*100)), 100)})
	}
	x := portion.Product{ID: in.Part, PricePerKg: big.NewRat(wasteful, 1)}
	if in.Way == ByWeight {
		x.Label, x.MinG = exactly(in.LabelG), exactly(in.LabelG)
		x.MaxG = exactly(in.LabelG + in.OverG)
	}
	p.Products = []portion.Product{x}
	return p, nil
}

func (in PortionAsk) lay(p portion.Problem) (portion.Layout, error) {
	switch in.Way {
	case ByCount:
		return portion.Equal(p, in.Count)
	case ByThickness:
		return portion.Even(p, in.ThickMm, (in.ThickMm+1)/2)
	default:
		return portion.FromEnd(p)
	}
}

// compare lays the muscle the other way: evenly thick where it was laid by weight or count, and as many of equal weight
// where it was laid evenly.
func (v *PortionView) compare(p portion.Problem, in PortionAsk) error {
	n, _, _ := v.Layout.Portions()
	if n == 0 {
		return nil
	}
	other, err := portion.Layout{}, error(nil)
	if in.Way == ByThickness {
		other, err = portion.Equal(p, n)
	} else {
		last := v.Layout.Pieces[len(v.Layout.Pieces)-1]
		long := last.ToMm
		if last.Product < 0 {
			long = last.FromMm
		}
		v.OtherMm = max(1, int(math.Round(float64(long)/float64(n))))
		other, err = portion.Even(p, v.OtherMm, (v.OtherMm+1)/2)
	}
	v.Other = &other
	return err
}
