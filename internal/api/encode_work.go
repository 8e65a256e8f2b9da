package api

import (
	"context"

	"falda/internal/api/contract"
	"falda/internal/core/age"
	"falda/internal/core/atlas"
	"falda/internal/core/eating"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/core/value"
	"falda/internal/store"
	"falda/internal/work/bench"
	"falda/internal/work/compare"
	"falda/internal/work/judge"
	"falda/internal/work/stock"
)

func (h *handlers) lot(v stock.LotView) contract.Lot {
	l := v.Lot
	out := contract.Lot{Id: l.PublicID, LotNumber: l.LotNumber, Supplier: l.Supplier, AtlasId: l.AtlasID, Name: v.Piece.Name, Pieces: l.Pieces,
		TotalG: measure.Mass(l.TotalMg).Grams(), PricePer: l.PricePer, Cost: v.Cost.String(), SlaughteredOn: day(l.SlaughteredOn), PackedOn: day(l.PackedOn),
		ReceivedAt: l.ReceivedAt, Findings: each(stock.Found(v), inspect), Note: some(l.Note), PieceIds: each(v.Pieces, func(p store.Piece) string { return p.PublicID })}
	out.Version, out.Carcass, out.Decided, out.VoidedAt, out.VoidReason = l.Version, v.Carcass, words(l.Decided), l.VoidedAt, some(l.VoidReason)
	b := l.About
	out.Bone, out.Feed, out.Sex, out.AgeClass, out.Hang = some(b.Bone), some(b.Feed), some(b.Sex), some(b.AgeClass), some(b.Hang)
	out.FatClass, out.Marbling, out.SupplierGrade, out.Ph, out.TemperatureC = some(b.FatClass), some(b.Marbling), some(b.SupplierGrade), b.Ph, b.TemperatureC
	out.Price = priceText(v.Price)
	return out
}

func card(c stock.Card) contract.PieceCard {
	h := c.Hung
	out := contract.PieceCard{Id: h.Piece.PublicID, AtlasId: c.Piece.ID, Name: c.Piece.Name, LotNumber: h.Lot.LotNumber, Supplier: h.Lot.Supplier,
		Number: h.Piece.Number, Of: h.Lot.Pieces, WeightG: c.Weight.Grams(), WeightBasis: "given", AgeDays: c.AgeDays, Stage: contract.PieceCardStage(c.Stage),
		WaitsFor: c.WaitsFor, ReadyOn: day(c.ReadyOn), Version: h.Piece.Version, PlanId: some(c.Plan.ID), PlanName: some(c.Plan.Name), Bench: some(h.Bench),
		LotId: h.Lot.PublicID, BatchId: some(c.Batch), Carcass: c.Carcass, VoidedAt: h.Piece.VoidedAt, VoidReason: some(h.Piece.VoidReason)}
	if c.Measured {
		out.WeightBasis = "measured"
	}
	if b := h.Breakdown; b != nil {
		out.BreakdownId, out.ClosedAt = some(b.PublicID), b.ClosedAt
		if c.Gain != nil {
			out.DifferencePerKg = some(c.Gain.String())
		}
	}
	return out
}

func (h *handlers) pieceDetail(v compare.PieceView) contract.PieceDetail {
	return contract.PieceDetail{Card: card(v.Card), Lot: h.lot(v.Lot), Forecast: forecast(v.Forecast), SeamMap: seamMap(v.Card.Piece, v.Map),
		Parts: each(v.Parts, func(w compare.PartWeight) contract.PartWeight { return partWeight(v.Card.Piece, w, v.Card.Weight) })}
}

func partWeight(p atlas.Piece, w compare.PartWeight, whole measure.Mass) contract.PartWeight {
	m, _ := p.Muscle(w.Part.ID)
	return contract.PartWeight{Id: w.Part.ID, Code: m.Code, Name: w.Part.Name, Kind: w.Part.Kind, WeightG: w.Mass.Grams(),
		Pct: round(float64(w.Mass)/float64(max(1, whole))*100, 3), TypicalPct: float64(w.Part.Share) / 1000, Basis: basis(w.Measured)}
}

// boardWithDoubts encodes a board with what in its plan contradicts the grades.
func (h *handlers) boardWithDoubts(ctx context.Context, v bench.BoardView) (contract.Board, error) {
	doubts, err := h.work.Judge.BoardDoubts(ctx, v)
	return h.wholeBoard(v, doubts), err
}

