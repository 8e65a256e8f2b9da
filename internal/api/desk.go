package api

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"math/big"
	"net/http"
	"time"

	"falda/internal/api/contract"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/report"
	"falda/internal/core/value"
	"falda/internal/paper"
	"falda/internal/store"
	"falda/internal/tabular"
	"falda/internal/work/compare"
	"falda/internal/work/stock"
)

func deskAsked(b contract.DeskRequest) compare.Desk {
	d := compare.Desk{Market: from(b.Market), Today: from(b.Today), Block: from(b.BlockPrice), BlockPer: string(from(b.BlockPricePer)), Margin: from(b.MarginPct), Method: string(from(b.Method)), Credit: from(b.Credit)}
	if d.BlockPer == "" {
		d.BlockPer = "kg"
	}
	for _, k := range b.Sides {
		d.Sides = append(d.Sides, compare.SidePick{Kind: string(k.Kind), AtlasID: from(k.AtlasId), Plan: stock.PlanPick{PlanID: from(k.PlanId), Options: from(k.Options)}, Weight: from(k.Weight), Unit: string(from(k.WeightUnit)),
			Breakdown: from(k.BreakdownId), Group: compare.GroupPick{PlanID: from(k.PlanId), Supplier: from(k.Supplier), Cutter: from(k.Cutter), From: from(k.From), To: from(k.To), Breakdowns: from(k.Breakdowns)}})
	}
	for _, m := range from(b.Chain) {
		d.Chain = append(d.Chain, compare.DeskMarkdown{Key: m.Key, Sells: m.SellsPct})
	}
	return d
}

func (h *handlers) CompareSides(ctx context.Context, r contract.CompareSidesRequestObject) (contract.CompareSidesResponseObject, error) {
	v, err := h.work.Compare.CompareSides(ctx, deskAsked(*r.Body))
	if err != nil {
		return nil, err
	}
	return contract.CompareSides200JSONResponse(desk(v)), nil
}

func desk(v compare.DeskView) contract.Desk {
	out := contract.Desk{Basis: texts(v.Basis), Today: v.Asked.Today, Method: v.Asked.Method, Market: v.Book.Market.Name, Season: v.Book.Season, Day: v.Book.Day.Format(time.DateOnly), Sides: each(v.Sides, deskSide)}
	for _, m := range value.Methods {
		out.Methods = append(out.Methods, contract.CostMethod{Id: string(m.ID), Name: m.Name, Why: m.Why})
	}
	for i, p := range v.Pairs {
		out.Pairs = append(out.Pairs, deskPair(p, i+1))
	}
	return out
}

func percentOf(part, whole measure.Mass) float64 {
	if whole == 0 {
		return 0
	}
	return round(float64(part)/float64(whole)*100, 3)
}

func deskSide(s compare.DeskSide) contract.DeskSide {
	minutes, _ := new(big.Rat).Mul(s.Hours, big.NewRat(60, 1)).Float64()
	out := contract.DeskSide{Name: s.Name, Kind: contract.DeskSideKind(s.Pick.Kind), AtlasId: s.Pick.AtlasID, Piece: s.Piece.Name, Plan: s.PlanName, Planned: s.Planned, Pieces: s.Pieces, WeightG: s.Mass.Grams(), Minutes: round(minutes, 2), SaleablePct: percentOf(s.Saleable(), s.Mass),
		MaxBlockPrice: s.MaxBlock.String(), Unpriced: texts(s.Unpriced), Priced: s.Priced, Products: []contract.DeskProduct{}, Costs: []contract.CostRow{}, Muscles: []contract.CostRow{}, UsableCostPerKg: s.Currency.Of(measure.Money{}).String()}
	t := s.Totals()
	out.Totals = contract.DeskTotals{Sales: t.Sales.String(), Packaging: t.Packaging.String(), Labour: t.Labour.String(), Discard: t.Discard.String(), Purchase: t.Purchase.String(),
		Value: t.Value.String(), PerKg: t.PerKg.String(), PerPiece: t.Value.Over(big.NewRat(int64(max(1, s.Pieces)), 1)).String()}
	for _, unit := range []measure.Unit{measure.UnitKilogram, measure.UnitPound} {
		l := s.LinesPer(unit)
		out.Totals.Lines = append(out.Totals.Lines, contract.DeskLines{Per: string(unit), Sales: l.Sales.String(), Packaging: l.Packaging.String(), Labour: l.Labour.String(),
			Discard: l.Discard.String(), Purchase: l.Purchase.String(), Value: l.Value.String()})
	}
	if h := s.PerHour(); h != nil {
		out.Totals.PerHour = some(h.String())
	}
	if s.PerSide != nil {
		out.Totals.PerSide, out.Totals.SideOf = some(s.PerSide.String()), some(s.SideOf)
	}
	if y := s.YieldTest(); y.Usable > 0 {
		out.UsableCostPerKg = y.UsablePerKg.String()
		if y.CostFactor != nil {
			f, _ := y.CostFactor.Float64()
			out.CostFactor = some(round(f, 4))
		}
	}
	all := s.Purchase.Add(s.Side.Costs())
	for _, c := range s.Costs.Products {
		row := costRow(c, all, s.Costs.Credited)
		out.Costs = append(out.Costs, row)
		p := contract.DeskProduct{Key: c.ID, Name: c.Name, Kind: contract.DeskProductKind(row.Kind), WeightG: row.WeightG, YieldPct: percentOf(c.Mass, s.Mass), Sales: row.Sales}
		if kg := c.Mass.In(measure.UnitKilogram); kg.Sign() > 0 {
			p.PerKg = some(c.Sales.Over(kg).String())
		}
		out.Products = append(out.Products, p)
	}
	for _, c := range s.Costs.Muscles {
		row := costRow(c, all, false)
		row.Kind = "muscle"
		out.Muscles = append(out.Muscles, row)
	}
	return out
}

