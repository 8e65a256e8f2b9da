package trim

import (
	"math"

	"falda/internal/core/atlas"
	"falda/internal/core/measure"
)

// Piece is a part of what is in a tub.
type Piece struct {
	Part string // of the piece of the atlas
	Mass measure.Mass
}

// Figures are what a tub is like, in percent of its mass.
type Figures struct{ Lean, Connective float64 }

// Collagen is the connective tissue in percent of the protein, a fifth of the lean: the ratio that laws go by. 0 where
// nothing is lean.
func (f Figures) Collagen() float64 {
	if f.Lean <= 0 {
		return 0
	}
	return 100 * f.Connective / (f.Lean / 5)
}

// How lean fat tissue is (water and connective tissue are not fat), and trim of which nothing is said; connective
// tissue (collagen, of the fresh mass) by how much of it a muscle is said to hold, and of fat. From memory of what is
// measured: fillet and loin about half a percent, chuck and round 1 to 1.5, shin 2 to 2.5; no one source.
const (
	leanOfFat        = 15.0
	leanOfTrim       = 80.0
	connectiveOfFat  = 1.8
	connectiveOfTrim = 1.8
)

var connectiveOf = map[string]float64{"low": 0.7, "medium": 1.3, "high": 2.2}

// Of gives what is in a tub by the atlas: of each muscle how lean its trim is, of a product of which the atlas says how
// lean it is, that. Bone has neither; ok is false where nothing else is in it.
func Of(p atlas.Piece, pr atlas.Product, pieces []Piece) (f Figures, ok bool) {
	total := 0.0
	for _, x := range pieces {
		one, counts := of(p, x.Part)
		if !counts || x.Mass <= 0 {
			continue
		}
		total += x.Mass.Grams()
		f.Lean += one.Lean * x.Mass.Grams()
		f.Connective += one.Connective * x.Mass.Grams()
	}
	if total <= 0 || pr.Form == "bone" {
		return Figures{}, false
	}
	f.Lean, f.Connective = f.Lean/total, f.Connective/total
	if pr.LeanPct > 0 {
		f.Lean = pr.LeanPct
	}
	return f, true
}

func of(p atlas.Piece, part string) (f Figures, ok bool) {
	if m, isMuscle := p.Muscle(part); isMuscle {
		return Figures{m.LeanPct, connectiveOf[m.Connective]}, true
	}
	o, _ := p.Part(part)
	switch o.Kind {
	case atlas.KindFat:
		return Figures{leanOfFat, connectiveOfFat}, true
	case atlas.KindTrim:
		f = Figures{leanOfTrim, connectiveOfTrim}
	default:
		return f, false
	}
	for _, x := range p.Other {
		if x.ID == part && x.LeanPct > 0 {
			f.Lean = x.LeanPct
		}
	}
	return f, true
}

// How far the trim of a house may lie from the atlas, and one fat test from the tub that it was taken of, as standard
// deviations in points of lean. Common practice, no source.
const (
	houseSD = 4.0
	testSD  = 3.0
)

// Correction is by how much a house's trim is leaner than the atlas says, and on how many tests that rests.
type Correction struct {
	Points float64
	SD     float64
	N      int
}

// Corrected weighs fat tests against the atlas: each difference (tested less the atlas' figure) counts by its precision
// beside the belief that there is none (normal–normal, as for grades). No test leaves the atlas as it is.
func Corrected(differences []float64) Correction {
	sum := 0.0
	for _, d := range differences {
		sum += d
	}
	n := float64(len(differences))
	precision := 1/(houseSD*houseSD) + n/(testSD*testSD)
	return Correction{Points: sum / (testSD * testSD) / precision, SD: math.Sqrt(1 / precision), N: len(differences)}
}

// With gives a tub's figures as corrected; never below 0 or above 100.
func (c Correction) With(f Figures) Figures {
	f.Lean = min(100, max(0, f.Lean+c.Points))
	return f
}

// Category is a name that minced meat may be sold by, with what the law asks of it.
type Category struct {
	ID, Name       string
	Market         string // eu or us
	FatMaxPct      float64
	CollagenMaxPct float64 // of the protein; 0 where the law does not say
	Source         string
}

const (
	eu = "Regulation (EU) No 1169/2011, Annex VI, Part B (from memory)"
	us = "9 CFR 319.15 (from memory)"
)

// Categories lists them.
var Categories = []Category{
	{"eu_lean", "Lean minced meat", "eu", 7, 12, eu},
	{"eu_beef", "Minced pure beef", "eu", 20, 15, eu},
	{"eu_other", "Minced meat of other species", "eu", 25, 15, eu},
	{"us_ground", "Ground beef", "us", 30, 0, us},
}

// FindCategory gives one by its id.
func FindCategory(id string) (Category, bool) {
	for _, c := range Categories {
		if c.ID == id {
			return c, true
		}
	}
	return Category{}, false
}
