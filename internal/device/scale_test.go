package device

import (
	"context"
	"errors"
	"fmt"
	"net"
	"strings"
	"testing"
	"time"

	"falda/internal/core/measure"
	"falda/internal/core/scaleline"
)

func listen(t *testing.T) net.Listener {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	return l
}

// until waits for a reading of a device that fits.
func until[R any](t *testing.T, d interface{ Reading() (R, <-chan struct{}) }, what string, fits func(R) bool) R {
	t.Helper()
	timeout := time.After(20 * time.Second)
	for {
		r, changed := d.Reading()
		if fits(r) {
			return r
		}
		select {
		case <-changed:
		case <-timeout:
			t.Fatalf("never %s; last reading %+v", what, r)
		}
	}
}

func stableAt(g float64) func(Reading) bool {
	return func(r Reading) bool { return r.Status == OK && r.Stable && r.Net.Grams() == g }
}

func TestScaleSettlesTaresAndZeroes(t *testing.T) {
	ctx, cancel := context.WithCancel(context.Background())
	defer cancel()
	l := listen(t)
	sim := &SimScale{Settle: 60 * time.Millisecond, Every: 5 * time.Millisecond, Max: 20 * measure.Kilogram}
	go sim.Serve(ctx, l)
	s := Connect(ctx, l.Addr().String())
	first := until(t, s, "at rest", stableAt(0))
	if !first.Simulated || first.Division != 5*measure.Gram || first.Unit != measure.UnitGram {
		t.Errorf("it introduced itself as %+v", first)
	}
	do := func(command string) {
		t.Helper()
		for range 50 { // while the pan moves, tare and zero are refused
			err := s.Command(ctx, command)
			if err == nil {
				return
			}
			if !strings.Contains(err.Error(), "moving") {
				t.Fatal(err)
			}
			time.Sleep(10 * time.Millisecond)
		}
		t.Fatalf("%s: the pan never came to rest", command)
	}
	do("put 241")
	tub := until(t, s, "the tub, in whole divisions", stableAt(240))
	do("tare")
	tared := until(t, s, "tared", stableAt(0))
	if tared.Tare != 240*measure.Gram || tared.Gross != 240*measure.Gram {
		t.Errorf("tared: %+v", tared)
	}
	do("put 1421")
	meat := until(t, s, "meat in the tub", stableAt(1180))
	if meat.Gross-meat.Tare != meat.Net || meat.Load <= tub.Load {
		t.Errorf("meat: %+v after %+v", meat, tub)
	}
	do("take")
	until(t, s, "empty in between", stableAt(-240))
	do("put 1421")
	until(t, s, "the same weight as another load", func(r Reading) bool { return stableAt(1180)(r) && r.Load > meat.Load })
	do("put 25000")
	until(t, s, "over", func(r Reading) bool { return r.Status == Over })
	do("take")
	until(t, s, "empty, the tub gone", stableAt(-240))
	do("zero")
	until(t, s, "zeroed", func(r Reading) bool { return stableAt(0)(r) && r.Tare == 0 })
	for _, bad := range []string{"put", "put abc", "put -5", "dance", " "} {
		if err := s.Command(ctx, bad); !errors.Is(err, ErrScale) {
			t.Errorf("%q: %v", bad, err)
		}
	}
}

// Whatever is wrong with a scale, no weight is taken for settled that is none: a restless pan is never stable, garbage
// and a broken line change no weight and are told, and when it is over the scale is good again.
func TestScaleFaults(t *testing.T) {
	ctx, cancel := context.WithCancel(context.Background())
	defer cancel()
	l := listen(t)
	sim := &SimScale{Settle: 30 * time.Millisecond, Every: 5 * time.Millisecond}
	go sim.Serve(ctx, l)
	s := Connect(ctx, l.Addr().String())
	until(t, s, "at rest", stableAt(0))
	do := func(command string) {
		t.Helper()
		if err := s.Command(ctx, command); err != nil {
			t.Fatal(command, err)
		}
	}
	do("put 500")
	until(t, s, "500 g", stableAt(500))
	do("fault noise")
	until(t, s, "restless", func(r Reading) bool { return r.Status == OK && !r.Stable })
	do("put 700")
	for range 20 { // it stays so, however long one waits
		if r, changed := s.Reading(); r.Stable {
			t.Fatalf("a restless pan is stable at %v", r.Net)
		} else {
			select {
			case <-changed:
			case <-time.After(5 * time.Millisecond):
			}
		}
	}
	do("fault none")
	until(t, s, "700 g", stableAt(700))
	do("fault garbage")
	if r := until(t, s, "unclear", func(r Reading) bool { return r.Message != "" }); r.Stable || r.Net.Grams() != 700 {
		t.Errorf("garbage: %+v", r)
	}
	do("fault none")
	until(t, s, "700 g again", stableAt(700))
	do("fault drift")
	if r := until(t, s, "creeping", func(r Reading) bool { return r.Net.Grams() > 700 }); !r.Stable {
		t.Errorf("drift: %+v", r)
	}
	do("fault stuck")
	stuck, _ := s.Reading()
	do("put 1500")
	time.Sleep(50 * time.Millisecond)
	if r, _ := s.Reading(); r.Load > stuck.Load+1 || r.Net.Grams() == 1500 {
		t.Errorf("a stuck scale counts loads: %+v after %+v", r, stuck)
	}
	do("fault none")
	until(t, s, "1500 g", stableAt(1500))
	do("fault drop")
	until(t, s, "disconnected", func(r Reading) bool { return r.Status == Disconnected })
	until(t, s, "back", stableAt(1500))
	if err := s.Command(ctx, "fault dance"); !errors.Is(err, ErrScale) {
		t.Errorf("an unknown fault: %v", err)
	}
}

