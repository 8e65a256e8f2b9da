package straight

import (
	"math"
	"slices"

	"falda/internal/core/atlas"
	"falda/internal/core/body"
	"falda/internal/core/eating"
	"falda/internal/core/measure"
)

// Worth is the share of a slice from which on a muscle counts as one of it.
const Worth = eating.Counts

// through is the part of a face from which on a seam beside tough tissue is a line that the eater meets.
const through = 0.3

// apart is the part of a face from which on a seam that crosses it lets the slice fall apart.
const apart = 0.6

// Line is a seam between two muscles that shows in the face of a slice.
type Line struct {
	A, B   string
	Across float64 // which part of the face it crosses
	// Hard says that the eater meets it: it crosses three tenths of the face or more, one of the two has much connective
	// tissue, and the slice is cooked quickly.
	Hard bool
}

// Slice is a slice of a product, dressed as the plan says.
type Slice struct {
	atlas.Laid
	Mass    measure.Mass
	Parts   []body.Share // what is on it, most first
	Muscles int          // that count
	Lines   []Line
	Section body.Section
	Eats    *eating.Score // as it is sold: the mean of what is in it by weight; nil where nothing is known
	Worst   string        // of the muscles that count, the one that eats worst; empty where nothing is known
	Below   []string      // muscles that count and are below 3 as the product is sold
	Falls   bool          // a seam crosses so much of the face that it does not hold together untied
}

// Hard says whether a hard line runs through the slice.
func (s Slice) Hard() bool { return slices.ContainsFunc(s.Lines, func(l Line) bool { return l.Hard }) }

// Product is what the slices of a product have in common.
type Product struct {
	atlas.Product
	N               int // slices
	Pieces          int // that they are sold as: a slice of both sides is two chops
	Hard            int // with a hard line
	Many            int // of three muscles and more
	Low             int // with a muscle that counts below 3
	Falls           int
	Lightest, Heavy measure.Mass
	Eats            *eating.Score // the mean of its slices by weight
}

// Reading is what a plan gives straight through.
type Reading struct {
	Slices   []Slice // of the products; rests are left out
	Products []Product
	// StopMm is where the first hard line comes up behind slices without one, and Stop the muscle that comes in there; 0
	// where there is no such place.
	StopMm float64
	Stop   string
}

// Scores tells how a muscle eats by a method; ok is false where nothing is known.
type Scores func(part, method string) (_ eating.Score, ok bool)

// Takes is what a product takes of each part of the piece: by product, then by part.
type Takes map[string]map[string]measure.Mass

// Read reads a plan on a piece with an inside. What a product takes of a part is divided among its slices as the part
// lies in them, to the milligram.
func Read(p atlas.Piece, pl atlas.Plan, b *body.Body, takes Takes, scores Scores) (Reading, error) {
	var out Reading
	all := p.Slices(pl)
	for _, pr := range pl.Products {
		var laid []atlas.Laid
		for _, l := range all {
			if l.Product == pr.ID {
				laid = append(laid, l)
			}
		}
		if len(laid) == 0 {
			continue
		}
		of := make([]Slice, len(laid))
		for i, l := range laid {
			of[i].Laid = l
		}
		fill(of, b, takes[pr.ID])
		x := Product{Product: pr, N: len(of), Pieces: len(of) * max(1, pr.Into)}
		for i := range of {
			if err := read(&of[i], p, pr, b, scores); err != nil {
				return out, err
			}
			x.add(of[i])
		}
		x.Eats = mean(of)
		out.Products = append(out.Products, x)
		out.Slices = append(out.Slices, of...)
	}
	slices.SortFunc(out.Slices, func(a, b Slice) int {
		if a.FromMm < b.FromMm {
			return -1
		}
		return 1
	})
	out.stop(b)
	return out, nil
}

// fill divides what a product takes of each part among its slices.
func fill(of []Slice, b *body.Body, takes map[string]measure.Mass) {
	for _, part := range b.Parts {
		lies := make([]int64, len(of))
		for i, s := range of {
			lies[i] = int64(math.Round(b.Fraction(part.ID, s.FromMm, s.ToMm) * 1e9))
		}
		if !slices.ContainsFunc(lies, func(w int64) bool { return w > 0 }) { // the plan says so all the same
			for i, s := range of {
				lies[i] = int64(math.Round((s.ToMm - s.FromMm) * 1e3))
			}
		}
		masses, err := measure.ApportionMass(takes[part.ID], lies)
		if err != nil { // a slice of no thickness
			continue
		}
		for i, m := range masses {
			if m > 0 {
				of[i].Mass += m
				of[i].Parts = append(of[i].Parts, body.Share{Part: part.ID, Mass: m})
			}
		}
	}
}

