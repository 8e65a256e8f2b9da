package steps

import "math"

// Sizes tells how heavy and how long a part of the piece is, so that minutes and slices can be reckoned. What was added
// has no length.
type Sizes struct {
	Grams map[string]float64 // of the whole part
	Mm    map[string]float64 // along the cut; a part without one is as long as its neighbours
	Piece float64            // of the whole piece, along the straight cut; 0 where not known
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
	t := m.Base + m.PerKg*z.Weight(d.On)/1000 + m.PerSlice*d.Slices(z)
	if m.PerCm2 > 0 {
		leaves := d.On
		if len(d.Outputs) > 0 {
			leaves = d.Outputs[0].Holds
		}
		t += m.PerCm2 * z.seam(leaves)
	}
	return t
}

// Time is the bench minutes of all steps, to the thousandth of a minute.
func (f Flow) Time(z Sizes) float64 {
	sum := 0.0
	for _, d := range f.Steps {
		sum += d.Time(z)
	}
	return math.Round(sum*1000) / 1000
}
