package learn

import (
	"context"
	"errors"
	"slices"
	"strings"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/core/value"
	"falda/internal/core/words"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/bench"
)

// Level is how much a bench says of a practice piece.
type Level int

// The levels.
const (
	AllWords Level = 1 // as always
	OnAsking Level = 2 // when a word is asked for
	NoWords  Level = 3 // cautions only
)

// SetPractice makes a breakdown a practice piece of somebody, or changes whose and how. An apprentice may do that for
// themselves; for others it takes a lead.
func (s *Service) SetPractice(ctx context.Context, breakdown, member string, level Level) error {
	m, who, err := s.person(ctx, member)
	if errors.Is(err, store.ErrNotFound) {
		return fault.New("member", "unknown", "is not somebody you may choose", "Choose yourself, or ask a head cutter.")
	}
	if err != nil {
		return err
	}
	if level < AllWords || level > NoWords {
		return fault.New("level", "out_of_range", "must be from 1 to 3", "Choose one of the three.")
	}
	b, err := s.store.Breakdown(ctx, who.ShopID, breakdown)
	if err != nil {
		return err
	}
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		return audit.Change{Action: "practice.set", Subject: breakdown,
				Became: map[string]any{"level": int(level), "member": m.PublicID}},
			tx.SetPractice(ctx, store.Practice{ShopID: who.ShopID, BreakdownID: b.ID, MemberID: m.ID, Level: int(level),
				SetBy: who.MemberKey(), SetAt: s.now()})
	})
}

// EndPractice makes a breakdown an ordinary one again; what was said of its steps stays.
func (s *Service) EndPractice(ctx context.Context, breakdown string) error {
	row, who, err := s.practiceRow(ctx, breakdown)
	if err != nil {
		return err
	}
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		return audit.Change{Action: "practice.ended", Subject: breakdown, Was: map[string]any{"member": row.Member}},
			tx.EndPractice(ctx, who.ShopID, row.BreakdownID)
	})
}

// practiceRow gives a practice piece that the caller may see: their own, or anybody's to a lead.
func (s *Service) practiceRow(ctx context.Context, breakdown string) (store.PracticeRow, audit.Caller, error) {
	who, err := audit.Who(ctx)
	if err != nil {
		return store.PracticeRow{}, who, err
	}
	b, err := s.store.Breakdown(ctx, who.ShopID, breakdown)
	if err != nil {
		return store.PracticeRow{}, who, err
	}
	row, err := s.store.PracticeOf(ctx, who.ShopID, b.ID)
	if err == nil && row.Member != who.Member && !Leads(who) {
		err = store.ErrNotFound
	}
	return row, who, err
}

// Marked is what a bench must know of a practice piece: whose it is and how much it says. It is no secret at the bench.
func (s *Service) Marked(ctx context.Context, breakdown string) (*store.PracticeRow, error) {
	who, err := audit.Who(ctx)
	if err != nil {
		return nil, err
	}
	b, err := s.store.Breakdown(ctx, who.ShopID, breakdown)
	if err != nil {
		return nil, err
	}
	row, err := s.store.PracticeOf(ctx, who.ShopID, b.ID)
	if errors.Is(err, store.ErrNotFound) {
		return nil, nil
	}
	return &row, err
}

// Review is a finished practice piece beside the house.
type Review struct {
	store.PracticeRow
	Piece, Plan  string
	Closed       bool
	Minutes      float64
	HouseMinutes float64 // what the others took for pieces like it, scaled to its weight; 0 where nobody else cut one
	Past         int     // earlier pieces behind the house's yields
	Timed        int     // pieces behind that
	Steps        []StepReview
	Remarks      []string // what else is to be said: bone, fat, order, give-away
	Notes        []store.HouseNoteRow
	MaySign      bool
}

// StepReview is one weighing of a practice piece beside the house, with what was last said of it.
type StepReview struct {
	Step         string
	Name         string
	Kind         string
	Minutes      float64 // 0: not timed
	HouseMinutes float64 // 0: not known
	HouseTimed   int     // pieces behind it
	value.Yield
	Signed *store.SignOffRow
}

// Review gives a practice piece beside the house.
func (s *Service) Review(ctx context.Context, breakdown string) (Review, error) {
	row, who, err := s.practiceRow(ctx, breakdown)
	if err != nil {
		return Review{}, err
	}
	v, err := s.bench.BoardForSale(ctx, breakdown)
	if err != nil {
		return Review{}, err
	}
	out := Review{PracticeRow: row, Piece: v.Card.Piece.Name, Plan: v.Plan.Name, Closed: v.Board.Closed(),
		Minutes: v.Minutes, MaySign: Leads(who) && row.Member != who.Member}
	if out.Notes, err = s.store.PracticeNotes(ctx, who.ShopID, row.BreakdownID); err != nil || !out.Closed {
		return out, err
	}
	yields, err := s.bench.Yields(ctx, breakdown)
	if err != nil {
		return out, err
	}
	house, err := s.bench.HouseSteps(ctx, v, row.Member)
	if err != nil {
		return out, err
	}
	whole, err := s.othersPace(ctx, v.Shop, v.Card.Piece, v.Plan, row.MemberID)
	if err != nil {
		return out, err
	}
	signed, err := s.signed(ctx, row)
	if err != nil {
		return out, err
	}
	out.Past, out.Timed = yields.Past, whole.n
	out.HouseMinutes = whole.times * v.Card.Piece.MinutesAt(v.Plan, v.Board.Input())
	for _, y := range yields.Rows {
		r := StepReview{Step: y.ID, Name: y.Name, Kind: y.Kind, Yield: y, Minutes: yields.Took[y.ID].Minutes()}
		if t, ok := house[y.ID]; ok {
			r.HouseMinutes, r.HouseTimed = t.Minutes, t.N
		}
		if x, ok := signed[y.ID]; ok {
			r.Signed = &x
		}
		out.Steps = append(out.Steps, r)
	}
	out.Remarks = remarks(v, yields)
	return out, nil
}

