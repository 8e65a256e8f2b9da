package api

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"slices"
	"strings"
	"time"

	"falda/internal/api/contract"
	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/store"
	"falda/internal/work/bench"
)

func (h *handlers) ListBreakdowns(ctx context.Context,
	r contract.ListBreakdownsRequestObject) (contract.ListBreakdownsResponseObject, error) {
	p := r.Params
	page, err := h.work.Bench.Breakdowns(ctx,
		bench.BreakdownFilter{Text: from(p.Text), State: from(p.State), From: from(p.From), To: from(p.To),
			After: from(p.After)})
	if err != nil {
		return nil, err
	}
	return contract.ListBreakdowns200JSONResponse{Breakdowns: each(page.Rows, breakdownRow), Next: some(page.Next),
		SearchedTo: page.SearchedTo}, nil
}

func breakdownRow(r bench.BreakdownRow) contract.BreakdownRow {
	out := contract.BreakdownRow{Id: r.PublicID, Piece: r.Piece,
		LotNumber: fmt.Sprintf("%s / %d", r.LotNumber, r.PieceNumber), LotId: r.LotPublicID, Supplier: r.Supplier,
		Plan: r.PlanName, State: contract.BreakdownRowState(r.State), Bench: r.BenchName, Cutters: some(r.Cutters),
		Events: r.Events, InputG: measure.Mass(r.InputMg).Grams(), OutputG: measure.Mass(r.OutputMg).Grams(),
		LossG: measure.Mass(r.LossMg).Grams(), Minutes: round(r.Minutes, 2), StartedAt: r.StartedAt, ClosedAt: r.ClosedAt,
		Carcass: r.Carcass}
	if r.Gain != nil {
		out.DifferencePerKg = some(r.Gain.String())
	}
	return out
}

// exported is a breakdown as it goes out in JSON and comes in again: with its lot, its plan and its events, which are
// all that it is made of.
type exported struct {
	contract.BreakdownRow
	PieceID string                 `json:"piece_id"`
	Lot     contract.Lot           `json:"lot"`
	Pieces  []exportedPiece        `json:"pieces"` // of the lot
	Plan    atlas.Plan             `json:"plan_as_cut"`
	Events  []contract.LoggedEvent `json:"log"`
}

type exportedPiece struct {
	ID      string  `json:"id"`
	WeightG float64 `json:"weight_g"`
	PlanID  string  `json:"plan_id,omitempty"`
}

func (h *handlers) exported(x bench.Exported) exported {
	return exported{BreakdownRow: breakdownRow(x.Row), PieceID: x.PieceID, Lot: h.lot(x.Lot), Plan: x.Plan,
		Events: each(x.Logs, logged), Pieces: each(x.Pieces, func(p store.Piece) exportedPiece {
			return exportedPiece{p.PublicID, measure.Mass(p.LabelMg).Grams(), p.PlanID}
		})}
}

// whole reads back what was exported.
func (x exported) whole() (bench.WholeBreakdown, error) {
	var faults fault.List
	mass := func(field string, g float64) int64 {
		m, err := measure.FromGrams(g)
		faults.Add(field, err)
		return int64(m)
	}
	day := func(field, text string) time.Time {
		t, err := time.Parse(time.DateOnly, text)
		if err != nil {
			faults.Add(field, fault.New("", "not_a_day", "is not a day", "Send it as it was exported."))
		}
		return t
	}
	l := x.Lot
	w := bench.WholeBreakdown{ID: x.Id, PieceID: x.PieceID, Bench: x.Bench, Plan: x.Plan,
		Lot: store.Lot{PublicID: l.Id, LotNumber: l.LotNumber, Supplier: l.Supplier, AtlasID: l.AtlasId, Pieces: l.Pieces,
			TotalMg: mass("lot", l.TotalG), Price: l.Price, PricePer: l.PricePer,
			SlaughteredOn: day("slaughtered_on", l.SlaughteredOn),
			PackedOn:      day("packed_on", cmp.Or(l.PackedOn, l.SlaughteredOn)), ReceivedAt: l.ReceivedAt, Form: from(l.Form),
			Findings: each(l.Findings, func(i contract.Inspect) string { return i.Id }), Decided: l.Decided, Note: from(l.Note),
			About: store.About{Bone: from(l.Bone), Feed: from(l.Feed), Sex: from(l.Sex),
				AgeClass: from(l.AgeClass), Hang: from(l.Hang), FatClass: from(l.FatClass), Marbling: from(l.Marbling),
				SupplierGrade: from(l.SupplierGrade), Ph: l.Ph, TemperatureC: l.TemperatureC, FatPct: l.FatPct,
				LeanYieldPct: l.LeanYieldPct, Breed: from(l.Breed), BornIn: from(l.BornIn),
				RearedIn: from(l.RearedIn), SlaughteredIn: from(l.SlaughteredIn), Plant: from(l.Plant)}}}
	for _, p := range x.Pieces {
		w.Pieces = append(w.Pieces, store.Piece{PublicID: p.ID, LabelMg: mass("pieces", p.WeightG), PlanID: p.PlanID})
	}
	for _, logged := range x.Events {
		e, err := event(logged.Event)
		if err != nil {
			faults.Add("log", err)
			break
		}
		e.Role = from(logged.Event.Role)
		w.Events = append(w.Events, e)
	}
	return w, faults.Err()
}

