package compare

import (
	"context"
	"maps"
	"slices"
	"strings"

	"gonum.org/v1/gonum/stat"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/page"
	"falda/internal/core/trial"
	"falda/internal/core/words"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/shop"
	"falda/internal/work/stock"
)

const (
	maxTrialName = 80
	maxPairs     = 200
	confidence   = 95.0 // per cent
)

// TrialPiece is one piece of a pair, and what it brought.
type TrialPiece struct {
	Card   stock.Card
	Closed bool
	PerKg  float64            // value a kilogram, in the shop's currency
	Shares map[string]float64 // of each muscle, per cent of the piece
}

// TrialPair is a pair, and B less A where both are closed.
type TrialPair struct {
	Number     int
	A, B       TrialPiece
	Complete   bool
	Difference float64
	Outlier    bool
}

// TrialMuscle is one muscle's yield by pairs, B less A in percentage points; P is corrected for asking of several
// muscles.
type TrialMuscle struct {
	Muscle atlas.Muscle
	Result trial.Result
	P      float64
}

// TrialView is a trial with its result.
type TrialView struct {
	store.Trial
	Piece        atlas.Piece
	NameA, NameB string
	said         [2]string // the plans' short names, for the sentence
	Pairs        []TrialPair
	Result       *trial.Result // nil while no pair is complete
	Muscles      []TrialMuscle
	Sentence     string
}

// trialsAtOnce is how many trials a page of their list holds.
const trialsAtOnce = 50

// Trials lists trials, the latest first, page by page, with the mark at which the next one goes on; empty after the
// last.
func (s *Service) Trials(ctx context.Context, after string) ([]store.Trial, string, error) {
	mark, err := page.Read(after, 1)
	if err != nil {
		return nil, "", err
	}
	shop, err := s.shops.Current(ctx)
	if err != nil {
		return nil, "", err
	}
	list, err := s.store.Trials(ctx, shop.ID, append(mark, 0)[0], trialsAtOnce+1)
	if err != nil || len(list) <= trialsAtOnce {
		return list, "", err
	}
	list = list[:trialsAtOnce]
	return list, page.Mark(list[trialsAtOnce-1].ID), nil
}

// Scatter is by how much the difference between two ways of cutting varies from piece to piece, and what says so.
type Scatter struct {
	SD    float64
	N     int    // pairs, or pieces
	Trial string // name of the trial that it comes from; empty where it is the gains of pieces, each plan's by itself
}

// PairsNeeded says how many pairs find a difference of so much a kilogram between two plans (power 80 %, α 5 %). How
// their difference scatters is what the house's largest trial of the same two plans found; without one it is how the
// gains of pieces of one plan scatter, pooled over the plans (of the two, where both are named): a gain is on the other
// way of cutting, so that gains of different plans are not of one kind. Needed is 0 where the house has too few, or no
// number would do.
func (s *Service) PairsNeeded(ctx context.Context, atlasID, planA, planB string, difference float64) (needed int,
	from Scatter, err error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return 0, from, err
	}
	if !(difference > 0 && difference < 1e6) {
		return 0, from,
			fault.New("difference", "out_of_range", "must be above zero", "Say what difference a kilogram would matter.")
	}
	if from, err = s.scatter(ctx, shop, atlasID, planA, planB); err != nil || from.SD == 0 {
		return 0, from, err
	}
	return trial.Needed(difference, from.SD, confidence), from, nil
}

// scatterTrials is how many of the latest trials of two plans are asked how their difference scatters.
const scatterTrials = 10

func (s *Service) scatter(ctx context.Context, shop shop.WithPlans, atlasID, planA, planB string) (Scatter, error) {
	var out Scatter
	trials, err := s.store.TrialsOf(ctx, shop.ID, atlasID, planA, planB, scatterTrials)
	if err != nil {
		return out, err
	}
	for _, t := range trials {
		v, err := s.Trial(ctx, t.PublicID)
		if err != nil {
			return out, err
		}
		if r := v.Result; r != nil && r.Enough && r.N > out.N {
			out = Scatter{SD: r.SD, N: r.N, Trial: v.Name}
		}
	}
	if out.N > 0 {
		return out, nil
	}
	gains, err := s.store.PastGains(ctx, shop.ID, atlasID)
	if err != nil {
		return out, err
	}
	byPlan := map[string][]float64{}
	for _, g := range gains {
		if planA == "" && planB == "" || g.PlanID == planA || g.PlanID == planB {
			byPlan[g.PlanID] = append(byPlan[g.PlanID], g.Gain)
			out.N++
		}
	}
	var samples []trial.Sample
	for _, plan := range slices.Sorted(maps.Keys(byPlan)) {
		x := trial.Sample{N: len(byPlan[plan]), Mean: stat.Mean(byPlan[plan], nil)}
		if x.N > 1 {
			x.SD = stat.StdDev(byPlan[plan], nil)
		}
		samples = append(samples, x)
	}
	if out.N >= trial.MinPairs {
		out.SD = trial.Pooled(samples...)
	}
	return out, nil
}