// signed gives what was last said of each step of a piece and plan that somebody practises.
func (s *Service) signed(ctx context.Context, row store.PracticeRow) (map[string]store.SignOffRow, error) {
	list, err := s.store.SignOffs(ctx, row.ShopID, row.MemberID)
	out := map[string]store.SignOffRow{}
	for _, x := range list {
		if x.AtlasID == row.AtlasID && x.PlanID == row.PlanID {
			out[x.Step] = x
		}
	}
	return out, err
}

// remarks says what else a head cutter would see: meat left on bones, lean left on fat, what came off too early,
// portions that are too heavy, and what was noted at the bench.
func remarks(v bench.BoardView, y bench.YieldsView) []string {
	var out []string
	for _, r := range y.Rows {
		part, ok := v.Card.Piece.Part(r.ID)
		switch {
		case !ok:
		case part.Kind == atlas.KindBone && r.Odd() == "above":
			out = append(out, words.MeatLeft(r.Name, "bone", over(r), v.Shop.Unit))
		case part.Kind == atlas.KindFat && r.Odd() == "above":
			out = append(out, words.MeatLeft(r.Name, "fat", over(r), v.Shop.Unit))
		}
	}
	given := measure.Mass(0)
	for _, n := range v.Board.Nodes {
		if n.OutOfOrder {
			out = append(out, words.TooEarly(v.NameOf(n)))
		}
		if pr, ok := v.Plan.Product(n.Product); ok && n.Count > 0 {
			given += giveAway(pr, n)
		}
	}
	if given > 0 {
		out = append(out, words.GivenAway(given, v.Shop.Unit))
	}
	for _, note := range v.Board.Notes {
		out = append(out, "Noted: "+strings.TrimSpace(note))
	}
	return slices.Compact(out)
}

// over is by how much a yield lies above its band.
func over(y value.Yield) measure.Mass {
	return measure.Mass(float64(y.Mass) * (1 - y.High/y.Pct))
}

// giveAway is by how much portions of a wanted weight are heavier than it.
func giveAway(pr atlas.Product, n seam.Node) measure.Mass {
	want, err := measure.FromGrams(pr.PortionG * float64(n.Count))
	if err != nil || want <= 0 {
		return 0
	}
	return max(0, n.Mass-want)
}

// SignOff is what a lead says of steps of a practice piece.
type SignOff struct {
	Step   string
	Signed bool // else it is to be practised
	Words  string
}

// maxSaid bounds the words to a step.
const maxSaid = 300

// Sign keeps what a lead says of a step that somebody practised. Nobody signs off their own.
func (s *Service) Sign(ctx context.Context, breakdown string, in SignOff) error {
	r, err := s.Review(ctx, breakdown)
	if err != nil {
		return err
	}
	who, err := audit.Who(ctx)
	if err != nil {
		return err
	}
	var faults fault.List
	at := slices.IndexFunc(r.Steps, func(x StepReview) bool { return x.Step == in.Step && x.Kind != "loss" })
	switch {
	case !r.MaySign:
		return fault.NewConflict("", "own", "Nobody signs off their own steps.", "Ask a head cutter.")
	case !r.Closed:
		return fault.NewConflict("", "open", "The piece is not finished.", "Finish it at the bench first.")
	case at < 0:
		faults.Add("step", fault.New("", "unknown", "is not a step of this piece", "Choose one of the list."))
	}
	faults.Add("words", fault.Text(in.Words, maxSaid, !in.Signed))
	if err := faults.Err(); err != nil {
		return err
	}
	x := store.SignOff{ShopID: who.ShopID, MemberID: r.MemberID, BreakdownID: r.BreakdownID, AtlasID: r.AtlasID,
		PlanID: r.PlanID, Step: in.Step, StepName: words.Truncate(r.Steps[at].Name, 200), Signed: in.Signed,
		Words: strings.TrimSpace(in.Words), ByID: who.MemberID, At: s.now()}
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		action := "step.practise"
		if in.Signed {
			action = "step.signed"
		}
		return audit.Change{Action: action, Subject: breakdown, SubjectName: x.StepName,
			Became: map[string]any{"step": x.Step, "words": x.Words, "member": r.Member}}, tx.AddSignOff(ctx, &x)
	})
}
