package body

import "math"

// RunOfBlock gives the profile along the axis of parts that are still joined, each with the share of it that is in the
// block, from 0 to 1; ok is false where none of them has a place. A block that holds of each muscle as much as lies
// before a place, or behind it, is that end of the piece; else its parts are thinner all along.
func (b *Body) RunOfBlock(holds map[string]float64) (r Run, ok bool) {
	shares := make([]float64, len(b.Parts))
	for j, p := range b.Parts {
		if shares[j] = holds[p.ID]; shares[j] > 0 && p.Placed && p.Mass > 0 {
			ok = true
		}
	}
	if !ok {
		return Run{}, false
	}
	from, to, cut := b.endOf(shares)
	thick := b.LengthMm / Slices
	inside := func(k int) float64 { // which part of a slice lies in the stretch
		return math.Max(0, math.Min(to, float64(k+1)*thick)-math.Max(from, float64(k)*thick)) / thick
	}
	of := make([]float64, len(shares)) // what is in the block of what lies in the stretch
	for j, share := range shares {
		if lies := b.Fraction(b.Parts[j].ID, from, to); share > 0 && lies > 0 {
			of[j] = share / lies
		}
	}
	r = b.run(func(k int) float64 {
		sum := 0.0
		for j, share := range of {
			sum += b.masses[k][j] * inside(k) * share
		}
		return sum
	})
	if cut {
		r.FromMm, r.ToMm = math.Max(from, r.FromMm), math.Min(to, r.ToMm)
	}
	return r, true
}

// near is how far the shares of a block may lie from what lies in an end of the piece for it to be that end.
const near = 0.05

// endOf finds the end of the piece that a block is: the whole length, and cut false, where it is none.
func (b *Body) endOf(shares []float64) (from, to float64, cut bool) {
	want := 0.0
	for j, p := range b.Parts {
		if p.Lean && p.Placed {
			want += shares[j] * float64(p.Mass)
		}
	}
	for _, front := range []bool{true, false} {
		stretch := func(x float64) (float64, float64) {
			if front {
				return 0, x
			}
			return b.LengthMm - x, b.LengthMm
		}
		low, high := 0.0, b.LengthMm
		for range 50 {
			x := (low + high) / 2
			f, t := stretch(x)
			lies := 0.0
			for _, p := range b.Parts {
				if p.Lean && p.Placed {
					lies += b.Fraction(p.ID, f, t) * float64(p.Mass)
				}
			}
			if lies < want {
				low = x
			} else {
				high = x
			}
		}
		f, t := stretch(high)
		if high < b.LengthMm*(1-near) && b.holds(shares, f, t) {
			return f, t, true
		}
	}
	return 0, b.LengthMm, false
}

// holds says whether a block holds of each muscle as much as lies in a stretch.
func (b *Body) holds(shares []float64, from, to float64) bool {
	for j, p := range b.Parts {
		if p.Lean && p.Placed && math.Abs(b.Fraction(p.ID, from, to)-shares[j]) > near {
			return false
		}
	}
	return true
}

// BlockProfile gives the profile of parts that are still joined, stretched to a length; 0 leaves it as long as they lie
// in the piece. Holds gives of each part the share that is in the block; ok is false where none of them has a place.
func (b *Body) BlockProfile(holds map[string]float64, lengthMm float64) (p Profile, ok bool) {
	run, ok := b.RunOfBlock(holds)
	if !ok {
		return Profile{}, false
	}
	if lengthMm <= 0 {
		lengthMm = run.ToMm - run.FromMm
	}
	return run.profile(lengthMm), true
}