// VoidTrial takes a trial out, with a reason, or back in.
func (s *Service) VoidTrial(ctx context.Context, id string, void bool, reason string, version int) (TrialView, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return TrialView{}, err
	}
	t, pairs, err := s.store.Trial(ctx, shop.ID, id)
	if err != nil {
		return TrialView{}, err
	}
	reason = strings.TrimSpace(reason)
	if err := fault.Text(reason, 200, void); err != nil {
		return TrialView{},
			fault.New("reason", "required", "is empty or too long", "Say in a few words why it must not count.")
	}
	was := t.State
	t.State, t.Reason, t.Version = map[bool]string{true: "void", false: "open"}[void], reason, version
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		if !void && was != t.State { // its pieces may be in another by now
			if _, err := holdPairs(ctx, tx, shop.ID, pairs); err != nil {
				return audit.Change{}, err
			}
		}
		return audit.Change{Action: "trial.changed", Subject: id, SubjectName: t.Name, Was: map[string]any{"state": was},
			Became: map[string]any{"state": t.State, "reason": reason}}, tx.VoidTrial(ctx, t)
	})
	if err != nil {
		return TrialView{}, err
	}
	return s.Trial(ctx, id)
}

// Trial gives a trial with its result: by value a kilogram at the prices of the day each piece was closed, and by
// muscle. A pair counts once both of it are closed; a piece without its mate is shown and counts for nothing.
func (s *Service) Trial(ctx context.Context, id string) (TrialView, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return TrialView{}, err
	}
	t, pairs, err := s.store.Trial(ctx, shop.ID, id)
	if err != nil {
		return TrialView{}, err
	}
	v := TrialView{Trial: t}
	v.Piece, _ = s.atlas.Find(t.AtlasID)
	p := shop.AddOwn(v.Piece, "")
	names := func(id string) (name, short string) {
		if pl, ok := p.Plan(id); ok {
			return pl.Name, pl.ShortName()
		}
		return id, id
	}
	v.NameA, v.said[0] = names(t.PlanA)
	v.NameB, v.said[1] = names(t.PlanB)
	var a, b, d []float64
	pieces, err := s.trialPieces(ctx, shop, pairs)
	if err != nil {
		return v, err
	}
	for _, r := range pairs {
		x := TrialPair{Number: r.Number, A: pieces[r.PieceA], B: pieces[r.PieceB]}
		if x.Complete = x.A.Closed && x.B.Closed; x.Complete {
			x.Difference = x.B.PerKg - x.A.PerKg
			a, b, d = append(a, x.A.PerKg), append(b, x.B.PerKg), append(d, x.Difference)
		}
		v.Pairs = append(v.Pairs, x)
	}
	marked, at := trial.Outliers(d), 0
	for i := range v.Pairs {
		if v.Pairs[i].Complete {
			v.Pairs[i].Outlier = marked[at]
			at++
		}
	}
	if len(d) > 0 {
		r, err := trial.Compare(true, a, b, confidence)
		if err != nil {
			return v, err
		}
		v.Result = &r
		if err := v.byMuscle(); err != nil {
			return v, err
		}
	}
	v.explain(shop.Shop)
	return v, nil
}

// trialPieces reads the pieces of a trial, all at once.
func (s *Service) trialPieces(ctx context.Context, shop shop.WithPlans,
	pairs []store.TrialPair) (map[int64]TrialPiece, error) {
	var ids []int64
	for _, r := range pairs {
		ids = append(ids, r.PieceA, r.PieceB)
	}
	rows, _, err := s.store.PieceRowsByID(ctx, shop.ID, ids)
	if err != nil {
		return nil, err
	}
	out := make(map[int64]TrialPiece, len(rows))
	var closed []store.Breakdown
	for id, h := range rows {
		card, err := s.stock.Card(h, shop)
		if err != nil {
			return nil, err
		}
		out[id] = TrialPiece{Card: card}
		if h.Breakdown != nil && h.Breakdown.State == "closed" {
			closed = append(closed, *h.Breakdown)
		}
	}
	boards, err := s.bench.Boards(ctx, shop, closed)
	if err != nil {
		return nil, err
	}
	sheets, err := s.bench.SheetsAsCut(ctx, boards...)
	if err != nil {
		return nil, err
	}
	for i, v := range boards {
		x := out[v.Card.Row.Piece.ID]
		x.Closed, x.PerKg, x.Shares = true, sheets[i].Totals().PerKg.Float(), map[string]float64{}
		for _, m := range x.Card.Piece.Muscles { // only what was weighed: cut straight through, a muscle is not
			if g, times := v.Board.Alone(m.ID); times > 0 {
				x.Shares[m.ID] = float64(g) / float64(v.Board.Input()) * 100
			}
		}
		out[v.Card.Row.Piece.ID] = x
	}
	return out, nil
}

// byMuscle asks the same of each muscle's yield; a muscle counts where it was weighed in both of at least three pairs.
func (v *TrialView) byMuscle() error {
	var ps []float64
	for _, m := range v.Piece.Muscles {
		var a, b []float64
		for _, x := range v.Pairs {
			ya, oka := x.A.Shares[m.ID]
			yb, okb := x.B.Shares[m.ID]
			if x.Complete && oka && okb {
				a, b = append(a, ya), append(b, yb)
			}
		}
		if len(a) < trial.MinPairs {
			continue
		}
		r, err := trial.Compare(true, a, b, confidence)
		if err != nil {
			return err
		}
		v.Muscles, ps = append(v.Muscles, TrialMuscle{Muscle: m, Result: r}), append(ps, r.P)
	}
	for i, p := range trial.Holm(ps) {
		v.Muscles[i].P = p
	}
	return nil
}

// explain puts the result in a sentence.
func (v *TrialView) explain(shop shop.Shop) {
	if v.State == "void" {
		v.Sentence = "Void: " + v.Reason
		return
	}
	open := 0
	for _, x := range v.Pairs {
		if !x.Complete {
			open++
		}
	}
	v.Sentence = words.Trial{A: v.said[0], B: v.said[1], Pairs: len(v.Pairs), Open: open, Result: v.Result,
		ConfidencePct: confidence, Unit: shop.Unit, Currency: shop.Money}.Sentence()
}
