package api

import (
	"bytes"
	"context"
	"fmt"
	"net/http"

	"falda/internal/api/contract"
	"falda/internal/core/drill"
	"falda/internal/core/fault"
	"falda/internal/core/words"
	"falda/internal/paper"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/learn"
	"falda/internal/work/shop"
)

// VisitExportLearningResponse writes the file.
func (f file) VisitExportLearningResponse(w http.ResponseWriter) error { return f.send(w) }

// VisitExportLearningResponse writes the file.
func (f jsonFile) VisitExportLearningResponse(w http.ResponseWriter) error {
	return f.VisitExportAuditResponse(w)
}

// GetSitting gives what to ask oneself next.
func (h *handlers) GetSitting(ctx context.Context,
	r contract.GetSittingRequestObject) (contract.GetSittingResponseObject, error) {
	s, err := h.work.Learn.Sitting(ctx, from(r.Params.Piece), from(r.Params.Group))
	if err != nil {
		return nil, err
	}
	return contract.GetSitting200JSONResponse{Due: s.Due, New: s.New, NextDue: dayOf(s.NextDue),
		Questions: each(s.Questions, question)}, nil
}

func question(a learn.Asked) contract.DrillQuestion {
	q := contract.DrillQuestion{Card: a.ID(), Kind: contract.DrillQuestionKind(a.Kind),
		Group: drill.GroupOf(a.Kind).ID, Piece: a.Piece.ID, PieceName: words.Plain(a.Piece.Name), Ask: a.Ask,
		Turn: a.Turn, Lit: some(a.Lit), Many: a.Many, Touch: a.Touch, AtMm: a.AtMm, From: some(a.From)}
	if len(a.Choices) > 0 {
		list := each(a.Choices, drillChoice)
		q.Choices = &list
	}
	if len(a.Things) > 0 {
		list := each(a.Things, func(t drill.Thing) contract.DrillThing {
			return contract.DrillThing{Id: t.ID, Name: t.Name, Parts: texts(t.Parts)}
		})
		q.Things = &list
	}
	if n := a.Number; n != nil {
		q.Number = &contract.DrillNumber{Unit: contract.DrillNumberUnit(n.Unit), Low: n.Low, High: n.High, Step: n.Step}
	}
	return q
}

func drillChoice(c drill.Choice) contract.DrillChoice {
	return contract.DrillChoice{Id: c.ID, Name: c.Name}
}

func drillAnswer(b *contract.DrillAnswer) drill.Answer {
	a := drill.Answer{Number: b.Number}
	if b.Choices != nil {
		a.Choices = *b.Choices
	}
	return a
}

// CheckDrill marks an answer.
func (h *handlers) CheckDrill(ctx context.Context,
	r contract.CheckDrillRequestObject) (contract.CheckDrillResponseObject, error) {
	v, notes, err := h.work.Learn.Check(ctx, r.Body.Card, drillAnswer(r.Body))
	return contract.CheckDrill200JSONResponse{Right: v.Right, Done: v.Done, Says: v.Says, Truth: texts(v.Truth),
		Number: v.Number, Off: texts(v.Off), Notes: texts(notes)}, err
}

// AnswerDrill keeps an answer.
func (h *handlers) AnswerDrill(ctx context.Context,
	r contract.AnswerDrillRequestObject) (contract.AnswerDrillResponseObject, error) {
	next, again, err := h.work.Learn.Answer(ctx, r.Body.Card, drillAnswer(r.Body), learn.Felt(from(r.Body.Felt)))
	return contract.AnswerDrill200JSONResponse{Due: day(next.Due), Days: next.Days, Again: again}, err
}

// GetLearning gives what somebody has learned.
func (h *handlers) GetLearning(ctx context.Context,
	r contract.GetLearningRequestObject) (contract.GetLearningResponseObject, error) {
	rec, sh, err := h.learned(ctx, r.Params.Member)
	if err != nil {
		return nil, err
	}
	return contract.GetLearning200JSONResponse{Member: rec.Member.PublicID, Name: rec.Member.Name, Role: rec.Member.Role,
		Own: rec.Own, Day: day(rec.Day), Due: rec.Due, Known: rec.Known, Asked: rec.Asked, NextDue: dayOf(rec.NextDue),
		Pieces: each(rec.Pieces, func(p learn.PieceRecord) contract.LearnedPiece { return learnedPiece(sh, p) }),
		Others: each(rec.Others, func(m store.MemberRow) contract.DrillChoice {
			return contract.DrillChoice{Id: m.PublicID, Name: m.Name}
		})}, nil
}

