// Package ladder guesses the prices of a counter from the few that its owner knows by heart.
//
// Every product has an index: what a kilogram of it usually costs beside a kilogram of mince of its species, which is
// 100. The prices that are known say at which level a shop sells, and whether it spreads its prices more or less than
// usual; the others follow. Fitted by least squares on logarithms, species by species:
//
//	ln price = a + (1 + d) · ln(index/200) + error,
//
// where d is held near 0 (standard deviation 0.15), and the error of a product has the spread of its index. Invariants:
// one known price moves all others in proportion; a price that is known is guessed between itself and what the others
// say; guesses grow with the known prices in proportion, whatever the currency. Source: least squares with a prior
// (ridge regression), textbook; the indices and their spreads are from memory, none is measured.
package ladder

import (
	_ "embed"
	"fmt"
	"math"
	"strings"

	"github.com/goccy/go-yaml"
)

//go:embed index.yaml
var raw []byte

// Index is what a product usually costs.
type Index struct {
	At     float64 // a kilogram beside mince of the species, which is 100
	Spread float64 // standard deviation of the logarithm between shops
}

// Table holds an index for every product, by its key.
type Table map[string]Index

// usualSpread is the spread of an index that says nothing else.
const usualSpread = 0.15

// Load reads the table. An error names the line that is wrong.
func Load() (Table, error) {
	var groups []struct {
		At     float64  `yaml:"at"`
		Spread float64  `yaml:"spread"`
		Of     []string `yaml:"of"`
	}
	if err := yaml.UnmarshalWithOptions(raw, &groups, yaml.Strict()); err != nil {
		return nil, err
	}
	out := Table{}
	for i, g := range groups {
		if g.Spread == 0 {
			g.Spread = usualSpread
		}
		if g.At <= 0 || g.Spread < 0.02 || g.Spread > 1 {
			return nil, fmt.Errorf("group %d: an index is above 0, a spread from 0.02 to 1", i+1)
		}
		for _, key := range g.Of {
			if _, twice := out[key]; twice {
				return nil, fmt.Errorf("%s stands twice", key)
			}
			out[key] = Index{g.At, g.Spread}
		}
	}
	return out, nil
}

// Guess is what a product is taken to cost.
type Guess struct {
	Price  float64 // of a kilogram
	Spread float64 // standard deviation of its logarithm
}

// Within gives the range in which the price lies four times in five.
func (g Guess) Within() (low, high float64) {
	by := math.Exp(FourInFive * g.Spread)
	return g.Price / by, g.Price * by
}

// FourInFive is how many standard deviations on either side hold four fifths of a normal distribution.
const FourInFive = 1.2816

const (
	centre      = 200  // the index at which the level is read: about that of a plain steak
	slopeSpread = 0.15 // how far shops differ in how they spread their prices
	priorWeight = 4    // the spreads of the table count like so many prices that fit them
)

// Fit guesses every product of the table whose species has a known price: those that are known too, by what all say
// together. Known are prices of a kilogram, above 0; what is not in the table is passed over.
func Fit(known map[string]float64, table Table) map[string]Guess {
	out := map[string]Guess{}
	bySpecies := map[string]*fit{}
	for key, price := range known {
		x, ok := table[key]
		if !ok || !(price > 0) {
			continue
		}
		f := bySpecies[species(key)]
		if f == nil {
			f = &fit{slope: 1 / (slopeSpread * slopeSpread)}
			bySpecies[species(key)] = f
		}
		f.add(math.Log(price/x.At), u(x), x.Spread)
	}
	for key, x := range table {
		if f := bySpecies[species(key)]; f != nil {
			out[key] = f.guess(x)
		}
	}
	return out
}

func species(key string) string {
	s, _, _ := strings.Cut(key, ".")
	return s
}

// u is where on the ladder a product stands, from its middle.
func u(x Index) float64 { return math.Log(x.At / centre) }

// fit is the normal equations of level a and slope d, by weights 1/spread²:
//
//	w·a  + wu·d  = wr
//	wu·a + slope·d = wur, with the prior of d in slope.
type fit struct {
	w, wu, slope, wr, wur, wrr float64
	n                          int
}

func (f *fit) add(r, u, spread float64) {
	w := 1 / (spread * spread)
	f.w, f.wu, f.slope = f.w+w, f.wu+w*u, f.slope+w*u*u
	f.wr, f.wur, f.wrr, f.n = f.wr+w*r, f.wur+w*u*r, f.wrr+w*r*r, f.n+1
}

// guess gives what the equations say of a product.
func (f *fit) guess(x Index) Guess {
	det := f.w*f.slope - f.wu*f.wu
	a, d := (f.wr*f.slope-f.wur*f.wu)/det, (f.wur*f.w-f.wr*f.wu)/det
	// what is left over, in units of the spreads: Σ w·(r − a − d·u)² + d²/slopeSpread²
	rest := math.Max(0, f.wrr-a*f.wr-d*f.wur)
	scale := (priorWeight + rest) / (priorWeight + float64(f.n))
	at := u(x)
	known := (f.slope - 2*at*f.wu + at*at*f.w) / det // variance of a + d·u
	return Guess{Price: x.At * math.Exp(a+d*at), Spread: math.Sqrt(scale * (x.Spread*x.Spread + known))}
}
