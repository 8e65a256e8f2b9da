package api

import (
	"context"
	"maps"
	"slices"
	"strings"

	"falda/internal/api/contract"
	"falda/internal/core/age"
	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/core/steps"
	"falda/internal/core/words"
	"falda/internal/work/bench"
	"falda/internal/work/judge"
)

func balance(b seam.Balance) contract.Balance {
	input, limit := b.Input.Grams(), b.LimitPct
	return contract.Balance{InputG: &input, LossLimitPct: &limit, OutputG: b.Output.Grams(), ResidualG: b.Residual.Grams(),
		ResidualPct: round(b.ResidualPct(), 4), InnerLossG: some(b.Inner.Grams()), LossG: some(b.Loss().Grams()),
		LossPct: some(round(b.LossPct(), 4)), ToleranceG: b.Tolerance.Grams(), Verdict: contract.BalanceVerdict(b.Verdict)}
}

// boardWithDoubts encodes a board with what in its plan contradicts the grades.
func (h *handlers) boardWithDoubts(ctx context.Context, v bench.BoardView) (contract.Board, error) {
	doubts, err := h.work.Judge.BoardConflicts(ctx, v)
	return h.wholeBoard(v, doubts), err
}

// wholeBoard encodes a board with what stays the same while a piece is cut.
func (h *handlers) wholeBoard(v bench.BoardView, doubts []judge.GradeConflict) contract.Board {
	p, out := v.Card.Piece, h.board(v)
	seams := map[string]contract.SeamWords{}
	for _, m := range p.Muscles {
		var doubt string
		for _, d := range doubts {
			if d.Muscle.ID == m.ID {
				doubt = d.Sentence
			}
		}
		seams[m.ID] = contract.SeamWords{GradeConflict: some(doubt), Name: m.Name, Code: m.Code, Tell: m.Seam.Tell,
			Danger: m.Seam.Danger, DressingPct: round(v.Plan.Dressing(m.ID), 1),
			Ends: each(m.Ends, func(e atlas.End) contract.MuscleEnd {
				return contract.MuscleEnd{Id: m.EndID(e), Name: e.Name, SharePct: e.SharePct, Why: e.Why}
			})}
	}
	for _, d := range v.Flow.Steps {
		switch key := strings.TrimPrefix(d.ID, atlas.Thrown+"."); {
		case v.Plan.OwnSteps():
			seams["step:"+d.ID] = stepWords(v, d)
		case seams[key].Name == "" && d.Weigh != steps.WeighNone && d.Say != (steps.Say{}):
			seams[key] = stepWords(v, d)
		}
	}
	out.Fixed = &contract.BoardFixed{Plan: plan(p, v.Plan), Steps: planned(v), Findings: each(v.Findings, inspect),
		Inspect: each(p.Inspect, inspect), Cautions: texts(p.CautionsFor(v.Plan)), SeamMap: seamMap(p, v.Map),
		Dressing: each(seam.Dressing, func(d atlas.AnyPart) contract.PlanPart {
			return contract.PlanPart{Id: d.ID, Name: d.Name, Kind: d.Kind}
		}),
		MapBasis: "estimated", Words: seams, SoldAs: soldAs(p, v.Plan)}
	for _, part := range p.Parts() {
		if part.Kind != atlas.KindLoss {
			out.Fixed.Parts = append(out.Fixed.Parts, contract.PlanPart{Id: part.ID, Name: part.Name, Kind: part.Kind})
		}
	}
	return out
}

// soldAs lists what a piece may be sold as: the products of its plan, then those of its other plans.
func soldAs(p atlas.Piece, plan atlas.Plan) []contract.Named {
	var out []contract.Named
	for _, pl := range append([]atlas.Plan{plan}, p.Plans...) {
		for _, pr := range pl.Products {
			if !slices.ContainsFunc(out, func(n contract.Named) bool { return n.Id == pr.ID }) {
				out = append(out, contract.Named{Id: pr.ID, Name: pr.Name})
			}
		}
	}
	return out
}

