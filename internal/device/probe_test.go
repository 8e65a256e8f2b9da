package device

import (
	"context"
	"errors"
	"fmt"
	"testing"
	"time"
)

func steadyAt(c float64) func(ProbeReading) bool {
	return func(r ProbeReading) bool { return r.Status == OK && r.Steady && r.C == c }
}

func TestProbeNearsWhatItLiesIn(t *testing.T) {
	ctx, cancel := context.WithCancel(t.Context())
	defer cancel()
	l := listen(t)
	go (&SimProbe{Settle: 60 * time.Millisecond, Every: 5 * time.Millisecond, C: 18}).Serve(ctx, l)
	p := ConnectProbe(ctx, l.Addr().String())
	if first := until(t, p, "at rest", steadyAt(18)); !first.Simulated {
		t.Errorf("it introduced itself as %+v", first)
	}
	if err := p.Put(ctx, 3.4); err != nil {
		t.Fatal(err)
	}
	until(t, p, "on its way", func(r ProbeReading) bool { return !r.Steady && r.C <= 18 && r.C >= 3.4 })
	until(t, p, "3.4 °C", steadyAt(3.4))
	for _, bad := range []string{"put", "put abc", "put 900", "dance", "tare"} {
		if err := p.Command(ctx, bad); !errors.Is(err, ErrScale) {
			t.Errorf("%q: %v", bad, err)
		}
	}
}

// Whatever is wrong with a thermometer, no temperature is taken for steady that is none.
func TestProbeFaults(t *testing.T) {
	ctx, cancel := context.WithCancel(t.Context())
	defer cancel()
	l := listen(t)
	go (&SimProbe{Settle: 20 * time.Millisecond, Every: 5 * time.Millisecond, C: 4}).Serve(ctx, l)
	p := ConnectProbe(ctx, l.Addr().String())
	until(t, p, "at rest", steadyAt(4))
	do := func(command string) {
		t.Helper()
		if err := p.Command(ctx, command); err != nil {
			t.Fatal(command, err)
		}
	}
	do("fault noise")
	until(t, p, "restless", func(r ProbeReading) bool { return r.Status == OK && !r.Steady })
	do("fault none")
	until(t, p, "at rest again", steadyAt(4))
	do("fault garbage")
	if r := until(t, p, "unclear", func(r ProbeReading) bool { return r.Message != "" }); r.Steady || r.C != 4 {
		t.Errorf("garbage: %+v", r)
	}
	do("fault none")
	until(t, p, "clear again", steadyAt(4))
	do("fault drift")
	until(t, p, "creeping", func(r ProbeReading) bool { return r.C > 4 })
	do("fault none")
	do("fault drop")
	until(t, p, "disconnected", func(r ProbeReading) bool { return r.Status == Disconnected })
	until(t, p, "back", steadyAt(4))
	if err := p.Command(ctx, "fault unit"); !errors.Is(err, ErrScale) {
		t.Errorf("a fault that only scales have: %v", err)
	}
}

// A thermometer that shows °F is understood: 40 °F are 4.4 °C. What is no line of the protocol, or no temperature, is
// refused.
func TestProbeLines(t *testing.T) {
	for line, want := range map[string]float64{"temp steady 3.4": 3.4, "temp steady 40 unit=F": 4.4,
		"temp steady -1.5 unit=C": -1.5, "temp steady 145 unit=F": 62.8} {
		if r, err := (ProbeReading{}).parse(line); err != nil || r.C != want || !r.Steady || r.Status != OK {
			t.Errorf("%q: %+v, %v", line, r, err)
		}
	}
	for _, line := range []string{"", "temp", "temp steady", "temp steady x", "temp dancing 3", "temp steady 3 unit=K",
		"temp steady 999", "temp steady NaN", "weight stable gross=1", fmt.Sprintf("temp steady %0300d", 3)} {
		if r, err := (ProbeReading{C: 5}).parse(line); err == nil || r.C != 5 {
			t.Errorf("%q was taken for %+v", line, r)
		}
	}
}

// A scale that shows pounds: 5 lb are 2,267.96185 g (the international pound, 0.45359237 kg, exactly), in divisions of
// 0.01 lb.
func TestScaleInPounds(t *testing.T) {
	ctx, cancel := context.WithCancel(t.Context())
	defer cancel()
	l := listen(t)
	go (&SimScale{Settle: 20 * time.Millisecond, Every: 5 * time.Millisecond, Unit: "lb"}).Serve(ctx, l)
	s := Connect(ctx, l.Addr().String())
	until(t, s, "at rest", stableAt(0))
	if err := s.Command(ctx, "put 2268"); err != nil {
		t.Fatal(err)
	}
	r := until(t, s, "5 lb", func(r Reading) bool { return r.Stable && r.Net > 0 })
	if r.Unit != "lb" || r.Net != 2_267_962 || r.Division != 4536 {
		t.Errorf("%+v", r)
	}
	if err := s.Command(ctx, "fault unit"); err != nil {
		t.Fatal(err)
	}
	if r := until(t, s, "of an unknown unit", func(r Reading) bool { return r.Status == WrongUnit }); r.Stable ||
		r.Message == "" {
		t.Errorf("a weight in a unit that nobody knows is stable: %+v", r)
	}
	s.take("weight stable gross=5 tare=0 net=5") // in which unit?
	if r, _ := s.Reading(); r.Stable || r.Status != WrongUnit {
		t.Errorf("a weight after an unknown unit counts: %+v", r)
	}
	if err := s.Command(ctx, "fault none"); err != nil {
		t.Fatal(err)
	}
	until(t, s, "5 lb again", func(r Reading) bool { return r.Status == OK && r.Stable && r.Net == 2_267_962 })
}

// Rules: a line of a thermometer is read or refused; what is refused changes nothing, and what is read is a temperature
// that food and rooms have.
func FuzzProbeLine(f *testing.F) {
	for _, line := range []string{"temp steady 3.4", "temp steady 40 unit=F", "temp moving -1.5", "temp steady NaN",
		"temp", "temp steady 1e999 unit=K"} {
		f.Add(line)
	}
	f.Fuzz(func(t *testing.T, line string) {
		before := ProbeReading{C: 5}
		r, err := before.parse(line)
		switch {
		case err != nil && r.C != before.C:
			t.Fatalf("%q is refused and sets %g", line, r.C)
		case err == nil && !(r.C >= -100 && r.C <= 400):
			t.Fatalf("%q gave %g °C", line, r.C)
		}
	})
}