// wholeBoard encodes a board with what stays the same while a piece is cut.
func (h *handlers) wholeBoard(v bench.BoardView, doubts []judge.Against) contract.Board {
	p, out := v.Card.Piece, h.board(v)
	words := map[string]contract.SeamWords{}
	for _, m := range p.Muscles {
		var doubt string
		for _, d := range doubts {
			if d.Muscle.ID == m.ID {
				doubt = d.Sentence
			}
		}
		words[m.ID] = contract.SeamWords{Doubt: some(doubt), Name: m.Name, Code: m.Code, Tell: m.Seam.Tell, Danger: m.Seam.Danger, DressingPct: round(v.Plan.Dressing(m.ID), 1),
			Ends: each(m.Ends, func(e atlas.End) contract.MuscleEnd {
				return contract.MuscleEnd{Id: m.EndID(e), Name: e.Name, SharePct: e.SharePct, Why: e.Why}
			})}
	}
	out.Fixed = &contract.BoardFixed{Plan: plan(p, v.Plan), Findings: each(v.Findings, inspect), Inspect: each(p.Inspect, inspect), Cautions: texts(p.Cautions), SeamMap: seamMap(p, v.Map),
		Dressing: each(seam.Dressing, func(d atlas.AnyPart) contract.PlanPart {
			return contract.PlanPart{Id: d.ID, Name: d.Name, Kind: d.Kind}
		}),
		MapBasis: "estimated", Words: words}
	return out
}

func (h *handlers) board(v bench.BoardView) contract.Board {
	out := contract.Board{Id: v.Breakdown.PublicID, Piece: card(v.Card), Bench: h.bench(v.Bench), State: "waiting",
		Booked: v.Board.Events, Looked: v.Board.Looked, Found: texts(v.Board.Found), Balance: balance(v.Balance), Minutes: round(v.Minutes, 2), Running: v.Board.Open() && !v.Board.Paused, Paused: v.Board.Paused, Repeated: v.Repeated,
		Expected: each(v.Expected, func(e seam.Expected) contract.Expected { return expected(e, v.Shop.Unit) }), Rows: []contract.BoardRow{},
		Temps: each(v.Board.Temps, func(t seam.Temp) contract.TakenTemp { return takenTemp(v, t) }), BatchId: some(v.Card.Batch)}
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
	for _, n := range v.Board.Nodes {
		out.Rows = append(out.Rows, boardRow(v, n))
	}
	if v.Undo != nil {
		out.UndoTarget, out.UndoWhat = some(v.Undo.ID), some(undoWhat(v, *v.Undo))
	}
	return out
}

func takenTemp(v bench.BoardView, t seam.Temp) contract.TakenTemp {
	out := contract.TakenTemp{EventId: t.ID, C: t.C, At: t.At, Source: some(t.Source), Caution: some(age.AtBench(v.Card.Piece, t.C))}
	if n, ok := v.Board.Node(t.Node); ok {
		out.Of = v.NameOf(n)
	}
	return out
}

func expected(e seam.Expected, u measure.Unit) contract.Expected {
	return contract.Expected{Key: e.Kind + ":" + e.ID, Kind: contract.ExpectedKind(e.Kind), Id: e.ID, Name: e.Name, Code: e.Code, ExpectedG: e.Mass.Grams(),
		LowG: e.Low.Grams(), HighG: e.High.Grams(), TakenG: e.Taken.Grams(), Times: e.Times, Want: e.Want, Reachable: e.Reachable, WaitsFor: texts(e.WaitsFor),
		Question: some(e.Question(u))}
}

func boardRow(v bench.BoardView, n seam.Node) contract.BoardRow {
	row := contract.BoardRow{EventId: n.ID, Parent: n.Parent, Kind: string(n.Event), Id: n.Part + n.Product, Name: v.NameOf(n), WeightG: n.Mass.Grams(),
		Source: n.Source, At: n.At, Reason: some(n.Reason), Count: some(n.Count), WeighedAgain: some(n.WeighedAgain), OutOfOrder: n.OutOfOrder,
		Moved: some(n.Moved), Closed: some(n.Closed), Note: some(n.Note), Shared: some(n.Shared), Minutes: some(round(n.Took.Minutes(), 2))}
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
	return contract.LoggedEvent{ReceivedAt: l.Received, Void: l.Void, Name: some(l.Name), Event: contract.BenchEvent{Id: e.ID, Kind: contract.BenchEventKind(e.Kind), At: e.At,
		BenchId: e.Bench, By: some(e.By), Role: some(e.Role), Node: some(e.Node), Part: some(e.Part), Product: some(e.Product), NetG: grams(e.Net), GrossG: grams(e.Gross),
		TareG: grams(e.Tare), DivisionG: grams(e.Division), Source: some(contract.BenchEventSource(e.Source)), Count: some(e.Count), Target: some(e.Target),
		Reason: some(e.Reason), Note: some(e.Note), Minutes: e.Minutes, TempC: e.TempC, Shared: some(e.Shared)}}
}