// read says what is to be seen in the face of a slice, and how it eats.
func read(s *Slice, p atlas.Piece, pr atlas.Product, b *body.Body, scores Scores) (err error) {
	slices.SortStableFunc(s.Parts, func(a, b body.Share) int { return int(b.Mass - a.Mass) })
	counts := map[string]atlas.Muscle{}
	var known []eating.Portion
	worst := math.Inf(1)
	for _, x := range s.Parts {
		m, muscle := p.Muscle(x.Part)
		if !muscle {
			continue
		}
		score, ok := scores(x.Part, pr.Cook)
		if ok {
			known = append(known, eating.Portion{Muscle: m.ID, Mass: float64(x.Mass), Score: score})
		}
		if float64(x.Mass) <= Worth*float64(s.Mass) {
			continue
		}
		counts[m.ID] = m
		if ok && score.Mean < worst {
			worst, s.Worst = score.Mean, m.ID
		}
		if ok && score.Grade() == eating.BelowThree {
			s.Below = append(s.Below, m.ID)
		}
	}
	s.Muscles = len(counts)
	if mixed, ok := eating.Mix(known); ok {
		s.Eats = &mixed.Score
	}
	if s.Section, err = b.SectionAt((s.FromMm + s.ToMm) / 2); err != nil {
		return err
	}
	method, _ := atlas.FindMethod(pr.Cook)
	for _, border := range s.Section.Borders {
		a, here := counts[border.A]
		z, there := counts[border.B]
		if here && there {
			s.Lines = append(s.Lines, Line{border.A, border.B, border.Across,
				method.Quick && border.Across >= through && (a.Connective == "high" || z.Connective == "high")})
		}
	}
	s.Falls = slices.ContainsFunc(s.Lines, func(l Line) bool { return l.Across > apart })
	return nil
}

func (x *Product) add(s Slice) {
	for _, c := range []struct {
		is bool
		n  *int
	}{{s.Hard(), &x.Hard}, {s.Muscles > 2, &x.Many}, {len(s.Below) > 0, &x.Low}, {s.Falls, &x.Falls}} {
		if c.is {
			*c.n++
		}
	}
	if x.Lightest == 0 || s.Mass < x.Lightest {
		x.Lightest = s.Mass
	}
	x.Heavy = max(x.Heavy, s.Mass)
}

// mean is how slices eat on the whole: the mean by weight. What is known of one is not independent of the next, so that
// its scatter is their mean too.
func mean(of []Slice) *eating.Score {
	var sum, sd, known float64
	for _, s := range of {
		if s.Eats != nil {
			w := float64(s.Mass)
			sum, sd, known = sum+w*s.Eats.Mean, sd+w*s.Eats.SD, known+w
		}
	}
	if known == 0 {
		return nil
	}
	return &eating.Score{Method: of[0].method(), Mean: sum / known, SD: sd / known, Basis: "estimated"}
}

func (s Slice) method() string {
	if s.Eats == nil {
		return ""
	}
	return s.Eats.Method
}

// stop finds where the first hard line comes up behind slices without one.
func (r *Reading) stop(b *body.Body) {
	at := slices.IndexFunc(r.Slices, Slice.Hard)
	if at < 1 {
		return
	}
	first := r.Slices[at]
	r.StopMm = first.FromMm
	before := map[string]bool{}
	for _, s := range r.Slices[at-1].Parts {
		if float64(s.Mass) > Worth*float64(r.Slices[at-1].Mass) {
			before[s.Part] = true
		}
	}
	for _, l := range first.Lines {
		for _, id := range []string{l.A, l.B} {
			if l.Hard && !before[id] {
				r.Stop = id
			}
		}
	}
	if from, _ := b.Shows(r.Stop, 0.01); r.Stop != "" {
		r.StopMm = math.Min(r.StopMm, from)
	}
}
