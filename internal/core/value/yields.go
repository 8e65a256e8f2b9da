package value

import (
	"math"

	"gonum.org/v1/gonum/stat"

	"falda/internal/core/measure"
	"falda/internal/core/seam"
)

// EnoughPast is how many earlier pieces it takes before a house's own history is what a yield is held against; with
// fewer it is the atlas.
const EnoughPast = 5

// narrowest is the half width of the narrowest band, in parts of its mean: so much a scale's division and a day's drip
// make of pieces that are alike, and a few alike ones are no reason to call the next one odd. Common practice, no
// source.
const narrowest = 0.02

// Yield is what one part or product weighed in percent of the piece, beside what is usual.
type Yield struct {
	Kind, ID, Name string
	Mass           measure.Mass
	Pct            float64 // of the piece, 0–100
	Mean           float64 // usual percentage of the piece
	// usual band: mean ± 2 standard deviations, no less than 2 % of it, or the atlas' share a third either way
	Low, High float64
	N         int // earlier pieces behind it; 0 where the atlas stands in
}

// Odd says how the yield lies to its band: "below", "above", or empty for within.
func (y Yield) Odd() string {
	switch {
	case y.Pct < y.Low:
		return "below"
	case y.Pct > y.High:
		return "above"
	}
	return ""
}

// Yields lays what came off a piece beside what is usual: the house's own earlier pieces cut by the same plan where
// there are at least EnoughPast of them, else the atlas' shares. past gives, by id of the part or product, its
// percentages of earlier pieces. What the piece was expected to give and did not has a yield of nothing; the loss
// stands last, as kind "loss".
func Yields(expected []seam.Expected, input, loss measure.Mass, lossPct float64, past map[string][]float64) []Yield {
	if input <= 0 {
		return nil
	}
	pct := func(m measure.Mass) float64 { return float64(m) / float64(input) * 100 }
	out := make([]Yield, 0, len(expected)+1)
	for _, e := range expected {
		y := Yield{Kind: e.Kind, ID: e.ID, Name: e.Name, Mass: e.Taken, Pct: pct(e.Taken), Mean: pct(e.Mass), Low: pct(e.Low),
			High: pct(e.High)}
		out = append(out, y.against(past[e.ID]))
	}
	y := Yield{Kind: "loss", ID: "loss", Name: "Cutting and drip loss", Mass: loss, Pct: pct(loss), Mean: lossPct / 2,
		Low: 0, High: lossPct}
	return append(out, y.against(past["loss"]))
}

// against puts the house's own history in the place of the atlas' where there is enough of it.
func (y Yield) against(past []float64) Yield {
	if len(past) < EnoughPast {
		return y
	}
	mean, sd := stat.MeanStdDev(past, nil)
	half := math.Max(2*sd, narrowest*mean)
	y.Mean, y.Low, y.High, y.N = mean, math.Max(0, mean-half), mean+half, len(past)
	return y
}
