package steps

import "math"

// Sizes tells how heavy and how long a part of the piece is, so that minutes and slices can be reckoned. What was added
// has no length.
type Sizes struct {
	Grams map[string]float64 // of the whole part
	Mm    map[string]float64 // along the cut; a part without one is as long as its neighbours
	Piece float64            // of the whole piece, along the straight cut; 0 where not known
	// Ratio is the weight of the piece by its usual weight, for which minutes are given; 0 stands for 1.
	Ratio float64
	// Seams gives the areas where parts touch inside the piece, in square centimetres; nil, or none, where the inside is
	// not known. It is asked for only where a step goes by areas.
	Seams func() map[[2]string]float64
}

// start is which part of a step's minutes it takes to lay the block right and begin, whatever its size. From memory.
const start = 0.2

// grows is with which power of a piece's weight the time of a verb grows: a seam, a skin or a face of fat as its area;
// a stroke through the piece as its thickness; what is cut up or mixed as its weight; a bone, a knot or a tray not at
// all. By geometry; that the pace stays the same is common practice, no source.
func grows(v Verb) float64 {
	switch v {
	case TakeOff, Free, BoneOut, Dress, Open, French, Season:
		return 2.0 / 3
	case Slice, Saw, Part, Fold, Roll, Tie, Net, Fill:
		return 1.0 / 3
	case Dice, Flatten, Tenderise, Mince, Cook:
		return 1
	}
	return 0
}

// sized is what a step takes that takes base minutes on a piece of the usual weight.
func (z Sizes) sized(v Verb, base float64) float64 {
	if z.Ratio <= 0 {
		return base
	}
	return base * (start + (1-start)*math.Pow(z.Ratio, grows(v)))
}

// Seam is the area along which what leaves touches what stays, in square centimetres, and whether it is reckoned from
// the inside of the piece; else it is that of a round body of its weight and length.
func (z Sizes) Seam(leaves, on Content) (cm2 float64, known bool) {
	if z.Seams == nil {
		return z.seam(leaves), false
	}
	for pair, area := range z.Seams() {
		for _, ab := range [][2]string{pair, {pair[1], pair[0]}} {
			out, stays := leaves[ab[0]], on[ab[1]]-leaves[ab[1]]
			if out > 0 && stays > 0 {
				cm2 += area * float64(min(out, stays)) / float64(Whole)
			}
		}
	}
	if cm2 > 0 {
		return cm2, true
	}
	return z.seam(leaves), false
}

// Weight is what a content weighs, in grams.
func (z Sizes) Weight(c Content) float64 {
	sum := 0.0
	for thing, share := range c {
		sum += z.Grams[thing] * float64(share) / float64(Whole)
	}
	return sum
}

// Length is how long a content is along the cut, in millimetres: as its longest part; 0 where none has a length.
func (z Sizes) Length(c Content) float64 {
	longest := 0.0
	for thing, share := range c {
		if share > 0 {
			longest = math.Max(longest, z.Mm[thing])
		}
	}
	return longest
}

// density is that of meat, in grams per cubic centimetre. From memory; handbooks give 1.04 to 1.07 for lean muscle.
const density = 1.05

// seam is the area of the seam along a content in square centimetres: its length times the width of a round body of its
// weight and length. An estimate, until the inside of the piece is known.
func (z Sizes) seam(c Content) float64 {
	cm := z.Length(c) / 10
	if cm == 0 {
		return 0
	}
	return cm * 2 * math.Sqrt(z.Weight(c)/density/cm/math.Pi)
}

// Slices is how many slices or portions a step gives: as it says, else by weight, else by thickness along what it works
// on. 0 where none of these is known.
func (d Done) Slices(z Sizes) float64 {
	n := 0.0
	for _, o := range d.Outputs {
		n += o.Count.Mid()
	}
	switch {
	case n > 0:
	case d.PortionG.Mid() > 0:
		n = math.Floor(z.Weight(d.On)/d.PortionG.Mid() + 0.5)
	case d.Mm.Mid() > 0 && (d.Do == Slice || d.Do == Saw || d.Do == Part):
		length := z.Length(d.On)
		if d.Block == Piece && z.Piece > 0 {
			length = z.Piece
		}
		n = math.Floor(length / d.Mm.Mid())
		if each := d.EachInto.Mid(); each > 0 {
			n *= each
		}
	}
	return n
}

// Time is the bench minutes of a step on a piece of such sizes; idle steps take none.
func (d Done) Time(z Sizes) float64 {
	if d.Idle {
		return 0
	}
	m := d.Minutes
	t := z.sized(d.Do, m.Base) + m.PerKg*z.Weight(d.On)/1000 + m.PerSlice*d.Slices(z)
	if m.PerCm2 > 0 {
		area, _ := z.Seam(d.leaves(), d.On)
		t += m.PerCm2 * area
	}
	return t
}

// leaves is what a step takes off: what it leaves first, else all that it works on.
func (d Done) leaves() Content {
	if len(d.Outputs) > 0 {
		return d.Outputs[0].Holds
	}
	return d.On
}

// Seam is the area of the seam that a step opens, in square centimetres; 0 where it opens none.
func (d Done) Seam(z Sizes) (cm2 float64, known bool) {
	if d.Idle || (d.Do != TakeOff && d.Do != Free && d.Do != BoneOut) {
		return 0, false
	}
	return z.Seam(d.leaves(), d.On)
}

// Time is the bench minutes of all steps, to the thousandth of a minute.
func (f Flow) Time(z Sizes) float64 {
	sum := 0.0
	for _, d := range f.Steps {
		sum += d.Time(z)
	}
	return math.Round(sum*1000) / 1000
}