func costRow(c value.CostRow, all measure.Money, credited bool) contract.CostRow {
	out := contract.CostRow{Id: c.ID, Name: c.Name, Kind: "meat", WeightG: c.Mass.Grams(), Sales: c.Sales.String(), SellsAt: c.SellsAt.String(), Cost: c.Cost().String(), CostPerKg: c.PerKg.String()}
	if c.ByProduct {
		out.Kind = "by_product"
	}
	if all.Sign() > 0 {
		out.SharePct = some(round(c.Cost().Float()/all.Float()*100, 3))
	}
	if c.MarginPct != nil {
		f, _ := c.MarginPct.Float64()
		f = round(f*100, 2)
		out.MarginPct = &f
	}
	if !(credited && c.ByProduct) {
		out.MinPerKg = some(c.MinPerKg.String())
	}
	return out
}

func deskPair(p compare.DeskPair, b int) contract.DeskPair {
	out := contract.DeskPair{A: 0, B: b, Sentence: p.Sentence, PerKg: p.Lead.String(), PerPiece: p.PerPiece.String(), ByMuscle: bridge(p.ByPart), ByCause: bridge(p.ByCause), Even: []contract.DeskEven{}, SellThrough: []contract.DeskSell{}, Turns: []contract.DeskTurn{}}
	if p.PerHour != nil {
		out.PerHour = some(p.PerHour.String())
	}
	if p.PerSide != nil {
		out.PerSide = some(p.PerSide.String())
	}
	if p.Anew != nil {
		out.AnewPerKg, out.AnewSentence = some(p.Anew.String()), some(p.AnewSays)
	}
	for _, e := range p.Evens {
		x := contract.DeskEven{Key: e.Key, Name: e.Name, Now: e.Now.String(), Ok: e.OK}
		if e.OK {
			x.At = some(e.At.String())
		}
		out.Even = append(out.Even, x)
	}
	for _, s := range p.Sells {
		x := contract.DeskSell{Key: s.Key, Name: s.Name, Price: s.Price.String(), Rest: s.Rest.String(), Ok: s.OK, Always: s.Always, Chain: []contract.MarkdownStep{}}
		if s.OK {
			f := round(s.Fraction*100, 2)
			x.SellsPct = &f
		}
		for _, m := range s.Chain {
			x.Chain = append(x.Chain, contract.MarkdownStep{Key: m.Key, Name: some(m.Name), Price: some(m.PerKg.String()), SellsPct: round(m.Sells*100, 2)})
		}
		out.SellThrough = append(out.SellThrough, x)
	}
	for _, t := range p.Turns {
		x := contract.DeskTurn{Kind: contract.DeskTurnKind(t.Kind), Key: some(t.Key), Name: t.Name, Now: round(t.Now, 4), Possible: t.Possible}
		if t.Possible {
			at, change := round(t.At, 4), round(t.ChangePct, 2)
			x.At, x.ChangePct = &at, &change
		}
		out.Turns = append(out.Turns, x)
	}
	return out
}

func historyPick(by, measure, atlasID, planID, supplier, cutter, first, last *string) compare.HistoryPick {
	return compare.HistoryPick{AtlasID: from(atlasID), By: from(by), Measure: from(measure), Group: compare.GroupPick{PlanID: from(planID), Supplier: from(supplier), Cutter: from(cutter), From: from(first), To: from(last)}}
}

