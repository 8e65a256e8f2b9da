package judge

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"falda/internal/core/atlas"
	"falda/internal/core/eating"
	"falda/internal/core/fault"
	"falda/internal/core/words"
	"falda/internal/store"
	"falda/internal/tabular"
	"falda/internal/work/audit"
	"falda/internal/work/shop"
)

// MuscleGrades are a muscle's grades by every method there is something known of.
type MuscleGrades struct {
	Muscle  atlas.Muscle
	Grades  []Graded
	Best    string
	NoSteak bool
}

// PieceGrades are the grades of a piece's muscles.
type PieceGrades struct {
	Piece   atlas.Piece
	Methods []atlas.Method
	Muscles []MuscleGrades
	// what to taste of it
	Proposals []Proposal
}

// Grades gives the house's grades of a piece of the atlas, of an animal of which nothing more is known.
func (s *Service) Grades(ctx context.Context, atlasID string) (PieceGrades, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return PieceGrades{}, err
	}
	p, ok := s.atlas.Find(atlasID)
	if !ok {
		return PieceGrades{}, store.ErrNotFound
	}
	g, err := s.HouseGrades(ctx, shop)
	if err != nil {
		return PieceGrades{}, err
	}
	out := g.piece(p)
	out.Proposals, err = s.propose(ctx, shop, out)
	return out, err
}

func (g HouseGrades) piece(p atlas.Piece) PieceGrades {
	out := PieceGrades{Piece: p}
	used := map[string]bool{}
	for _, m := range p.Muscles {
		x := MuscleGrades{Muscle: m}
		var scores []eating.Score
		for _, method := range atlas.Methods {
			if c := g.Of(p, m.ID, method.ID, ""); c.Known {
				x.Grades, scores = append(x.Grades, c), append(scores, c.Score)
				used[method.ID] = true
			}
		}
		best, _ := eating.Best(scores)
		x.Best, x.NoSteak = best.Method, eating.NoSteak(scores)
		out.Muscles = append(out.Muscles, x)
	}
	for _, m := range atlas.Methods {
		if used[m.ID] {
			out.Methods = append(out.Methods, m)
		}
	}
	return out
}

// Regraded is a grade that a change of the settings moved.
type Regraded struct {
	Piece, Muscle, Method string
	Was, Became           eating.Score
}

// Eating gives the house's settings for grades, and the version of the shop that they are of.
func (s *Service) Eating(ctx context.Context) (eating.House, int, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return eating.House{}, 0, err
	}
	h, err := houseOf(shop.Shop.Shop)
	return h, shop.Version, err
}

// SetEating changes the house's settings for grades, and says which grades that moves.
func (s *Service) SetEating(ctx context.Context, h eating.House, version int) ([]Regraded, error) {
	of, before, after, err := s.withEating(ctx, h)
	if err != nil {
		return nil, err
	}
	raw, err := json.Marshal(h)
	if err != nil {
		return nil, err
	}
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		was, became := map[string]any{}, map[string]any{}
		a, b := fieldsOf(before.House), fieldsOf(h)
		for k, v := range b {
			if a[k] != v {
				was[k], became[k] = a[k], v
			}
		}
		if len(became) == 0 && version == of.Version {
			return audit.Change{}, nil
		}
		return audit.Change{Action: "eating.set", Subject: of.PublicID, SubjectName: of.Name, Was: was, Became: became},
			tx.SetEating(ctx, of.ID, version, raw)
	})
	if err != nil {
		return nil, err
	}
	return s.moved(before, after), nil
}

// PreviewEating says which grades a change of the settings would move; it changes nothing.
func (s *Service) PreviewEating(ctx context.Context, h eating.House) ([]Regraded, error) {
	_, before, after, err := s.withEating(ctx, h)
	if err != nil {
		return nil, err
	}
	return s.moved(before, after), nil
}

// withEating is what the house knows by its settings for grades and by others, which are checked.
func (s *Service) withEating(ctx context.Context, h eating.House) (of shop.WithPlans, before, after HouseGrades,
	err error) {
	if of, err = s.shops.WithPlans(ctx); err != nil {
		return of, before, after, err
	}
	if err = h.Check(); err != nil {
		return of, before, after, err
	}
	if before, err = s.HouseGrades(ctx, of); err != nil {
		return of, before, after, err
	}
	after, err = s.gradesBy(ctx, of, h)
	return of, before, after, err
}

// moved lists the grades that differ.
func (s *Service) moved(before, after HouseGrades) []Regraded {
	var out []Regraded
	seen := map[string]bool{}
	for _, p := range s.atlas.Pieces {
		for _, m := range p.Muscles {
			for _, method := range atlas.Methods {
				was, now := before.Of(p, m.ID, method.ID, ""), after.Of(p, m.ID, method.ID, "")
				if key := gradeKey(p, m.ID, method.ID); now.Known && was.Score.Grade() != now.Score.Grade() && !seen[key] {
					seen[key] = true
					out = append(out, Regraded{Piece: p.Name, Muscle: m.Name, Method: method.Name, Was: was.Score, Became: now.Score})
				}
			}
		}
	}
	return out
}

func fieldsOf(h eating.House) map[string]any {
	out := map[string]any{}
	raw, err := json.Marshal(h)
	if err == nil {
		err = json.Unmarshal(raw, &out)
	}
	if err != nil { // a plain struct of numbers and a word
		panic(err)
	}
	return out
}

