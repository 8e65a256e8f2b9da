package device

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"net"
	"strings"
	"sync"
	"time"
)

// Scale keeps a connection to one scale and the latest reading of it.
type Scale struct {
	addr string

	mu      sync.Mutex
	conn    net.Conn
	reading Reading
	lowest  float64 // least net seen since the last stable reading, in grams
	settled Reading // last stable reading
	changed chan struct{}
	answers chan string
	sending sync.Mutex
}

// ErrScale is a command that the scale did not carry out.
var ErrScale = errors.New("the scale did not do it")

// silence is how long a scale may say nothing before it counts as disconnected.
const silence = 3 * time.Second

// Connect keeps a connection to the scale at addr until the context ends, and takes it up again when it drops.
func Connect(ctx context.Context, addr string) *Scale {
	s := &Scale{addr: addr, changed: make(chan struct{}), answers: make(chan string, 1)}
	s.reading = Reading{Status: Disconnected, Message: "not connected yet"}
	go func() {
		for ctx.Err() == nil {
			err := s.listen(ctx)
			s.update(func(r *Reading) {
				*r = Reading{Status: Disconnected, Load: r.Load, Simulated: r.Simulated, Division: r.Division, Unit: r.Unit, Message: err.Error()}
			})
			select {
			case <-ctx.Done():
			case <-time.After(500 * time.Millisecond):
			}
		}
	}()
	return s
}

func (s *Scale) listen(ctx context.Context) error {
	conn, err := (&net.Dialer{Timeout: 2 * time.Second}).DialContext(ctx, "tcp", s.addr)
	if err != nil {
		return errors.New("no scale answers at " + s.addr)
	}
	defer conn.Close()
	stop := context.AfterFunc(ctx, func() { conn.Close() })
	defer stop()
	s.mu.Lock()
	s.conn = conn
	s.mu.Unlock()
	defer func() {
		s.mu.Lock()
		s.conn = nil
		s.mu.Unlock()
	}()
	lines := bufio.NewScanner(conn)
	lines.Buffer(make([]byte, 0, maxLine), 4*maxLine)
	for {
		if err := conn.SetReadDeadline(time.Now().Add(silence)); err != nil {
			return err
		}
		if !lines.Scan() {
			if ctx.Err() != nil {
				return ctx.Err()
			}
			return errors.New("the scale stopped speaking")
		}
		s.take(lines.Text())
	}
}

// take works one line in.
func (s *Scale) take(line string) {
	if strings.HasPrefix(line, "ok ") || strings.HasPrefix(line, "no ") {
		select {
		case s.answers <- line:
		default:
		}
		return
	}
	s.update(func(r *Reading) {
		next, err := r.parse(line)
		if err != nil {
			r.Message = err.Error()
			r.Stable = false
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

func (s *Scale) update(f func(*Reading)) {
	s.mu.Lock()
	defer s.mu.Unlock()
	before := s.reading
	f(&s.reading)
	if s.reading != before {
		close(s.changed)
		s.changed = make(chan struct{})
	}
}

// Reading gives the latest reading, and a channel that closes when there is another.
func (s *Scale) Reading() (Reading, <-chan struct{}) {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.reading, s.changed
}

// Command sends one command and waits for the scale's answer: "zero", "tare", "clear", and on the stand-in "put 1180"
// (grams) and "take". The error says why the scale did not do it.
func (s *Scale) Command(ctx context.Context, command string) error {
	s.sending.Lock()
	defer s.sending.Unlock()
	s.mu.Lock()
	conn := s.conn
	s.mu.Unlock()
	if conn == nil {
		return fmt.Errorf("%w: it is not connected", ErrScale)
	}
	select {
	case <-s.answers: // an answer nobody waited for
	default:
	}
	if _, err := fmt.Fprintf(conn, "%s\n", command); err != nil {
		return fmt.Errorf("%w: %s", ErrScale, err)
	}
	select {
	case answer := <-s.answers:
		if rest, no := strings.CutPrefix(answer, "no "); no {
			return fmt.Errorf("%w: %s", ErrScale, rest)
		}
		return nil
	case <-ctx.Done():
		return ctx.Err()
	case <-time.After(2 * time.Second):
		return fmt.Errorf("%w: it does not answer", ErrScale)
	}
}