func (h *handlers) GetHistory(ctx context.Context, r contract.GetHistoryRequestObject) (contract.GetHistoryResponseObject, error) {
	p := r.Params
	v, err := h.work.Compare.History(ctx, historyPick(p.By, p.Measure, p.AtlasId, p.PlanId, p.Supplier, p.Cutter, p.From, p.To))
	if err != nil {
		return nil, err
	}
	out := contract.GetHistory200JSONResponse{By: v.Pick.By, Measure: v.Pick.Measure, N: v.N, Mean: round(v.Mean, 4), Sd: round(v.SD, 4), Sentence: v.Sentence, Buckets: []contract.HistoryBucket{}}
	for _, b := range v.Buckets {
		x := contract.HistoryBucket{Key: b.Key, Name: b.Name, N: b.N, Mean: round(b.Mean, 4), Sd: round(b.SD, 4), Out: b.Out, Alone: some(b.Alone && b.Against == nil)}
		if b.Limited {
			low, high := round(b.Low, 4), round(b.High, 4)
			x.Low, x.High = &low, &high
		}
		if a := b.Against; a != nil {
			d, pv := round(a.Mean, 4), round(a.P, 6)
			x.Difference, x.P, x.Verdict = &d, &pv, some(a.Verdict)
		}
		out.Buckets = append(out.Buckets, x)
	}
	return out, nil
}

func (h *handlers) ListHistoryPieces(ctx context.Context, r contract.ListHistoryPiecesRequestObject) (contract.ListHistoryPiecesResponseObject, error) {
	p := r.Params
	rows, more, err := h.work.Compare.HistoryPieces(ctx, historyPick(p.By, nil, p.AtlasId, p.PlanId, p.Supplier, p.Cutter, p.From, p.To), from(p.Bucket), from(p.Skip))
	if err != nil {
		return nil, err
	}
	return contract.ListHistoryPieces200JSONResponse{More: more, Pieces: each(rows, func(x store.ResultRow) contract.HistoryPiece {
		name := x.AtlasID
		if piece, ok := h.work.Atlas().Find(x.AtlasID); ok {
			name = piece.Name
		}
		return contract.HistoryPiece{BreakdownId: x.PublicID, LotNumber: fmt.Sprintf("%s / %d", x.LotNumber, x.PieceNumber), Piece: name, Plan: x.PlanName, Supplier: x.Supplier, Cutter: x.Cutter, ClosedAt: x.ClosedAt, InputG: measure.Mass(x.InputMg).Grams(),
			SaleablePct: percentOf(measure.Mass(x.MeatMg), measure.Mass(x.InputMg)), LossPct: percentOf(measure.Mass(x.LossMg), measure.Mass(x.InputMg)), Minutes: round(x.Minutes, 1), PerKg: round(x.ValuePerKg, 4), WorthPerKg: round(x.WorthPerKg, 4), Priced: x.Priced}
	})}, nil
}

func reportAsked(b contract.ReportRequest) (compare.ReportAsk, error) {
	in := compare.ReportAsk{Kind: string(b.Kind), TrialID: from(b.TrialId), CarcassID: from(b.CarcassId)}
	var faults fault.List
	missing := func(is bool, field string) {
		if is {
			faults.Add(field, fault.New("", "required", "is left out", "Send what the report is to be of."))
		}
	}
	switch in.Kind {
	case compare.ReportComparison:
		if missing(b.Comparison == nil, "comparison"); b.Comparison != nil {
			in.Desk = deskAsked(*b.Comparison)
		}
	case compare.ReportCarcass:
		missing(in.CarcassID == "", "carcass_id")
		in.Carcass = carcassAsked(from(b.Carcass))
	case compare.ReportBestUse:
		in.Best = bestAsked(from(b.BestUse))
	case compare.ReportTrial:
		missing(in.TrialID == "", "trial_id")
	}
	return in, faults.Err()
}

func (h *handlers) MakeReport(ctx context.Context, r contract.MakeReportRequestObject) (contract.MakeReportResponseObject, error) {
	format := r.Params.Format
	if format != "pdf" && format != "xlsx" && format != "json" {
		return nil, fault.New("format", "unknown", "is not a format", "Use pdf, xlsx or json.")
	}
	in, err := reportAsked(*r.Body)
	if err != nil {
		return nil, err
	}
	made, of, err := h.work.Compare.Report(ctx, in)
	if err != nil {
		return nil, err
	}
	out := reportFile{format: format, name: in.Kind + "-" + made.MadeAt.Format(time.DateOnly)}
	switch format {
	case "pdf":
		err = paper.Report(&out.body, made)
	case "xlsx":
		err = tabular.WriteBook(&out.body, reportSheets(made))
	default:
		e := json.NewEncoder(&out.body)
		e.SetIndent("", "  ")
		err = e.Encode(whole(made, of))
	}
	return out, err
}

// whole is a report with all that it was made of.
func whole(made report.Report, of any) map[string]any {
	out := map[string]any{"report": made}
	switch v := of.(type) {
	case compare.DeskView:
		out[compare.ReportComparison] = desk(v)
	case compare.TrialView:
		out[compare.ReportTrial] = trialOut(v)
	case compare.CarcassView:
		out[compare.ReportCarcass] = carcassValue(v)
	case compare.BestView:
		out[compare.ReportBestUse] = bestView(v)
	}
	return out
}

