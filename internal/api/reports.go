package api

import (
	"bytes"
	"context"
	"encoding/json"
	"io"
	"net/http"
	"time"

	"falda/internal/api/contract"
	"falda/internal/core/fault"
	"falda/internal/core/report"
	"falda/internal/paper"
	"falda/internal/store"
	"falda/internal/tabular"
	"falda/internal/work/compare"
)

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

func (h *handlers) MakeReport(ctx context.Context,
	r contract.MakeReportRequestObject) (contract.MakeReportResponseObject, error) {
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
	first := tabular.Sheet{Name: "What it says",
		Rows: [][]tabular.Cell{text(r.Title), text(r.Shop, r.Made), text(r.Sentence)}}
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
	out := contract.Share{Id: x.PublicID, Title: x.Title, MadeBy: x.MadeBy, CreatedAt: x.CreatedAt, ExpiresAt: x.ExpiresAt,
		State: "open"}
	switch {
	case x.EndedAt != nil:
		out.State = "ended"
	case !x.ExpiresAt.After(h.work.Now()):
		out.State = "expired"
	}
	return out
}

func (h *handlers) ListShares(ctx context.Context,
	_ contract.ListSharesRequestObject) (contract.ListSharesResponseObject, error) {
	list, err := h.work.Compare.Shares(ctx)
	return contract.ListShares200JSONResponse(each(list, h.share)), err
}

func (h *handlers) ShareReport(ctx context.Context,
	r contract.ShareReportRequestObject) (contract.ShareReportResponseObject, error) {
	in, err := reportAsked(r.Body.Report)
	if err != nil {
		return nil, err
	}
	row, link, err := h.work.Compare.ShareReport(ctx, in, r.Body.Days)
	if err != nil {
		return nil, err
	}
	return contract.ShareReport200JSONResponse{Link: h.outside(ctx) + "/shared/" + link, Share: h.share(row)}, nil
}

func (h *handlers) EndShare(ctx context.Context, r contract.EndShareRequestObject) (contract.EndShareResponseObject,
	error) {
	return contract.EndShare204Response{}, h.work.Compare.EndShare(ctx, r.ShareId)
}

func (h *handlers) GetShared(ctx context.Context, r contract.GetSharedRequestObject) (contract.GetSharedResponseObject,
	error) {
	x, until, err := h.work.Compare.Shared(ctx, r.ShareLink)
	if err != nil {
		return nil, err
	}
	return contract.GetShared200JSONResponse{Title: x.Title, Shop: x.Shop, MadeAt: x.MadeAt, ExpiresAt: &until,
		Sentence: x.Sentence, BarsTitle: some(x.BarsTitle), Notes: texts(x.Notes),
		Figures: each(x.Figures, func(f report.Figure) contract.ReportFigure {
			return contract.ReportFigure{Label: f.Label, Value: f.Value}
		}),
		Bars: each(x.Bars, func(b report.Bar) contract.ReportBar {
			return contract.ReportBar{Name: b.Name, Value: b.Value, Text: b.Text}
		}),
		Tables: each(x.Tables, func(t report.Table) contract.ReportTable {
			return contract.ReportTable{Title: t.Title, Columns: texts(t.Columns),
				Rows: each(t.Rows,
					func(row []report.Cell) []string { return each(row, func(c report.Cell) string { return c.Text }) })}
		})}, nil
}