// maxLogFile bounds a file of breakdowns, in bytes.
const maxLogFile = 2 << 20

func (h *handlers) ImportBreakdowns(ctx context.Context,
	r contract.ImportBreakdownsRequestObject) (contract.ImportBreakdownsResponseObject, error) {
	raw, err := io.ReadAll(io.LimitReader(r.Body, maxLogFile+1))
	if err != nil {
		return nil, err
	}
	if len(raw) > maxLogFile {
		return nil, fault.New("file", "too_large", "is larger than 2 MiB", "Export fewer days at once.")
	}
	var list []exported
	if err := json.Unmarshal(raw, &list); err != nil {
		return nil,
			fault.New("file", "not_json", "is not a list of breakdowns as it was exported",
				"Export it as JSON and send it as it is.")
	}
	out := contract.ImportBreakdowns200JSONResponse{Lines: make([]contract.LogImportLine, len(list))}
	for i, x := range slices.Backward(list) { // the latest stands first in the file, and comes in last
		l := bench.ImportedLine{ID: x.Id, Named: x.LotNumber}
		whole, bad := x.whole()
		if bad != nil {
			l.Fault = bad
		} else {
			lines, err := h.work.Bench.ImportBreakdowns(ctx, []bench.WholeBreakdown{whole})
			if err != nil {
				return nil, err
			}
			l = lines[0]
		}
		line := contract.LogImportLine{Id: l.ID, LotNumber: l.Named, Added: l.Added, Present: l.Present}
		if f := fault.Of(l.Fault); f != nil {
			line.Fault = some(strings.TrimSpace(f[0].Field + " " + f[0].Message + ". " + f[0].Hint))
		}
		out.Lines[i] = line
	}
	return out, nil
}

func (h *handlers) ExportBreakdowns(ctx context.Context,
	r contract.ExportBreakdownsRequestObject) (contract.ExportBreakdownsResponseObject, error) {
	p := r.Params
	filter := bench.BreakdownFilter{Text: from(p.Text), State: from(p.State), From: from(p.From), To: from(p.To)}
	if _, known := fileTypes[string(p.Format)]; !known {
		return nil, fault.New("format", "unknown", "is not a format", "Use csv, xlsx or json.")
	}
	if _, err := h.work.Bench.Breakdowns(ctx, filter); err != nil { // a bad filter is told before the file begins
		return nil, err
	}
	if p.Format == "json" {
		return jsonFile{name: "breakdowns", log: h.log, rows: func(put func(any) error) error {
			return h.work.Bench.WholeList(ctx, filter, func(page []bench.BreakdownRow) error {
				list, err := h.work.Bench.Wholes(ctx, page)
				if err != nil {
					return err
				}
				for _, x := range list {
					if err := put(h.exported(x)); err != nil {
						return err
					}
				}
				return nil
			})
		}}, nil
	}
	return file{format: string(p.Format), name: "outputs", sheet: "Outputs", columns: bench.OutputColumns, log: h.log,
		rows: func(put func([]string) error) error {
			return h.work.Bench.WholeList(ctx, filter, func(page []bench.BreakdownRow) error {
				rows, err := h.work.Bench.Outputs(ctx, page)
				for _, cells := range rows {
					if err := put(cells); err != nil {
						return err
					}
				}
				return err
			})
		}}, nil
}