// reportSheets lays a report out as sheets: what it says first, then each table. Figures are numbers.
func reportSheets(r report.Report) []tabular.Sheet {
	text := func(list ...string) []tabular.Cell {
		return each(list, func(s string) tabular.Cell { return tabular.Cell{Text: s} })
	}
	first := tabular.Sheet{Name: "What it says", Rows: [][]tabular.Cell{text(r.Title), text(r.Shop, r.Made), text(r.Sentence)}}
	for _, f := range r.Figures {
		first.Rows = append(first.Rows, []tabular.Cell{{Text: f.Label}, {Text: f.Value, Number: f.Number, Format: f.Format}})
	}
	for _, n := range r.Notes {
		first.Rows = append(first.Rows, text(n))
	}
	out := []tabular.Sheet{first}
	if len(r.Bars) > 0 {
		bars := tabular.Sheet{Name: "Picture", Rows: [][]tabular.Cell{text(r.BarsTitle, "")}}
		for _, b := range r.Bars {
			bars.Rows = append(bars.Rows, []tabular.Cell{{Text: b.Name}, {Text: b.Text, Number: &b.Value, Format: "#,##0.00##"}})
		}
		out = append(out, bars)
	}
	for _, t := range r.Tables {
		sheet := tabular.Sheet{Name: t.Title, Rows: [][]tabular.Cell{text(t.Columns...)}}
		for _, row := range t.Rows {
			sheet.Rows = append(sheet.Rows, each(row, func(c report.Cell) tabular.Cell { return tabular.Cell(c) }))
		}
		out = append(out, sheet)
	}
	return out
}

// reportFile is a report as a file.
type reportFile struct {
	format, name string
	body         bytes.Buffer
}

// VisitMakeReportResponse writes the file.
func (f reportFile) VisitMakeReportResponse(w http.ResponseWriter) error {
	head(w, f.format, f.name)
	_, err := io.Copy(w, &f.body)
	return err
}

func (h *handlers) share(x store.Share) contract.Share {
	out := contract.Share{Id: x.PublicID, Title: x.Title, MadeBy: x.MadeBy, CreatedAt: x.CreatedAt, ExpiresAt: x.ExpiresAt, State: "open"}
	switch {
	case x.EndedAt != nil:
		out.State = "ended"
	case !x.ExpiresAt.After(h.work.Now()):
		out.State = "expired"
	}
	return out
}

func (h *handlers) ListShares(ctx context.Context, _ contract.ListSharesRequestObject) (contract.ListSharesResponseObject, error) {
	list, err := h.work.Compare.Shares(ctx)
	return contract.ListShares200JSONResponse(each(list, h.share)), err
}

func (h *handlers) ShareReport(ctx context.Context, r contract.ShareReportRequestObject) (contract.ShareReportResponseObject, error) {
	in, err := reportAsked(r.Body.Report)
	if err != nil {
		return nil, err
	}
	row, link, err := h.work.Compare.ShareReport(ctx, in, r.Body.Days)
	if err != nil {
		return nil, err
	}
	return contract.ShareReport200JSONResponse{Link: visitOf(ctx).origin + "/shared/" + link, Share: h.share(row)}, nil
}

func (h *handlers) EndShare(ctx context.Context, r contract.EndShareRequestObject) (contract.EndShareResponseObject, error) {
	return contract.EndShare204Response{}, h.work.Compare.EndShare(ctx, r.ShareId)
}

func (h *handlers) GetShared(ctx context.Context, r contract.GetSharedRequestObject) (contract.GetSharedResponseObject, error) {
	x, until, err := h.work.Compare.Shared(ctx, r.ShareLink)
	if err != nil {
		return nil, err
	}
	return contract.GetShared200JSONResponse{Title: x.Title, Shop: x.Shop, MadeAt: x.MadeAt, ExpiresAt: &until, Sentence: x.Sentence, BarsTitle: some(x.BarsTitle), Notes: texts(x.Notes),
		Figures: each(x.Figures, func(f report.Figure) contract.ReportFigure {
			return contract.ReportFigure{Label: f.Label, Value: f.Value}
		}),
		Bars: each(x.Bars, func(b report.Bar) contract.ReportBar {
			return contract.ReportBar{Name: b.Name, Value: b.Value, Text: b.Text}
		}),
		Tables: each(x.Tables, func(t report.Table) contract.ReportTable {
			return contract.ReportTable{Title: t.Title, Columns: texts(t.Columns), Rows: each(t.Rows, func(row []report.Cell) []string { return each(row, func(c report.Cell) string { return c.Text }) })}
		})}, nil
}