// A pan swings in after each change, and shows whole divisions once it rests.
func TestSimulatedPanSwingsIn(t *testing.T) {
	s := &SimScale{}
	s.defaults()
	at := time.Date(2026, 1, 2, 3, 4, 5, 0, time.UTC)
	if answer := s.obey([]string{"put", "241"}, at); answer != "ok put" {
		t.Fatal(answer)
	}
	for after, want := range map[time.Duration]string{0: "weight moving gross=0 ", s.Settle - 1: "weight moving ",
		s.Settle: "weight stable gross=240 tare=0 net=240"} {
		if line := s.line(at.Add(after)); !strings.HasPrefix(line, want) {
			t.Errorf("%s after the tub was put on it says %q", after, line)
		}
	}
	if answer := s.obey([]string{"tare"}, at.Add(s.Settle/2)); !strings.HasPrefix(answer, "no tare") {
		t.Errorf("tared while it moves: %q", answer)
	}
}

func TestScaleComesBackAndGarbageIsRefused(t *testing.T) {
	ctx, cancel := context.WithCancel(context.Background())
	defer cancel()
	l := listen(t)
	defer l.Close()
	s := Connect(ctx, l.Addr().String())
	if err := s.Command(ctx, "zero"); err == nil {
		if r, _ := s.Reading(); r.Status == Disconnected {
			t.Error("a command went to a scale that is not there")
		}
	}
	for round := range 2 {
		conn, err := l.Accept()
		if err != nil {
			t.Fatal(err)
		}
		fmt.Fprintln(conn, "hello scale unit=g division=5")
		fmt.Fprintf(conn, "weight stable gross=%d tare=0 net=%d\n", 500+round, 500+round)
		good := until(t, s, "connected", stableAt(float64(500+round)))
		fmt.Fprint(conn,
			"\xff\x00weight\nweight stable gross=1 tare=0 net=900\nweight dancing gross=1\nweight stable gross=1e9 tare=0 "+
				"net=1e9\n")
		bad := until(t, s, "unstable after garbage", func(r Reading) bool { return !r.Stable && r.Message != "" })
		if bad.Net != good.Net {
			t.Errorf("garbage changed the weight to %s", bad.Net.Text(measure.UnitGram, 0))
		}
		conn.Close()
		until(t, s, "disconnected", func(r Reading) bool { return r.Status == Disconnected })
	}
}

// The parser never panics, and never lets a weight through that does not add up.
func FuzzReading(f *testing.F) {
	for _, s := range []string{"hello scale unit=g division=5", "weight stable gross=1 tare=0 net=1", "weight moving",
		"weight over gross==", "hello x unit=lb division=0.01"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, line string) {
		r, err := Reading{Unit: measure.UnitGram, Division: 5 * measure.Gram}.parse(line)
		if err == nil && r.Stable && r.Net != r.Gross-r.Tare {
			t.Fatalf("%q gave %+v", line, r)
		}
	})
}

// The stand-in speaks as scales of three other makes do; each is read by its pattern: the weight, the tare where it is
// said, and that it rests, whether the line says so or the weight stays.
func TestScalesOfOtherMakes(t *testing.T) {
	for speaks, text := range Dialects {
		t.Run(speaks, func(t *testing.T) {
			l, err := net.Listen("tcp", "127.0.0.1:0")
			if err != nil {
				t.Fatal(err)
			}
			sim := &SimScale{Speaks: speaks, Settle: 40 * time.Millisecond, Every: 10 * time.Millisecond}
			go func() { _ = sim.Serve(t.Context(), l) }()
			s := Connect(t.Context(), l.Addr().String())
			unit := map[string]string{"letters": "kg", "fields": "kg", "bare": "g"}[speaks]
			p, err := scaleline.New(text, unit)
			if err != nil {
				t.Fatal(err)
			}
			s.Use(p, 5*measure.Gram)
			rests := func(want measure.Mass) {
				t.Helper()
				for {
					r, changed := s.Reading()
					if r.Status == OK && r.Stable && r.Net == want {
						return
					}
					select {
					case <-changed:
					case <-time.After(10 * time.Second):
						t.Fatalf("it never rests at %v: %+v, heard %q", want, r, s.Heard())
					}
				}
			}
			rests(0)
			if err := s.Command(t.Context(), "put 240"); err != nil {
				t.Fatal(err)
			}
			rests(240 * measure.Gram)
			if err := s.Command(t.Context(), "tare"); err != nil {
				t.Fatal(err)
			}
			rests(0)
			if err := s.Command(t.Context(), "put 1420"); err != nil {
				t.Fatal(err)
			}
			rests(1180 * measure.Gram)
			if len(s.Heard()) == 0 {
				t.Error("no line is remembered")
			}
			s.Use(nil, 0) // by the protocol nothing of it can be read
			r, _ := s.Reading()
			if r.Status != Disconnected {
				t.Errorf("read otherwise its last weight stands: %+v", r)
			}
		})
	}
}
