package device

import (
	"bufio"
	"context"
	"fmt"
	"math"
	"net"
	"slices"
	"strings"
	"sync"
	"time"

	"falda/internal/core/measure"
)

// SimScale is the simulated scale. It settles after each change, shows whole divisions, and speaks the protocol to any
// number of listeners.
type SimScale struct {
	Division measure.Mass  // smallest step shown; 5 g when zero
	Max      measure.Mass  // most it can weigh; 30 kg when zero
	Settle   time.Duration // how long it moves after a change; 600 ms when zero
	Every    time.Duration // between two lines; 100 ms when zero

	mu      sync.Mutex
	load    measure.Mass // what lies on it
	from    measure.Mass // what lay on it before
	zero    measure.Mass
	tare    measure.Mass
	changed time.Time
	fault   string // one of SimFaults; empty when all is well
	said    string // the last line, which a stuck scale repeats
	lines   int    // said since the fault began
}

// SimFaults are what can go wrong with the simulated scale, by command: “fault noise”, “fault none” to end it.
var SimFaults = []string{
	"noise",   // it never comes to rest
	"drift",   // it creeps up by one division every ten lines
	"garbage", // bytes that are no line of the protocol
	"stuck",   // it repeats what it said last
	"drop",    // the line breaks, once
}

// Serve speaks to everyone who connects until the context ends.
func (s *SimScale) Serve(ctx context.Context, l net.Listener) error {
	s.defaults()
	stop := context.AfterFunc(ctx, func() { l.Close() })
	defer stop()
	for {
		conn, err := l.Accept()
		if err != nil {
			if ctx.Err() != nil {
				return nil
			}
			return err
		}
		go s.speak(ctx, conn)
	}
}

func (s *SimScale) defaults() {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.Division == 0 {
		s.Division = 5 * measure.Gram
	}
	if s.Max == 0 {
		s.Max = 30 * measure.Kilogram
	}
	if s.Settle == 0 {
		s.Settle = 600 * time.Millisecond
	}
	if s.Every == 0 {
		s.Every = 100 * time.Millisecond
	}
}

func (s *SimScale) speak(ctx context.Context, conn net.Conn) {
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	stop := context.AfterFunc(ctx, func() { conn.Close() })
	defer stop()
	var writing sync.Mutex
	say := func(format string, args ...any) error {
		writing.Lock()
		defer writing.Unlock()
		_ = conn.SetWriteDeadline(time.Now().Add(silence))
		_, err := fmt.Fprintf(conn, format+"\n", args...)
		return err
	}
	if say("hello scale unit=g division=%g simulated=yes", s.Division.Grams()) != nil {
		return
	}
	go func() {
		defer cancel()
		commands := bufio.NewScanner(conn)
		commands.Buffer(nil, 4*maxLine)
		for commands.Scan() {
			if say("%s", s.obey(strings.Fields(commands.Text()), time.Now())) != nil {
				return
			}
		}
	}()
	tick := time.NewTicker(s.Every)
	defer tick.Stop()
	for {
		line, drop := s.faulty(s.line(time.Now()))
		if drop || say("%s", line) != nil {
			return
		}
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
	}
}

// faulty is what a line becomes while something is wrong; drop says that the line breaks instead.
func (s *SimScale) faulty(line string) (out string, drop bool) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.lines++
	switch s.fault {
	case "noise":
		return strings.Replace(line, "weight stable", "weight moving", 1), false
	case "drift":
		gross := step(s.load-s.zero, s.Division) + s.Division*measure.Mass(s.lines/10)
		return fmt.Sprintf("weight stable gross=%s tare=%s net=%s", grams(gross), grams(s.tare), grams(gross-s.tare)), false
	case "garbage":
		return "\xff\x00 weight stable gross=", false
	case "stuck":
		return s.said, false
	case "drop":
		s.fault = ""
		return "", true
	}
	s.said = line
	return line, false
}

// line is what the scale shows at a moment.
func (s *SimScale) line(now time.Time) string {
	s.mu.Lock()
	defer s.mu.Unlock()
	state, shown := "stable", s.load
	if since := now.Sub(s.changed); since < s.Settle {
		// a pan that swings in: closing in on the load, twice around it
		part := float64(since) / float64(s.Settle)
		swing := math.Exp(-4*part) * math.Cos(4*math.Pi*part)
		state, shown = "moving", s.load-measure.Mass(float64(s.load-s.from)*swing)
	}
	gross := step(shown-s.zero, s.Division)
	switch {
	case gross > s.Max:
		state = "over"
	case gross < -20*s.Division:
		state = "under"
	}
	return fmt.Sprintf("weight %s gross=%s tare=%s net=%s", state, grams(gross), grams(s.tare), grams(gross-s.tare))
}

func grams(m measure.Mass) string {
	return strings.TrimRight(strings.TrimRight(fmt.Sprintf("%.3f", m.Grams()), "0"), ".")
}

// step rounds to whole divisions.
func step(m, division measure.Mass) measure.Mass {
	return measure.Mass(math.Round(float64(m)/float64(division))) * division
}

// obey carries a command out and gives the answer.
func (s *SimScale) obey(words []string, now time.Time) string {
	s.mu.Lock()
	defer s.mu.Unlock()
	if len(words) == 0 {
		return "no what?"
	}
	moving := now.Sub(s.changed) < s.Settle
	switch words[0] {
	case "zero", "tare":
		if moving {
			return "no " + words[0] + ": the pan is moving"
		}
		if words[0] == "zero" {
			s.zero, s.tare = s.load, 0
		} else {
			s.tare = max(0, step(s.load-s.zero, s.Division))
		}
	case "clear":
		s.tare = 0
	case "take":
		s.from, s.load, s.changed = s.load, 0, now
	case "put":
		if len(words) != 2 {
			return "no put: say how many grams"
		}
		m, err := measure.ParseMass(words[1], measure.UnitGram)
		if err != nil || m < 0 {
			return "no put: that is not a weight"
		}
		s.from, s.load, s.changed = s.load, m, now
	case "fault":
		if len(words) != 2 || (words[1] != "none" && !slices.Contains(SimFaults, words[1])) {
			return "no fault: say none, " + strings.Join(SimFaults, ", ")
		}
		s.fault, s.lines = strings.TrimPrefix(words[1], "none"), 0
	default:
		return "no " + clip(words[0]) + ": not a command"
	}
	return "ok " + words[0]
}