func (h *handlers) board(v bench.BoardView) contract.Board {
	out := contract.Board{Id: v.Breakdown.PublicID, Piece: card(v.Card), Bench: h.bench(v.Bench), State: "waiting",
		Booked: v.Board.Events, Looked: v.Board.Looked, Found: texts(v.Board.Found), Balance: balance(v.Balance),
		Minutes: round(v.Minutes, 2), Running: v.Board.Open() && !v.Board.Paused, Paused: v.Board.Paused,
		Repeated: v.Repeated,
		Expected: each(v.Expected,
			func(e seam.Expected) contract.Expected { return expected(v, e) }),
		Rows:    []contract.BoardRow{},
		Temps:   each(v.Board.Temps, func(t seam.Temp) contract.TakenTemp { return takenTemp(v, t) }),
		BatchId: some(v.Card.Batch), Notes: texts(v.Board.Notes), Done: texts(v.Board.Done()),
		LeftOut: texts(v.Board.LeftOut()), Holds: map[string]float64{}}
	if v.Board.Open() {
		if held := percents(v.Board.Holding(v.Card.Piece, "")); held != nil {
			out.Holds = *held
		}
	}
	if v.Next >= 0 && v.Board.Open() {
		out.Next = some(out.Expected[v.Next].Key)
	}
	if root, ok := v.Board.Node(""); ok {
		out.State = "open"
		out.InputG, out.StartedAt = some(root.Mass.Grams()), some(v.Board.Started)
		if root.Closed {
			out.State = "closed"
			out.ClosedAt, out.CloseReason = some(v.Board.Ended), some(root.CloseReason)
		}
	}
	if again := v.CutAgainOf(); len(again) > 0 {
		out.CutAgain = &again
	}
	for _, n := range v.Board.Nodes {
		out.Rows = append(out.Rows, boardRow(v, n))
	}
	if v.Undo != nil {
		out.UndoTarget, out.UndoWhat = some(v.Undo.ID), some(undoWhat(v, *v.Undo))
	}
	return out
}

func takenTemp(v bench.BoardView, t seam.Temp) contract.TakenTemp {
	out := contract.TakenTemp{EventId: t.ID, C: t.C, At: t.At, Source: some(t.Source),
		Caution: some(age.AtBench(v.Card.Piece, t.C))}
	if n, ok := v.Board.Node(t.Node); ok {
		out.Of = v.NameOf(n)
	}
	return out
}

// planned lists the steps of a plan that was written in steps; nil of another.
func planned(v bench.BoardView) *[]contract.BoardStep {
	if !v.Plan.OwnSteps() {
		return nil
	}
	out := []contract.BoardStep{}
	for _, d := range v.Flow.Steps {
		if d.Idle {
			continue
		}
		out = append(out, contract.BoardStep{Id: d.ID, Weighed: slices.ContainsFunc(v.Expected,
			func(e seam.Expected) bool { return e.Step == d.ID })})
	}
	return &out
}

// stepWords are the words of a step; what it does not say of itself, the one muscle that it takes off says.
func stepWords(v bench.BoardView, d steps.Done) contract.SeamWords {
	out := contract.SeamWords{Name: words.Step(v.Card.Piece, v.Plan, d), Tell: d.Say.Find, Danger: d.Say.Wrong,
		Hold: some(d.Say.Hold), Tool: some(strings.ReplaceAll(d.Tool, "_", " ")), Thickness: some(words.Thickness(d.Step)),
		Ends: []contract.MuscleEnd{}}
	if d.Caution != "" {
		out.Danger = strings.TrimSpace(out.Danger + " " + d.Caution)
	}
	for _, id := range slices.Sorted(maps.Keys(d.Parts)) {
		if m, ok := v.Card.Piece.Muscle(id); ok && d.Do == steps.TakeOff {
			if out.Tell == "" {
				out.Tell = m.Seam.Tell
			}
			if out.Danger == "" {
				out.Danger = m.Seam.Danger
			}
			break
		}
	}
	return out
}

