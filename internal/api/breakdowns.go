package api

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"time"

	"falda/internal/api/contract"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/work"
)

func (h *handlers) ListBreakdowns(ctx context.Context, r contract.ListBreakdownsRequestObject) (contract.ListBreakdownsResponseObject, error) {
	p := r.Params
	rows, next, err := h.work.Breakdowns(ctx, work.BreakdownFilter{Text: from(p.Text), State: from(p.State), From: from(p.From), To: from(p.To), After: from(p.After)})
	if err != nil {
		return nil, err
	}
	return contract.ListBreakdowns200JSONResponse{Breakdowns: each(rows, breakdownRow), Next: some(next)}, nil
}

func breakdownRow(r work.BreakdownRow) contract.BreakdownRow {
	out := contract.BreakdownRow{Id: r.PublicID, Piece: r.Piece, LotNumber: fmt.Sprintf("%s / %d", r.LotNumber, r.PieceNumber), LotId: r.LotPublicID, Supplier: r.Supplier, Plan: r.PlanName,
		State: contract.BreakdownRowState(r.State), Bench: r.BenchName, Cutters: some(r.Cutters), Events: r.Events, InputG: measure.Mass(r.InputMg).Grams(), OutputG: measure.Mass(r.OutputMg).Grams(),
		LossG: measure.Mass(r.LossMg).Grams(), Minutes: round(r.Minutes, 2), StartedAt: r.StartedAt, ClosedAt: r.ClosedAt, Carcass: r.Carcass}
	if r.GainPerKg != nil {
		if m, err := measure.ParseMoney(*r.GainPerKg); err == nil {
			out.DifferencePerKg = some(m.String())
		}
	}
	return out
}

// exported is a breakdown as it goes out in JSON: with its events, which are all that it is made of.
type exported struct {
	contract.BreakdownRow
	Events []contract.LoggedEvent `json:"log"`
	Plan   contract.Plan          `json:"plan_as_cut"`
}

func (h *handlers) ExportBreakdowns(ctx context.Context, r contract.ExportBreakdownsRequestObject) (contract.ExportBreakdownsResponseObject, error) {
	p := r.Params
	filter := work.BreakdownFilter{Text: from(p.Text), State: from(p.State), From: from(p.From), To: from(p.To)}
	if _, known := fileTypes[string(p.Format)]; !known {
		return nil, fault.New("format", "unknown", "is not a format", "Use csv, xlsx or json.")
	}
	if _, _, err := h.work.Breakdowns(ctx, filter); err != nil { // a bad filter is told before the file begins
		return nil, err
	}
	if p.Format == "json" {
		return jsonFile{name: "breakdowns", log: h.log, rows: func(put func(any) error) error {
			return h.work.WholeList(ctx, filter, func(row work.BreakdownRow) error {
				log, err := h.work.Log(ctx, row.PublicID)
				if err != nil {
					return err
				}
				v, err := h.work.Board(ctx, row.PublicID)
				if err != nil {
					return err
				}
				return put(exported{BreakdownRow: breakdownRow(row), Events: each(log, logged), Plan: plan(v.Card.Piece, v.Plan)})
			})
		}}, nil
	}
	return file{format: string(p.Format), name: "outputs", sheet: "Outputs", columns: work.OutputColumns, log: h.log, rows: func(put func([]string) error) error {
		return h.work.WholeList(ctx, filter, func(row work.BreakdownRow) error {
			rows, err := h.work.Outputs(ctx, row)
			for _, cells := range rows {
				if err := put(cells); err != nil {
					return err
				}
			}
			return err
		})
	}}, nil
}

func (h *handlers) StreamBoard(ctx context.Context, r contract.StreamBoardRequestObject) (contract.StreamBoardResponseObject, error) {
	n, err := h.work.Changes(ctx, r.BreakdownId, -1)
	if err != nil {
		return nil, err
	}
	done, err := h.oneStream()
	if err != nil {
		return nil, err
	}
	return boardStream{ctx: ctx, done: done, first: n, next: func(known int) (int, error) { return h.work.Changes(ctx, r.BreakdownId, known) }}, nil
}

// oneStream counts a stream that begins; what it gives is called at its end.
func (h *handlers) oneStream() (func(), error) {
	if h.streams.Add(1) > maxStreams {
		h.streams.Add(-1)
		return nil, work.TooMany{Wait: 5 * time.Second}
	}
	h.metrics.streams.Inc()
	return func() { h.streams.Add(-1); h.metrics.streams.Dec() }, nil
}

// boardStream tells as server-sent events how many events a log has, each time that it has grown.
type boardStream struct {
	ctx   context.Context
	done  func()
	first int
	next  func(known int) (int, error)
}

// VisitStreamBoardResponse writes the stream.
func (s boardStream) VisitStreamBoardResponse(w http.ResponseWriter) error {
	defer s.done()
	w.Header().Set("Content-Type", "text/event-stream")
	w.Header().Set("X-Accel-Buffering", "no")
	w.WriteHeader(http.StatusOK)
	out := http.NewResponseController(w)
	if _, err := io.WriteString(w, "retry: 1000\n\n"); err != nil {
		return nil // the caller went away
	}
	for known := s.first; ; {
		if err := out.SetWriteDeadline(time.Now().Add(longest)); err != nil && !errors.Is(err, http.ErrNotSupported) {
			return nil
		}
		if _, err := fmt.Fprintf(w, "data: %d\n\n", known); err != nil {
			return nil
		}
		if err := out.Flush(); err != nil {
			return nil
		}
		n, err := s.next(known)
		if err != nil {
			return nil // the caller went away, or the database: the browser asks again
		}
		known = n
	}
}