func (h *handlers) learned(ctx context.Context, member *string) (learn.Record, shop.Shop, error) {
	sh, err := h.work.Shop.Current(ctx)
	if err != nil {
		return learn.Record{}, sh, err
	}
	rec, err := h.work.Learn.Record(ctx, from(member))
	return rec, sh, err
}

func learnedPiece(sh shop.Shop, p learn.PieceRecord) contract.LearnedPiece {
	return contract.LearnedPiece{Piece: p.Piece.ID, Name: words.Plain(p.Piece.Name), Species: p.Piece.Species,
		Region: p.Piece.Region, Cards: p.Cards, Asked: p.Asked, Known: p.Known, Due: p.Due, Cut: p.Cut,
		Groups: each(p.Groups, func(g learn.GroupRecord) contract.LearnedGroup {
			return contract.LearnedGroup{Id: g.ID, Name: g.Name, Cards: g.Cards, Asked: g.Asked, Known: g.Known}
		}),
		Curve: learnedCurve(sh, p), Practices: each(p.Practices, practiceMark), Signed: each(p.Signed, signOff)}
}

// curveSentence says how somebody gets faster at a piece.
func curveSentence(sh shop.Shop, p learn.PieceRecord) string {
	c := p.Curve
	l := words.Learned{Name: p.Piece.Name, House: c.House, HouseN: c.HouseN, Reaches: c.Reaches, Lost: c.Lost,
		LostN: c.LostN, Until: c.Until, Currency: sh.Money, Ahead: c.Ahead}
	for _, x := range c.Cuts {
		if x.Minutes > 0 {
			l.N++
		}
	}
	if k := c.Curve; k != nil {
		l.First, l.Now, l.Then = k.At(1), k.At(k.N), k.At(k.N+c.Ahead)
		l.Exponent, l.ExponentLow = k.Exponent, k.Low
	}
	return words.LearnedSentence(l)
}

func learnedCurve(sh shop.Shop, p learn.PieceRecord) *contract.LearnedCurve {
	c := p.Curve
	if c == nil {
		return nil
	}
	out := contract.LearnedCurve{HouseN: c.HouseN, LostN: c.LostN, Reaches: some(c.Reaches),
		Sentence: curveSentence(sh, p), Points: []contract.LearnedPoint{}}
	if c.House > 0 {
		m := round(c.House, 1)
		out.HouseMinutes = &m
	}
	if c.Lost != nil {
		out.Lost = some(sh.Money.Round(*c.Lost).String())
	}
	if c.Until != nil {
		out.Until = some(sh.Money.Round(*c.Until).String())
	}
	out.Cuts = each(c.Cuts, func(x learn.Cut) contract.LearnedCut {
		cut := contract.LearnedCut{BreakdownId: x.Breakdown, On: day(x.On), Minutes: round(x.Minutes, 1),
			MeatPct: round(x.MeatPct, 1)}
		if x.HousePct != nil {
			pct := round(*x.HousePct, 1)
			cut.HousePct = &pct
		}
		if x.Lost != nil {
			lost := sh.Money.Round(*x.Lost).String()
			cut.Lost = &lost
		}
		return cut
	})
	if k := c.Curve; k != nil {
		out.Exponent, out.ExponentLow, out.ExponentHigh = &k.Exponent, &k.Low, &k.High
		for n := 1; n <= k.N+c.Ahead; n++ {
			low, high := k.Band(n)
			out.Points = append(out.Points, contract.LearnedPoint{N: n, Minutes: round(k.At(n), 1), Low: round(low, 1),
				High: round(high, 1)})
		}
	}
	return &out
}

func practiceMark(p store.PracticeRow) contract.PracticeMark {
	return contract.PracticeMark{Practice: true, BreakdownId: some(p.PublicID), Member: some(p.Member),
		Name: some(p.MemberName), Level: some(p.Level), LotNumber: some(p.LotNumber), PieceNumber: some(p.PieceNumber),
		State: some(p.State), SetAt: &p.SetAt}
}