// expected encodes what is expected on a board, or on it and others like it.
func expected(v bench.BoardView, e seam.Expected) contract.Expected {
	step := ""
	if v.Plan.OwnSteps() {
		step = e.Step
	}
	var cut *contract.CutFrom
	if len(e.CutFrom) > 0 {
		cut = &contract.CutFrom{Holds: map[string]float64{}, WeightG: e.CutMass.Grams()}
		for _, part := range e.CutFrom.Things() {
			if _, is := v.Card.Piece.Part(part); is {
				cut.Holds[part] = float64(e.CutFrom[part]) / 1000
			}
		}
	}
	return contract.Expected{CutFrom: cut, Key: e.Key(), Kind: contract.ExpectedKind(e.Kind), Id: e.ID, Step: some(step),
		Block: some(e.Block), Parts: listed(e.Parts), Name: v.ExpectedName(e),
		Code: e.Code, ExpectedG: e.Mass.Grams(), LowG: e.Low.Grams(), HighG: e.High.Grams(), TakenG: e.Taken.Grams(),
		Times: e.Times, Want: e.Want, Reachable: e.Reachable, WaitsFor: texts(e.WaitsFor),
		Question: some(e.Question(v.Shop.Unit))}
}

func boardRow(v bench.BoardView, n seam.Node) contract.BoardRow {
	row := contract.BoardRow{EventId: n.ID, Parent: n.Parent, Kind: string(n.Event), Id: n.Part + n.Product + n.Block,
		Name: v.NameOf(n), WeightG: n.Mass.Grams(), Source: n.Source, At: n.At, Reason: some(n.Reason), Count: some(n.Count),
		WeighedAgain: some(n.WeighedAgain), OutOfOrder: n.OutOfOrder, Moved: some(n.Moved), Closed: some(n.Closed),
		Note: some(n.Note), Shared: some(n.Shared), Minutes: some(round(n.Took.Minutes(), 2)),
		Step: some(n.Step), Joined: some(n.Joined)}
	if n.Event == seam.Parted {
		row.Holds = percents(v.Board.Holding(v.Card.Piece, n.ID))
	}
	if n.Closed {
		row.LossG = some(n.Loss.Grams())
	}
	if input := v.Board.Input(); input > 0 {
		row.Pct = round(float64(n.Mass)/float64(input)*100, 3)
	}
	return row
}

func undoWhat(v bench.BoardView, e seam.Event) string {
	name, m := undone(v, e)
	return name + ", " + m.Text(v.Shop.Unit, 3)
}

// undone is what an undoing of an event would take back.
func undone(v bench.BoardView, e seam.Event) (string, measure.Mass) {
	id := e.ID
	if e.Kind == seam.WeighedAgain {
		id = e.Target
	}
	n, ok := v.Board.Node(id)
	if !ok {
		return string(e.Kind), e.Net
	}
	return v.NameOf(n), n.Mass
}

func logged(l bench.Logged) contract.LoggedEvent {
	e := l.Event
	grams := func(m measure.Mass) *float64 { return some(m.Grams()) }
	return contract.LoggedEvent{ReceivedAt: l.Received, Void: l.Void, Name: some(l.Name),
		Event: contract.BenchEvent{Id: e.ID, Kind: contract.BenchEventKind(e.Kind), At: e.At,
			BenchId: e.Bench, By: some(e.By), Role: some(e.Role), Node: some(e.Node), Part: some(e.Part),
			Product: some(e.Product), NetG: grams(e.Net), GrossG: grams(e.Gross), TareG: grams(e.Tare),
			DivisionG: grams(e.Division), Source: some(contract.BenchEventSource(e.Source)), Count: some(e.Count),
			Target: some(e.Target), Reason: some(e.Reason), Note: some(e.Note), Minutes: e.Minutes, TempC: e.TempC,
			Shared: some(e.Shared), Step: some(e.Step), Block: some(e.Block), Holds: percents(e.Holds)}}
}