func judgement(j judge.Judgement) contract.Judgement {
	v := j.View
	return contract.Judgement{BreakdownId: v.Breakdown.PublicID, Piece: card(v.Card), Confirmed: v.Breakdown.JudgedAt != nil, AgeDays: j.AgeDays,
		Methods: each(j.Methods, func(m atlas.Method) contract.Method { return contract.Method{Id: m.ID, Name: m.Name, Quick: m.Quick} }),
		Muscles: each(j.Muscles, func(m judge.MuscleJudgement) contract.MuscleJudgement {
			return contract.MuscleJudgement{Part: m.Muscle.ID, Name: m.Muscle.Name, WeightG: m.Mass.Grams(), WeightBasis: basis(m.Measured),
				Cells: each(m.Scores, func(sc eating.Score) contract.GradeCell { return gradedCell(m.How[sc.Method]) }), Best: m.Best, Chosen: m.Chosen, Note: m.Note, Version: m.Version, Grain: m.Muscle.Grain.Note,
				Judge: m.Muscle.Judge, QuickReady: m.Ready, Warnings: texts(m.Warnings)}
		})}
}

// gradedCell is a score with how it came to be.
func gradedCell(g judge.Graded) contract.GradeCell {
	c := gradeCell(g.Score)
	steps := each(g.Parts, func(p eating.Part) contract.GradeStep {
		return contract.GradeStep{Why: p.Why, Points: round(p.Points, 1)}
	})
	panels := each(g.Panels, func(p judge.Panelled) contract.GradePanel {
		return contract.GradePanel{TastingId: p.TastingID, Name: p.Tasting, HeldOn: day(p.HeldOn), Score: round(p.Score, 1), Eaters: p.Eaters}
	})
	c.Steps, c.Panels = &steps, &panels
	if g.Given != nil {
		c.Given, c.GivenBy = some(g.Given.Score), some(g.Given.Source)
	}
	return c
}

func gradeCell(s eating.Score) contract.GradeCell {
	chances := map[string]float64{}
	for g, p := range s.Chances() {
		chances[string(g)] = round(p, 2)
	}
	return contract.GradeCell{Method: s.Method, Score: round(s.Mean, 1), Sd: round(s.SD, 1), Low: round(s.Low(), 1), Grade: contract.Grade(s.Grade()),
		Basis: contract.Basis(s.Basis), Eaters: s.Eaters, Chances: chances}
}

func comparison(c compare.Comparison) contract.Comparison {
	v := c.View
	p := v.Card.Piece
	out := contract.Comparison{BreakdownId: v.Breakdown.PublicID, Piece: card(v.Card), Sentence: c.Sentence, Difference: c.Diff.String(), DifferencePerKg: c.PerKg.String(),
		Recorded: withDoubts(planForecast(c.Recorded, nil, true, c.Counts), c.Doubts), Against: planForecast(c.Against, nil, false, nil),
		SeamMap: seamMap(p, c.Map), MapBasis: basis(v.Plan.Cut == atlas.CutSeams), Basis: c.Basis, PricedOn: from(v.Breakdown.PricedAt), CostMethod: string(c.Costs.Method),
		Bridge:    bridge(c.Bridge),
		Parts:     each(c.Parts, func(w compare.PartWeight) contract.PartWeight { return partWeight(p, w, c.Recorded.Mass()) }),
		BreakEven: each(c.BreakEven, breakEven)}
	cut := c.Recorded.Side("", false)
	all := cut.Purchase.Add(cut.Costs())
	out.Costs = each(c.Costs.Products, func(row value.CostRow) contract.CostRow { return costRow(row, all, c.Costs.Credited) })
	if v.Board.Given != nil {
		out.Recorded.Totals.MinutesBasis = "given"
	}
	if c.PerHour != nil {
		out.DifferencePerHour = c.PerHour.String()
	}
	out.Today = some(c.Today)
	if o := c.Other; o != nil {
		out.OtherDifference, out.OtherDifferencePerKg, out.OtherSentence = some(o.Diff.String()), some(o.PerKg.String()), some(o.Sentence)
	}
	return out
}

func breakEven(b compare.BreakEven) contract.BreakEven {
	row := contract.BreakEven{Id: b.Product.ID, Name: b.Product.Name, PricePer: "kg", PriceNow: some(b.Now.PerKilogram().String())}
	if b.OK {
		row.Price = b.PerKg.String()
	}
	return row
}

func bridge(steps []value.Step) []contract.BridgeStep {
	return each(steps, func(s value.Step) contract.BridgeStep {
		return contract.BridgeStep{Id: s.ID, Name: s.Name, Kind: contract.BridgeStepKind(s.Kind), From: s.From.String(), To: s.To.String(), Change: s.Change.String()}
	})
}