func signOff(x store.SignOffRow) contract.SignOff {
	return contract.SignOff{Step: x.Step, Name: x.StepName, Signed: x.Signed, Words: x.Words, By: x.ByName, At: x.At,
		BreakdownId: x.Breakdown}
}

// learningColumns are the columns of the exported record.
var learningColumns = []string{"what", "piece", "subject", "asked", "known", "due", "minutes", "meat_pct", "by", "on",
	"words"}

// learningRows are the rows of the exported record: drills by piece and kind, pieces cut, steps that were judged.
func learningRows(rec learn.Record) [][]string {
	var out [][]string
	for _, p := range rec.Pieces {
		for _, g := range p.Groups {
			if g.Asked > 0 {
				out = append(out, []string{"drill", p.Piece.ID, g.Name, itoa(g.Asked), itoa(g.Known), "", "", "", "", "",
					fmt.Sprintf("of %d", g.Cards)})
			}
		}
		if p.Curve != nil {
			for i, c := range p.Curve.Cuts {
				out = append(out, []string{"cut", p.Piece.ID, itoa(i + 1), "", "", "", decimal(c.Minutes),
					decimal(c.MeatPct), "", day(c.On), ""})
			}
		}
		for _, s := range p.Signed {
			what := "to practise"
			if s.Signed {
				what = "signed off"
			}
			out = append(out, []string{what, p.Piece.ID, s.StepName, "", "", "", "", "", s.ByName,
				day(s.At), s.Words})
		}
	}
	return out
}

// ExportLearning writes the record as a file.
func (h *handlers) ExportLearning(ctx context.Context,
	r contract.ExportLearningRequestObject) (contract.ExportLearningResponseObject, error) {
	format := r.Params.Format
	if format != "json" && tableFormat(format) != nil {
		return nil, fault.New("format", "unknown", "is not a format", "Use csv, xlsx or json.")
	}
	rec, _, err := h.learned(ctx, r.Params.Member)
	if err != nil {
		return nil, err
	}
	name := "learning-" + day(rec.Day)
	rows := func(put func([]string) error) error {
		for _, row := range learningRows(rec) {
			if err := put(row); err != nil {
				return err
			}
		}
		return nil
	}
	if format == "json" {
		return jsonRows(name, learningColumns, rows, h.log), nil
	}
	return file{format, name, "Learning", learningColumns, rows, h.log}, nil
}

// LearningPdf writes the record as a page.
func (h *handlers) LearningPdf(ctx context.Context,
	r contract.LearningPdfRequestObject) (contract.LearningPdfResponseObject, error) {
	rec, sh, err := h.learned(ctx, r.Params.Member)
	if err != nil {
		return nil, err
	}
	page := paper.Record{Shop: sh.Name, Name: rec.Member.Name, Day: day(rec.Day), Asked: rec.Asked, Known: rec.Known}
	for _, p := range rec.Pieces {
		if p.Asked == 0 && p.Cut == 0 && len(p.Signed) == 0 {
			continue
		}
		x := paper.RecordPiece{Name: words.Plain(p.Piece.Name), Cards: p.Cards, Known: p.Known, Asked: p.Asked, Cut: p.Cut}
		if p.Curve != nil {
			x.Curve = curveSentence(sh, p)
		}
		for _, s := range p.Signed {
			x.Steps = append(x.Steps, paper.RecordStep{Name: s.StepName, Signed: s.Signed, Words: s.Words, By: s.ByName,
				On: day(sh.Day(s.At))})
		}
		page.Pieces = append(page.Pieces, x)
	}
	var out bytes.Buffer
	if err := paper.LearningRecord(&out, page); err != nil {
		return nil, err
	}
	return contract.LearningPdf200ApplicationpdfResponse{Body: &out, ContentLength: int64(out.Len())}, nil
}

// mayTake says whether a note may be taken away by the caller.
func mayTake(who audit.Caller, n store.HouseNoteRow) bool {
	return n.ByID == who.MemberID || learn.Leads(who)
}

// decimal is a number with one place; empty where it is not known.
func decimal(v float64) string {
	if v == 0 {
		return ""
	}
	return fmt.Sprintf("%.1f", v)
}