// GradeColumns name the columns of a sheet of scores that came in, as its own heading has them.
type GradeColumns struct {
	Piece, Muscle, Method, Score string
}

// GradeLine is a line of a sheet of scores that came in.
type GradeLine struct {
	Line                  int
	Piece, Muscle, Method string
	Score                 float64
	Fault                 error
	row                   store.ExternalScore
}

// GradeSheet is a sheet that came in: its tabular.Heading, the columns that were taken, and its lines.
type GradeSheet struct {
	Heading []string
	Columns GradeColumns
	Lines   []GradeLine
}

// gradeWords are names under which the columns are often found.
var gradeWords = map[string][]string{
	"piece": {"piece", "block", "primal", "cut", "atlas_id"}, "muscle": {"muscle", "part"},
	"method": {"method", "cooking method", "cook"}, "score": {"score", "mqs", "points", "eating quality"},
}

// ImportGiven reads a sheet of scores that a supplier or programme gave; columns that are not named are guessed from
// the heading. With save the good lines are kept, and take the place of earlier ones of the same muscle and method.
func (s *Service) ImportGiven(ctx context.Context, rows [][]string, named GradeColumns, source string,
	save bool) (GradeSheet, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return GradeSheet{}, err
	}
	if len(rows) < 2 {
		return GradeSheet{}, fault.New("file", "empty", "has no lines below its heading", "The first line names the columns.")
	}
	out := GradeSheet{Heading: rows[0], Columns: named}
	at := tabular.HeadingOf(rows[0])
	for _, x := range []struct {
		name  string
		value *string
	}{{"piece", &out.Columns.Piece}, {"muscle", &out.Columns.Muscle}, {"method", &out.Columns.Method},
		{"score", &out.Columns.Score}} {
		field, into := x.name, x.value
		if *into != "" && !at.Has(strings.ToLower(*into)) {
			return out,
				fault.New(field, "unknown", fault.Quote(*into)+" is not a column of the file", "Choose one of its columns.")
		}
		for _, w := range gradeWords[field] {
			if *into == "" && at.Has(w) {
				*into = rows[0][at[w]]
			}
		}
	}
	source = strings.TrimSpace(source)
	if save {
		if err := fault.Text(source, 80, true); err != nil {
			return out,
				fault.New("source", "required", "is empty or too long", "Say in up to 80 characters who gave the scores.")
		}
	}
	var good []store.ExternalScore
	for i, row := range rows[1:] {
		cell := at.Of(row)
		get := func(column string) string {
			if column == "" {
				return ""
			}
			return cell(strings.ToLower(strings.TrimSpace(column)))
		}
		l := s.readGradeLine(get(out.Columns.Piece), get(out.Columns.Muscle), get(out.Columns.Method), get(out.Columns.Score))
		l.Line = i + 2
		if l.Fault == nil {
			l.row.ShopID, l.row.Source, l.row.At = shop.ID, source, s.now()
			good = append(good, l.row)
		}
		out.Lines = append(out.Lines, l)
	}
	if !save || len(good) == 0 {
		return out, nil
	}
	return out, s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		return audit.Change{Action: "grades.given", Subject: shop.PublicID, SubjectName: source,
			Became: map[string]any{"scores": len(good)}}, tx.SetGiven(ctx, good)
	})
}

func (s *Service) readGradeLine(piece, muscle, method, score string) GradeLine {
	l := GradeLine{Piece: piece, Muscle: muscle, Method: method}
	same := func(a, b string) bool { return strings.EqualFold(strings.TrimSpace(a), strings.TrimSpace(b)) }
	i := slices.IndexFunc(s.atlas.Pieces, func(p atlas.Piece) bool { return same(p.ID, piece) || same(p.Name, piece) })
	if i < 0 {
		l.Fault = fault.New("piece", "unknown", fault.Quote(piece)+" is not a piece of the atlas",
			"Name it as the atlas does.")
		return l
	}
	p := s.atlas.Pieces[i]
	j := slices.IndexFunc(p.Muscles, func(m atlas.Muscle) bool {
		return same(m.ID, muscle) || same(m.Name, muscle) || same(words.Short(m.Name), muscle)
	})
	if j < 0 {
		l.Fault = fault.New("muscle", "unknown", fault.Quote(muscle)+" is not a muscle of "+p.Name,
			"Name it as the atlas does.")
		return l
	}
	k := slices.IndexFunc(atlas.Methods, func(m atlas.Method) bool { return same(m.ID, method) || same(m.Name, method) })
	if k < 0 {
		l.Fault = fault.New("method", "unknown", fault.Quote(method)+" is not a cooking method",
			"Name it as on the judge's page, such as Grill or Roast.")
		return l
	}
	n, err := strconv.ParseFloat(strings.Replace(strings.TrimSpace(score), ",", ".", 1), 64)
	if err != nil || !(n >= 0 && n <= 100) {
		l.Fault = fault.New("score", "out_of_range", fmt.Sprintf("“%s” is not a score from 0 to 100", fault.Shorten(score)),
			"")
		return l
	}
	l.Piece, l.Muscle, l.Method, l.Score = p.Name, p.Muscles[j].Name, atlas.Methods[k].Name, n
	l.row = store.ExternalScore{AtlasID: p.ID, Part: p.Muscles[j].ID, Method: atlas.Methods[k].ID, Score: n}
	return l
}