func (h *handlers) StartBreakdown(ctx context.Context,
	r contract.StartBreakdownRequestObject) (contract.StartBreakdownResponseObject, error) {
	v, err := h.work.Bench.StartBreakdown(ctx, r.PieceId, r.Body.BenchId)
	if err != nil {
		return nil, err
	}
	board, err := h.boardWithDoubts(ctx, v)
	return contract.StartBreakdown200JSONResponse(board), err
}

func (h *handlers) GetBoard(ctx context.Context, r contract.GetBoardRequestObject) (contract.GetBoardResponseObject,
	error) {
	if r.Params.Upto != nil {
		v, err := h.work.Bench.BoardThen(ctx, r.BreakdownId, *r.Params.Upto)
		if err != nil {
			return nil, err
		}
		board, err := h.boardWithDoubts(ctx, v)
		return contract.GetBoard200JSONResponse(board), err
	}
	v, err := h.work.Bench.Board(ctx, r.BreakdownId)
	if err != nil {
		return nil, err
	}
	board, err := h.boardWithDoubts(ctx, v)
	return contract.GetBoard200JSONResponse(board), err
}

func (h *handlers) ListEvents(ctx context.Context,
	r contract.ListEventsRequestObject) (contract.ListEventsResponseObject, error) {
	log, err := h.work.Bench.Log(ctx, r.BreakdownId)
	if err != nil {
		return nil, err
	}
	return contract.ListEvents200JSONResponse(each(log, logged)), nil
}

func (h *handlers) BookEvent(ctx context.Context, r contract.BookEventRequestObject) (contract.BookEventResponseObject,
	error) {
	e, err := event(*r.Body)
	if err != nil {
		return nil, err
	}
	v, err := h.work.Bench.Book(ctx, r.BreakdownId, e)
	if err != nil {
		return nil, err
	}
	return contract.BookEvent200JSONResponse(h.board(v)), nil
}

// event reads a bench event. Weights that are not numbers a scale could show are faults of their fields.
func event(b contract.BenchEvent) (seam.Event, error) {
	var faults fault.List
	mass := massField(&faults)
	e := seam.Event{ID: b.Id, Kind: seam.Kind(b.Kind), At: b.At, Bench: b.BenchId, By: from(b.By), Node: from(b.Node),
		Part: from(b.Part), Product: from(b.Product), Net: mass("net_g", b.NetG), Gross: mass("gross_g", b.GrossG),
		Tare: mass("tare_g", b.TareG), Division: mass("division_g", b.DivisionG), Source: string(from(b.Source)),
		Count: from(b.Count), Target: from(b.Target), Reason: from(b.Reason), Note: from(b.Note), Minutes: b.Minutes,
		TempC: b.TempC, Step: from(b.Step), Block: from(b.Block)}
	for part, pct := range from(b.Holds) {
		if !(pct > 0 && pct <= 100) {
			faults.Add("holds."+part, fault.New("", "out_of_range", "must be above 0 and at most 100 %", "Leave it out."))
			continue
		}
		if e.Holds == nil {
			e.Holds = steps.Content{}
		}
		e.Holds[part] = atlas.Thousandths(pct)
	}
	return e, faults.Err()
}

// percents gives shares in percent; nil where there are none.
func percents(c steps.Content) *map[string]float64 {
	if len(c) == 0 {
		return nil
	}
	out := map[string]float64{}
	for part, share := range c {
		out[part] = float64(share) / 1000
	}
	return &out
}

func (h *handlers) HandOver(ctx context.Context, r contract.HandOverRequestObject) (contract.HandOverResponseObject,
	error) {
	v, err := h.work.Bench.HandOver(ctx, r.BreakdownId, r.Body.BenchId)
	if err != nil {
		return nil, err
	}
	doubts, err := h.work.Judge.BoardConflicts(ctx, v)
	return contract.HandOver200JSONResponse(h.wholeBoard(v, doubts)), err
}

func (h *handlers) CutAgain(ctx context.Context, r contract.CutAgainRequestObject) (contract.CutAgainResponseObject,
	error) {
	id, err := h.work.Bench.CutAgain(ctx, r.BreakdownId, r.Body.Row)
	return contract.CutAgain201JSONResponse{PieceId: id}, err
}
