package device

import (
	"context"
	"errors"
	"slices"
	"sync"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/scaleline"
)

// Scale keeps a connection to one scale and the latest reading of it.
type Scale struct {
	link
	latest[Reading]
	lowest  float64 // least net seen since the last stable reading, in grams
	settled Reading // last stable reading

	speaks  sync.Mutex
	pattern *scaleline.Pattern // by which its lines are read; nil for the protocol
	step    measure.Mass       // smallest step that is taken for it then
	calm    scaleline.Calm
	heard   []string // the latest lines, as they came
}

// heardLines is how many lines are remembered, so that a pattern can be tried on them.
const heardLines = 12

// Use reads the scale's lines by a pattern from now on, in steps of a division; nil for the protocol.
func (s *Scale) Use(p *scaleline.Pattern, division measure.Mass) {
	s.speaks.Lock()
	defer s.speaks.Unlock()
	same := p == nil && s.pattern == nil ||
		p != nil && s.pattern != nil && p.Text == s.pattern.Text && p.Unit == s.pattern.Unit && division == s.step
	if same {
		return
	}
	s.pattern, s.step, s.calm = p, division, scaleline.Calm{}
	s.update(func(r *Reading) {
		*r = Reading{Status: Disconnected, Load: r.Load, Message: "its lines are read anew"}
	})
}

// Heard gives the latest lines, the oldest first.
func (s *Scale) Heard() []string {
	s.speaks.Lock()
	defer s.speaks.Unlock()
	return slices.Clone(s.heard)
}

// hear remembers a line and gives what it is read by.
func (s *Scale) hear(line string) (*scaleline.Pattern, measure.Mass) {
	s.speaks.Lock()
	defer s.speaks.Unlock()
	s.heard = append(s.heard, clip(line))
	s.heard = s.heard[max(0, len(s.heard)-heardLines):]
	return s.pattern, s.step
}

// byPattern reads a line of another make than the protocol's.
func (s *Scale) byPattern(r Reading, p *scaleline.Pattern, step measure.Mass, line string) (Reading, error) {
	w, err := p.Read(line)
	if errors.Is(err, scaleline.ErrOther) {
		return r, nil // a heading, or a greeting
	}
	if err != nil {
		return r, err
	}
	s.speaks.Lock()
	stable := s.calm.Settles(w)
	s.speaks.Unlock()
	next := Reading{Status: OK, Stable: stable, Gross: w.Gross, Tare: w.Tare, Net: w.Net, Division: step, Unit: w.Unit,
		Load: r.Load}
	switch w.State {
	case scaleline.Over:
		next.Status, next.Stable = Over, false
	case scaleline.Under:
		next.Status, next.Stable = Under, false
	}
	return next, nil
}

// Connect keeps a connection to the scale at addr until the context ends, and takes it up again when it drops.
func Connect(ctx context.Context, addr string) *Scale {
	s := &Scale{link: newLink(addr, "scale"),
		latest: newLatest(Reading{Status: Disconnected, Message: "not connected yet"})}
	go s.keep(ctx, s.take, func(err error) {
		s.update(func(r *Reading) {
			*r = Reading{Status: Disconnected, Load: r.Load, Simulated: r.Simulated, Division: r.Division, Unit: r.Unit,
				Message: err.Error()}
		})
	})
	return s
}

// take works one line in.
func (s *Scale) take(line string) {
	pattern, step := s.hear(line)
	s.update(func(r *Reading) {
		var next Reading
		var err error
		if pattern != nil {
			next, err = s.byPattern(*r, pattern, step, line)
		} else {
			next, err = r.parse(line)
		}
		if err != nil {
			r.Message, r.Stable = err.Error(), false
			if slices.ContainsFunc(fault.Of(err), func(f fault.Fault) bool { return f.Code == "unknown_unit" }) {
				r.Status, r.Unit = WrongUnit, ""
			}
			return
		}
		s.track(&next)
		*r = next
	})
}

// track counts loads: another one lies there when a stable weight differs from the last by more than two divisions, or
// when the weight fell below half of it in between.
func (s *Scale) track(r *Reading) {
	g := r.Net.Grams()
	s.lowest = min(s.lowest, g)
	if !r.Stable || r.Status != OK {
		return
	}
	was := s.settled.Net
	if diff := r.Net - was; diff > 2*r.Division || -diff > 2*r.Division || s.lowest < was.Grams()/2 {
		r.Load++
	}
	s.settled, s.lowest = *r, g
}

// Command sends one command and waits for the scale's answer: "zero", "tare", "clear", and on the stand-in "put 1180"
// (grams) and "take". The error says why the scale did not do it.
func (s *Scale) Command(ctx context.Context, command string) error { return s.command(ctx, command) }
