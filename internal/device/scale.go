package device

import (
	"context"
	"slices"

	"falda/internal/core/fault"
)

// Scale keeps a connection to one scale and the latest reading of it.
type Scale struct {
	link
	latest[Reading]
	lowest  float64 // least net seen since the last stable reading, in grams
	settled Reading // last stable reading
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
	s.update(func(r *Reading) {
		next, err := r.parse(line)
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
