package judge

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"falda/internal/core/age"
	"falda/internal/core/atlas"
	"falda/internal/core/eating"
	"falda/internal/core/words"
	"falda/internal/store"
	"falda/internal/work/bench"
	"falda/internal/work/shop"
)

// PanelScore is one sample of a closed tasting that stands behind a grade.
type PanelScore struct {
	TastingID, Tasting string
	HeldOn             time.Time
	Score              float64
	Assessors          int
}

// Graded is what the house knows of a muscle by a method: the score, and how it came to be.
type Graded struct {
	Score  eating.Score
	Parts  []eating.Part // from the atlas' figure to the estimate
	Given  *store.ExternalScore
	Panels []PanelScore
	Known  bool
}

// HouseGrades are all grades of a house.
type HouseGrades struct {
	House  eating.House
	tasted map[string][]PanelScore
	given  map[string]store.ExternalScore
}

// gradeKey names a muscle by a method. Pieces that hold the same muscle, under the same id and anatomical name, share
// it.
func gradeKey(p atlas.Piece, part, method string) string {
	m, _ := p.Muscle(part)
	return p.Species + "|" + part + "|" + m.Anatomical + "|" + method
}

// houseOf reads the settings for grades of a shop.
func houseOf(row store.Shop) (eating.House, error) {
	h := eating.Usual
	if row.Eating != nil {
		if err := json.Unmarshal(*row.Eating, &h); err != nil {
			return h, fmt.Errorf("settings for grades of shop %s: %w", row.PublicID, err)
		}
	}
	return h, nil
}

// HouseGrades gives what a house knows; it is read once for each change of what it rests on.
func (s *Service) HouseGrades(ctx context.Context, shop shop.WithPlans) (HouseGrades, error) {
	if g, ok := s.grades.of(shop.ID, shop.GradesVersion); ok {
		return g, nil
	}
	g, err := s.readGrades(ctx, shop)
	if err == nil {
		s.grades.keep(shop.ID, shop.GradesVersion, g)
	}
	return g, err
}

func (s *Service) readGrades(ctx context.Context, shop shop.WithPlans) (HouseGrades, error) {
	h, err := houseOf(shop.Shop.Shop)
	if err != nil {
		return HouseGrades{}, err
	}
	return s.gradesBy(ctx, shop, h)
}

// gradesBy is what a house knows, by some settings for grades.
func (s *Service) gradesBy(ctx context.Context, shop shop.WithPlans, h eating.House) (HouseGrades, error) {
	g := HouseGrades{House: h, tasted: map[string][]PanelScore{}, given: map[string]store.ExternalScore{}}
	w, _ := eating.FindWeights(g.House.Weights)
	found, err := s.store.PanelResults(ctx, shop.ID, w.ID)
	if err != nil {
		return g, err
	}
	for _, r := range found {
		p, ok := s.atlas.Find(r.AtlasID)
		if !ok { // a piece that the atlas has no more
			continue
		}
		key := gradeKey(p, r.Part, r.Method)
		g.tasted[key] = append(g.tasted[key], PanelScore{TastingID: r.TastingPublic, Tasting: r.Tasting, HeldOn: r.HeldOn,
			Score: *r.Score, Assessors: r.Assessors})
	}
	given, err := s.store.Given(ctx, shop.ID)
	if err != nil {
		return g, err
	}
	for _, x := range given {
		if p, ok := s.atlas.Find(x.AtlasID); ok {
			g.given[gradeKey(p, x.Part, x.Method)] = x
		}
	}
	return g, nil
}

// Of gives the grade of a muscle by a method; a tasting may be left out of it.
func (g HouseGrades) Of(p atlas.Piece, part, method, without string) Graded {
	return g.with(p, part, method, eating.Facts{Species: p.Species}, without)
}

// With gives the grade of a muscle of an animal of which something is known.
func (g HouseGrades) With(p atlas.Piece, part, method string, f eating.Facts) Graded {
	return g.with(p, part, method, f, "")
}

func (g HouseGrades) with(p atlas.Piece, part, method string, f eating.Facts, without string) Graded {
	m, ok := p.Muscle(part)
	if !ok {
		return Graded{}
	}
	var out Graded
	key := gradeKey(p, part, method)
	score, parts, known := g.House.Estimate(m, method, f)
	out.Parts, out.Known = parts, known
	if !known { // nothing is known: anything is possible, about the middle
		score = eating.Score{Method: method, Mean: 55, SD: 15, Basis: "estimated"}
	}
	if x, ok := g.given[key]; ok {
		score = g.House.WithExternal(score, x.Score)
		out.Given, out.Known = &x, true
	}
	for _, t := range g.tasted[key] {
		if t.TastingID == without {
			continue
		}
		score = g.House.WithPanel(score, t.Score, t.Assessors)
		out.Panels, out.Known = append(out.Panels, t), true
	}
	out.Score = score
	return out
}

// WithEnd is [HouseGrades.With] of what a product of a plan takes of a muscle: where it is cut from one end alone, and
// that end is other meat, the grade says so. What was tasted of the muscle moves with it.
func (g HouseGrades) WithEnd(p atlas.Piece, part string, plan string, pr atlas.Product, f eating.Facts) Graded {
	out := g.With(p, part, pr.Cook, f)
	m, _ := p.Muscle(part)
	e, ok := m.EndOf(plan, pr.ID)
	if apart := m.Apart(e, pr.Cook); ok && out.Known && apart != 0 {
		out.Score.Mean = min(100, max(0, out.Score.Mean+apart))
		out.Parts = append(slices.Clone(out.Parts), eating.Part{Why: words.Uncapitalised(e.Name), Points: apart})
	}
	return out
}

// Scores gives what is known of a muscle, by every method there is something known of, in the order of atlas.Methods.
func (g HouseGrades) Scores(p atlas.Piece, part string, f eating.Facts) []eating.Score {
	var out []eating.Score
	for _, m := range atlas.Methods {
		if x := g.With(p, part, m.ID, f); x.Known {
			out = append(out, x.Score)
		}
	}
	return out
}

// known is what is known of the animal that a board's piece came from, on the day of the cut.
func (s *Service) known(v bench.BoardView) eating.Facts {
	return facts(v.Card.Piece, v.Card.Row.Lot, v.Shop.Day(s.stock.CutOrNow(v.Card.Row)))
}

// facts are what is known of the animal that a piece came from, on a day.
func facts(p atlas.Piece, lot store.Lot, on time.Time) eating.Facts {
	f := eating.Facts{Species: p.Species, Hind: strings.HasPrefix(p.Region, "hindquarter"), Hang: lot.About.Hang,
		Feed: lot.About.Feed}
	f.AgeDays = max(0, age.Days(lot.SlaughteredOn, on))
	f.FatPct, f.LeanPct = lot.About.FatPct, lot.About.LeanYieldPct
	// a marbling score, “9+” for nine or more; words of a supplier's own say nothing here
	score := strings.TrimSuffix(strings.TrimSpace(lot.About.Marbling), "+")
	if n, err := strconv.ParseFloat(score, 64); err == nil && n >= 0 && n <= 12 {
		f.Marbling = &n
	}
	return f
}
