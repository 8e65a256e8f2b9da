package judge

import (
	"context"
	"slices"
	"strings"

	"falda/internal/core/age"
	"falda/internal/core/atlas"
	"falda/internal/core/eating"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/bench"
	"falda/internal/work/stock"
)

// MuscleJudgement is one muscle by every method there is a score for.
type MuscleJudgement struct {
	Muscle   atlas.Muscle
	Mass     measure.Mass
	Measured bool
	Scores   []eating.Score
	How      map[string]Graded // by method: how the score came to be
	Best     string
	Chosen   string
	Note     string
	Version  int
	Ready    bool // old enough for quick cooking
	Warnings []string
}

// Judgement is a piece's muscles, judged.
type Judgement struct {
	View    bench.BoardView
	AgeDays int
	Methods []atlas.Method
	Muscles []MuscleJudgement
}

// Judge gives the judgement of a breakdown.
func (s *Service) Judge(ctx context.Context, id string) (Judgement, error) {
	v, err := s.bench.BoardForSale(ctx, id)
	if err != nil {
		return Judgement{}, err
	}
	choices, err := s.store.MethodChoices(ctx, v.Shop.ID, v.Breakdown.ID)
	if err != nil {
		return Judgement{}, err
	}
	grades, err := s.HouseGrades(ctx, v.Shop)
	if err != nil {
		return Judgement{}, err
	}
	j := Judgement{View: v, AgeDays: v.Card.AgeDays}
	known := s.known(v)
	used := map[string]bool{}
	masses := v.Card.Piece.Split(v.Card.Weight)
	for i, m := range v.Card.Piece.Muscles {
		mj := MuscleJudgement{Muscle: m, Mass: masses[i], Scores: grades.Scores(v.Card.Piece, m.ID, known),
			How: map[string]Graded{}}
		if taken, times := v.Board.Alone(m.ID); times > 0 {
			mj.Mass, mj.Measured = taken, true
		}
		if best, ok := eating.Best(mj.Scores); ok {
			mj.Best, mj.Chosen = best.Method, best.Method
		}
		for _, c := range choices {
			if c.Part == m.ID {
				mj.Note, mj.Version = c.Note, c.Version
				if c.Method != "" {
					mj.Chosen = c.Method
				}
			}
		}
		for _, sc := range mj.Scores {
			used[sc.Method] = true
			mj.How[sc.Method] = grades.With(v.Card.Piece, m.ID, sc.Method, known)
		}
		s.warn(&mj, v)
		j.Muscles = append(j.Muscles, mj)
	}
	for _, m := range atlas.Methods {
		if used[m.ID] {
			j.Methods = append(j.Methods, m)
		}
	}
	return j, nil
}

// warn says what speaks against the chosen method.
func (s *Service) warn(mj *MuscleJudgement, v bench.BoardView) {
	on := age.Day(v.Card.Row.Lot.SlaughteredOn).AddDate(0, 0, mj.Muscle.MinAgeDays)
	mj.Ready = !v.Shop.Day(s.stock.CutOrNow(v.Card.Row)).Before(on)
	chosen, _ := atlas.FindMethod(mj.Chosen)
	if !mj.Ready && chosen.Quick {
		mj.Warnings = append(mj.Warnings, "Too young to "+strings.ToLower(chosen.Name)+" until "+on.Format("2 Jan")+".")
	}
	if eating.NoSteak(mj.Scores) {
		mj.Warnings = append(mj.Warnings, "Below 3 by every quick method: braise it, slice it thin or mince it.")
	}
	for _, sc := range mj.Scores {
		if sc.Method == mj.Chosen && sc.Grade() == eating.BelowThree {
			mj.Warnings = append(mj.Warnings, "Below 3 by "+strings.ToLower(chosen.Name)+".")
		}
	}
}

// ChooseMethod sets the method of a muscle against the best one, with the reason; an empty method goes back to the
// best. Version is that of the choice as it was seen, 0 where there was none.
func (s *Service) ChooseMethod(ctx context.Context, id, part, method, note string, version int) (Judgement, error) {
	v, err := s.bench.BoardForSale(ctx, id)
	if err != nil {
		return Judgement{}, err
	}
	m, ok := v.Card.Piece.Muscle(part)
	if !ok {
		return Judgement{}, store.ErrNotFound
	}
	note = strings.TrimSpace(note)
	var faults fault.List
	grades, err := s.HouseGrades(ctx, v.Shop)
	if err != nil {
		return Judgement{}, err
	}
	scores := grades.Scores(v.Card.Piece, m.ID, s.known(v))
	best, _ := eating.Best(scores)
	if method != "" {
		if !slices.ContainsFunc(scores, func(sc eating.Score) bool { return sc.Method == method }) {
			faults.Add("method",
				fault.New("", "unknown", "there is no score for "+fault.Quote(method)+" of this muscle",
					"Choose a method with a score."))
		} else if method != best.Method && note == "" {
			faults.Add("note", fault.Required("Say why the best method is not taken."))
		}
	}
	if len(note) > fault.MaxNote {
		faults.Add("note", fault.New("", "too_long", "is longer than 500 characters", "Shorten it."))
	}
	if err := faults.Err(); err != nil {
		return Judgement{}, err
	}
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		choices, err := tx.MethodChoices(ctx, v.Shop.ID, v.Breakdown.ID)
		if err != nil {
			return audit.Change{}, err
		}
		made := audit.Change{Action: "method.chosen", Subject: id, SubjectName: stock.PieceName(v.Card.Row) + ", " + m.Name,
			Became: map[string]any{"method": method, "note": note}}
		for _, c := range choices {
			if c.Part == part {
				made.Was = map[string]any{"method": c.Method, "note": c.Note}
			}
		}
		return made,
			tx.SetMethodChoice(ctx,
				store.MethodChoice{ShopID: v.Shop.ID, BreakdownID: v.Breakdown.ID, Part: part, Method: method, Note: note,
					Version: version})
	})
	if err != nil {
		return Judgement{}, err
	}
	return s.Judge(ctx, id)
}

// ConfirmJudgement lets the methods stand; the piece moves on to Compare. It must be closed on the bench.
func (s *Service) ConfirmJudgement(ctx context.Context, id string) (Judgement, error) {
	v, err := s.bench.BoardForSale(ctx, id)
	if err != nil {
		return Judgement{}, err
	}
	if !v.Board.Closed() {
		return Judgement{}, bench.NotFinished()
	}
	if v.Breakdown.JudgedAt == nil {
		err := s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
			return audit.Change{Action: "judgement.confirmed", Subject: id, SubjectName: stock.PieceName(v.Card.Row)},
				tx.Judge(ctx, v.Shop.ID, v.Breakdown.ID, s.now())
		})
		if err != nil {
			return Judgement{}, err
		}
	}
	return s.Judge(ctx, id)
}
