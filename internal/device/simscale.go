package device

import (
	"context"
	"fmt"
	"math"
	"net"
	"strings"
	"sync"
	"time"

	"falda/internal/core/measure"
)

// SimScale is the simulated scale. It settles after each change, shows whole divisions, and speaks the protocol to any
// number of listeners.
type SimScale struct {
	Division measure.Mass  // smallest step shown; 5 g when zero, 0.01 lb where it shows pounds
	Max      measure.Mass  // most it can weigh; 30 kg when zero
	Settle   time.Duration // how long it moves after a change; 600 ms when zero
	Every    time.Duration // between two lines; 100 ms when zero
	Unit     measure.Unit  // in which it shows; grams when empty
	Speaks   string        // one of Dialects; the protocol when empty

	mu      sync.Mutex
	load    measure.Mass // what lies on it
	from    measure.Mass // what lay on it before
	zero    measure.Mass
	tare    measure.Mass
	changed time.Time
	strange bool // it said a unit that nobody knows
	wrong        // what is wrong with it
}

// Dialects are other ways in which the stand-in can speak, as scales of other makes do: with letters for the state,
// with fields parted by signs, or the bare number of grams and nothing of what is stable. Each with a pattern that
// reads it.
var Dialects = map[string]string{
	"letters": `^N (?P<sign>[+-])(?P<net>[0-9.]+) (?P<unit>\w+) (?:(?P<stable>S)|(?P<moving>M)|(?P<over>O)|(?P<under>U))$`,
	"fields":  `^(?P<gross>-?[\d,]+);(?P<tare>-?[\d,]+);(?:(?P<stable>1)|(?P<moving>0))$`,
	"bare":    `^(?P<sign>-?)(?P<net>\d+)$`,
}

// Serve speaks to everyone who connects until the context ends.
func (s *SimScale) Serve(ctx context.Context, l net.Listener) error {
	s.defaults()
	return serve(ctx, l,
		talker{every: s.Every, hello: s.hello, line: func(now time.Time) (string, bool) { return s.faulty(s.line(now)) },
			obey: s.obey})
}

func (s *SimScale) hello() string {
	if s.Speaks != "" { // it begins at once
		return s.line(time.Now())
	}
	return fmt.Sprintf("hello scale unit=%s division=%s simulated=yes", s.Unit, s.text(s.Division))
}

func (s *SimScale) defaults() {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.Unit == "" {
		s.Unit = measure.UnitGram
	}
	switch {
	case s.Division > 0:
	case s.Unit == measure.UnitPound:
		s.Division, _ = measure.ParseMass("0.01", measure.UnitPound)
	default:
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

// faulty is what a line becomes while something is wrong; drop says that the line breaks instead.
func (s *SimScale) faulty(line string) (out string, drop bool) {
	s.mu.Lock()
	defer s.mu.Unlock()
	was := s.strange
	s.strange = false
	switch s.next() {
	case "":
		if was { // its unit is right again
			return s.hello(), false
		}
	case "noise":
		return strings.Replace(line, "weight stable", "weight moving", 1), false
	case "drift":
		gross := step(s.load-s.zero, s.Division) + s.Division*measure.Mass(s.lines/10)
		return s.shows("stable", gross), false
	case "unit":
		s.strange = true
		return "hello scale unit=stone division=1 simulated=yes", false
	}
	return s.common(line)
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
	return s.shows(state, gross)
}

// shows is a line of the protocol, in the scale's unit.
func (s *SimScale) shows(state string, gross measure.Mass) string {
	net := gross - s.tare
	switch s.Speaks {
	case "letters":
		sign := "+"
		if net < 0 {
			sign, net = "-", -net
		}
		return fmt.Sprintf("N %s%010.3f kg %s", sign, net.Grams()/1000, strings.ToUpper(state[:1]))
	case "fields":
		kilos := func(m measure.Mass) string { return strings.Replace(fmt.Sprintf("%.3f", m.Grams()/1000), ".", ",", 1) }
		return fmt.Sprintf("%s;%s;%d", kilos(gross), kilos(s.tare), map[bool]int{true: 1}[state == "stable"])
	case "bare":
		return fmt.Sprintf("%07.0f", net.Grams())
	}
	return fmt.Sprintf("weight %s gross=%s tare=%s net=%s", state, s.text(gross), s.text(s.tare), s.text(gross-s.tare))
}

// text is a mass as the scale shows it: in its unit, in whole divisions of that.
func (s *SimScale) text(m measure.Mass) string {
	in := func(m measure.Mass) float64 { f, _ := m.In(s.Unit).Float64(); return f }
	division := math.Round(in(s.Division)*1e4) / 1e4
	text := fmt.Sprintf("%.4f", math.Round(in(m)/division)*division)
	return strings.TrimRight(strings.TrimRight(text, "0"), ".")
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
		return s.goWrong(words, ScaleFaults)
	default:
		return "no " + clip(words[0]) + ": not a command"
	}
	return "ok " + words[0]
}
