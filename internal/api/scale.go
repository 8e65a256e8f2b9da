package api

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"time"

	"falda/internal/api/contract"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/scaleline"
	"falda/internal/device"
)

// scaleOf finds the scale of a bench by its id, read as the bench says; nil where the bench has none.
func (h *handlers) scaleOf(ctx context.Context, benchID string) (*device.Scale, error) {
	b, err := h.work.People.Bench(ctx, benchID)
	if err != nil {
		return nil, err
	}
	s := h.scales(b)
	if s == nil {
		return nil, nil
	}
	var pattern *scaleline.Pattern
	if b.ScalePattern != "" {
		if pattern, err = scaleline.New(b.ScalePattern, b.ScaleUnit); err != nil {
			return nil, err
		}
	}
	sh, err := h.work.Shop.Current(ctx)
	if err != nil {
		return nil, err
	}
	s.Use(pattern, measure.Mass(sh.DivisionMg))
	return s, nil
}

// SetScaleLines sets how the lines of a scale are read.
func (h *handlers) SetScaleLines(ctx context.Context,
	r contract.SetScaleLinesRequestObject) (contract.SetScaleLinesResponseObject, error) {
	b := r.Body
	if _, err := h.work.People.SetScaleLines(ctx, r.BenchId, b.Pattern, b.Unit, b.Version); err != nil {
		return nil, err
	}
	if _, err := h.scaleOf(ctx, r.BenchId); err != nil {
		return nil, err
	}
	out, err := h.benchNow(ctx, r.BenchId)
	return contract.SetScaleLines200JSONResponse(out), err
}

// TryScaleLines says what a pattern reads in the latest lines of a scale.
func (h *handlers) TryScaleLines(ctx context.Context,
	r contract.TryScaleLinesRequestObject) (contract.TryScaleLinesResponseObject, error) {
	s, err := h.scaleOf(ctx, r.BenchId)
	if err != nil {
		return nil, err
	}
	var heard []string
	if s != nil {
		heard = s.Heard()
	}
	var pattern *scaleline.Pattern
	if r.Body.Pattern != "" {
		if pattern, err = scaleline.New(r.Body.Pattern, r.Body.Unit); err != nil {
			return nil, err
		}
	}
	return contract.TryScaleLines200JSONResponse(each(heard, func(text string) contract.ScaleLine {
		out := contract.ScaleLine{Text: text}
		if pattern == nil {
			return out
		}
		w, err := pattern.Read(text)
		switch {
		case errors.Is(err, scaleline.ErrOther):
		case err != nil:
			out.Fault = some(err.Error())
		default:
			net, tare := w.Net.Grams(), w.Tare.Grams()
			out.Reads, out.NetG, out.TareG, out.State = true, &net, &tare, some(w.State)
		}
		return out
	})), nil
}

func (h *handlers) StreamScale(ctx context.Context,
	r contract.StreamScaleRequestObject) (contract.StreamScaleResponseObject, error) {
	scale, err := h.scaleOf(ctx, r.BenchId)
	if err != nil {
		return nil, err
	}
	done, err := h.oneStream(ctx)
	if err != nil {
		return nil, err
	}
	none := make(chan struct{})
	return readings{ctx, done, func() (any, <-chan struct{}) {
		if scale == nil {
			return scaleReading(device.Reading{Status: device.Disconnected, Message: "this bench has no scale"}), none
		}
		r, changed := scale.Reading()
		return scaleReading(r), changed
	}}, nil
}

// readings sends what a device shows as server-sent events until the caller goes away.
type readings struct {
	ctx  context.Context
	done func()
	next func() (reading any, changed <-chan struct{})
}

// VisitStreamScaleResponse writes the stream.
func (s readings) VisitStreamScaleResponse(w http.ResponseWriter) error { return s.write(w) }

// VisitStreamProbeResponse writes the stream.
func (s readings) VisitStreamProbeResponse(w http.ResponseWriter) error { return s.write(w) }

func (s readings) write(w http.ResponseWriter) error {
	defer s.done()
	w.Header().Set("Content-Type", "text/event-stream")
	w.Header().Set("X-Accel-Buffering", "no") // a proxy must not keep readings back
	w.WriteHeader(http.StatusOK)
	out := http.NewResponseController(w)
	if _, err := io.WriteString(w, "retry: 1000\n\n"); err != nil {
		return nil // the caller went away
	}
	beat := time.NewTicker(beatEvery)
	defer beat.Stop()
	for {
		reading, changed := s.next()
		raw, err := json.Marshal(reading)
		if err != nil {
			return err
		}
		// each reading has its own time to get through; the whole stream has no end
		if err := out.SetWriteDeadline(time.Now().Add(maxAnswerTime)); err != nil && !errors.Is(err, http.ErrNotSupported) {
			return nil
		}
		if _, err := fmt.Fprintf(w, "data: %s\n\n", raw); err != nil {
			return nil // the caller went away
		}
		if err := out.Flush(); err != nil {
			return nil
		}
		select {
		case <-s.ctx.Done():
			return nil
		case <-changed:
		case <-beat.C:
		}
		if !still(s.ctx) {
			return nil
		}
	}
}

func (h *handlers) CommandScale(ctx context.Context,
	r contract.CommandScaleRequestObject) (contract.CommandScaleResponseObject, error) {
	scale, err := h.scaleOf(ctx, r.BenchId)
	if err != nil {
		return nil, err
	}
	if scale == nil {
		return nil, fmt.Errorf("%w: this bench has no scale", device.ErrScale)
	}
	command := string(r.Body.Command)
	reading, _ := scale.Reading()
	switch r.Body.Command {
	case "zero", "tare", "take":
	case "clear_tare":
		command = "clear"
	case "put":
		m, err := measure.FromGrams(from(r.Body.G))
		if err != nil || m < 0 {
			return nil, fault.New("g", "out_of_range", "is not a weight", "Enter grams, zero or more.")
		}
		command = fmt.Sprintf("put %.3f", m.Grams())
	default:
		return nil, fault.New("command", "unknown", "is not a command", "Use zero, tare, clear_tare, put or take.")
	}
	if (r.Body.Command == "put" || r.Body.Command == "take") && !reading.Simulated {
		return nil, fault.New("command", "not_simulated", "works on the simulated scale only", "Lay the piece on the scale.")
	}
	if err := scale.Command(ctx, command); err != nil {
		return nil, err
	}
	reading, _ = scale.Reading()
	return contract.CommandScale200JSONResponse(scaleReading(reading)), nil
}

func scaleReading(r device.Reading) contract.ScaleReading {
	return contract.ScaleReading{Status: contract.ScaleReadingStatus(r.Status), Stable: r.Stable, NetG: r.Net.Grams(),
		GrossG: r.Gross.Grams(), TareG: r.Tare.Grams(), DivisionG: r.Division.Grams(), Unit: string(r.Unit),
		Simulated: r.Simulated, Load: r.Load, Message: some(r.Message)}
}
