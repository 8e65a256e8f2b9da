package device

import (
	"context"
	"fmt"
	"math"
	"net"
	"strconv"
	"strings"
	"sync"
	"time"

	"falda/internal/core/measure"
)

// ProbeReading is what a thermometer shows at one moment.
type ProbeReading struct {
	Status    Status // OK or Disconnected
	Steady    bool   // it has stopped changing
	C         float64
	Simulated bool
	Message   string
}

// parse reads one line: “hello probe unit=C simulated=yes”, “temp steady 3.4”, “temp moving 5.1 unit=F”.
func (r ProbeReading) parse(line string) (ProbeReading, error) {
	words := strings.Fields(line)
	bad := fmt.Errorf("thermometer: %q is not a line of the protocol", clip(line))
	if len(line) > maxLine || len(words) < 2 {
		return r, bad
	}
	next := r
	switch {
	case words[0] == "hello" && words[1] == "probe":
		next.Simulated = strings.Contains(line, "simulated=yes")
	case words[0] == "temp" && len(words) >= 3 && (words[1] == "steady" || words[1] == "moving"):
		n, err := measure.ParseNumber(words[2])
		if err != nil {
			return r, bad
		}
		next.C, _ = n.Float64()
		switch strings.Join(words[3:], " ") {
		case "", "unit=C":
		case "unit=F":
			next.C = measure.Celsius(next.C)
		default:
			return r, bad
		}
		next.C = math.Round(next.C*10) / 10
		if next.C < -60 || next.C > 300 {
			return r, bad
		}
		next.Status, next.Steady = OK, words[1] == "steady"
	default:
		return r, bad
	}
	next.Message = ""
	return next, nil
}

// Probe keeps a connection to one thermometer and the latest reading of it.
type Probe struct {
	link
	latest[ProbeReading]
}

// ConnectProbe keeps a connection to the thermometer at addr until the context ends, and takes it up again when it
// drops.
func ConnectProbe(ctx context.Context, addr string) *Probe {
	p := &Probe{link: newLink(addr, "thermometer"),
		latest: newLatest(ProbeReading{Status: Disconnected, Message: "not connected yet"})}
	go p.keep(ctx, func(line string) {
		p.update(func(r *ProbeReading) {
			next, err := r.parse(line)
			if err != nil {
				r.Message, r.Steady = err.Error(), false
				return
			}
			*r = next
		})
	}, func(err error) {
		p.update(func(r *ProbeReading) {
			*r = ProbeReading{Status: Disconnected, Simulated: r.Simulated, Message: err.Error()}
		})
	})
	return p
}

// Command sends one command and waits for the answer: on the stand-in “put 3.4” (°C) and “fault noise”.
func (p *Probe) Command(ctx context.Context, command string) error { return p.command(ctx, command) }

// Put puts the stand-in into something of a temperature, in °C.
func (p *Probe) Put(ctx context.Context, c float64) error {
	return p.command(ctx, "put "+strconv.FormatFloat(c, 'f', 1, 64))
}

// SimProbe is the simulated thermometer. It nears what it was put into, and shows tenths of a degree.
type SimProbe struct {
	Settle time.Duration // until it is steady after a change; 2 s when zero
	Every  time.Duration // between two lines; 200 ms when zero
	C      float64       // what it lies in at first

	mu      sync.Mutex
	from    float64
	changed time.Time
	wrong
}

// Serve speaks to everyone who connects until the context ends.
func (p *SimProbe) Serve(ctx context.Context, l net.Listener) error {
	p.mu.Lock()
	if p.Settle == 0 {
		p.Settle = 2 * time.Second
	}
	if p.Every == 0 {
		p.Every = 200 * time.Millisecond
	}
	p.from = p.C
	every := p.Every
	p.mu.Unlock()
	return serve(ctx, l,
		talker{every: every, hello: func() string { return "hello probe unit=C simulated=yes" }, line: p.line, obey: p.obey})
}

func (p *SimProbe) line(now time.Time) (string, bool) {
	p.mu.Lock()
	defer p.mu.Unlock()
	state, c := "steady", p.C
	if since := now.Sub(p.changed); since < p.Settle {
		state, c = "moving", p.C+(p.from-p.C)*math.Exp(-6*float64(since)/float64(p.Settle))
	}
	switch p.next() {
	case "noise":
		state = "moving"
	case "drift":
		c += 0.1 * float64(p.lines/10)
	}
	return p.common(fmt.Sprintf("temp %s %.1f", state, c))
}

func (p *SimProbe) obey(words []string, now time.Time) string {
	p.mu.Lock()
	defer p.mu.Unlock()
	if len(words) == 0 {
		return "no what?"
	}
	switch words[0] {
	case "put":
		if len(words) != 2 {
			return "no put: say how many degrees"
		}
		n, err := measure.ParseNumber(words[1])
		if err != nil {
			return "no put: that is not a temperature"
		}
		c, _ := n.Float64()
		if c < -40 || c > 150 {
			return "no put: it shows -40 to 150"
		}
		p.from, p.C, p.changed = p.C, c, now
		return "ok put"
	case "fault":
		return p.goWrong(words, ProbeFaults)
	}
	return "no " + clip(words[0]) + ": not a command"
}
