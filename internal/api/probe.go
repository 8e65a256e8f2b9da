package api

import (
	"context"
	"fmt"

	"falda/internal/api/contract"
	"falda/internal/core/fault"
	"falda/internal/device"
	"falda/internal/store"
)

// probeOf is the thermometer of a bench; nil where it has none.
func (h *handlers) probeOf(b store.Bench) *device.Probe {
	if h.probes == nil {
		return nil
	}
	return h.probes(b)
}

func (h *handlers) StreamProbe(ctx context.Context,
	r contract.StreamProbeRequestObject) (contract.StreamProbeResponseObject, error) {
	b, err := h.work.People.Bench(ctx, r.BenchId)
	if err != nil {
		return nil, err
	}
	done, err := h.oneStream(ctx)
	if err != nil {
		return nil, err
	}
	probe, none := h.probeOf(b), make(chan struct{})
	return readings{ctx, done, func() (any, <-chan struct{}) {
		if probe == nil {
			return probeReading(device.ProbeReading{Status: device.Disconnected, Message: "this bench has no thermometer"}), none
		}
		r, changed := probe.Reading()
		return probeReading(r), changed
	}}, nil
}

func (h *handlers) CommandProbe(ctx context.Context,
	r contract.CommandProbeRequestObject) (contract.CommandProbeResponseObject, error) {
	b, err := h.work.People.Bench(ctx, r.BenchId)
	if err != nil {
		return nil, err
	}
	probe := h.probeOf(b)
	if probe == nil {
		return nil, fmt.Errorf("%w: this bench has no thermometer", device.ErrScale)
	}
	reading, _ := probe.Reading()
	if !reading.Simulated {
		return nil, fault.New("c", "not_simulated", "works on the simulated thermometer only", "Put the probe into the meat.")
	}
	if r.Body.C < -40 || r.Body.C > 150 {
		return nil, fault.New("c", "out_of_range", "must be from -40 to 150 °C", "")
	}
	if err := probe.Put(ctx, r.Body.C); err != nil {
		return nil, err
	}
	reading, _ = probe.Reading()
	return contract.CommandProbe200JSONResponse(probeReading(reading)), nil
}

func probeReading(r device.ProbeReading) contract.ProbeReading {
	return contract.ProbeReading{Status: contract.ProbeReadingStatus(r.Status), Steady: r.Steady, C: round(r.C, 1),
		Simulated: r.Simulated, Message: some(r.Message)}
}
