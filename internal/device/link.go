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

// ErrScale is a command that a scale or thermometer did not carry out.
var ErrScale = errors.New("the device did not do it")

// silence is how long a device may say nothing before it counts as disconnected.
const silence = 3 * time.Second

// link keeps a connection to one device that speaks lines.
type link struct {
	addr, what string
	answers    chan string
	sending    sync.Mutex
	connMu     sync.Mutex
	conn       net.Conn
}

func newLink(addr, what string) link {
	return link{addr: addr, what: what, answers: make(chan string, 1)}
}

// keep connects until the context ends and hands on each line that is no answer to a command; lost is told each time it
// drops.
func (l *link) keep(ctx context.Context, take func(line string), lost func(error)) {
	for ctx.Err() == nil {
		lost(l.listen(ctx, take))
		select {
		case <-ctx.Done():
		case <-time.After(500 * time.Millisecond):
		}
	}
}

func (l *link) listen(ctx context.Context, take func(line string)) error {
	conn, err := (&net.Dialer{Timeout: 2 * time.Second}).DialContext(ctx, "tcp", l.addr)
	if err != nil {
		return fmt.Errorf("no %s answers at %s", l.what, l.addr)
	}
	defer conn.Close()
	stop := context.AfterFunc(ctx, func() { conn.Close() })
	defer stop()
	l.set(conn)
	defer l.set(nil)
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
			return fmt.Errorf("the %s stopped speaking", l.what)
		}
		line := lines.Text()
		if !strings.HasPrefix(line, "ok ") && !strings.HasPrefix(line, "no ") {
			take(line)
			continue
		}
		select {
		case l.answers <- line:
		default:
		}
	}
}

func (l *link) set(conn net.Conn) {
	l.connMu.Lock()
	defer l.connMu.Unlock()
	l.conn = conn
}

// command sends one command and waits for the answer.
func (l *link) command(ctx context.Context, command string) error {
	l.sending.Lock()
	defer l.sending.Unlock()
	l.connMu.Lock()
	conn := l.conn
	l.connMu.Unlock()
	if conn == nil {
		return fmt.Errorf("%w: it is not connected", ErrScale)
	}
	select {
	case <-l.answers: // an answer nobody waited for
	default:
	}
	if _, err := fmt.Fprintf(conn, "%s\n", command); err != nil {
		return fmt.Errorf("%w: %s", ErrScale, err)
	}
	select {
	case answer := <-l.answers:
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

// latest is a value that others wait for to change.
type latest[T comparable] struct {
	mu      *sync.Mutex
	value   T
	changed chan struct{}
}

func newLatest[T comparable](v T) latest[T] {
	return latest[T]{mu: &sync.Mutex{}, value: v, changed: make(chan struct{})}
}

func (l *latest[T]) update(f func(*T)) {
	l.mu.Lock()
	defer l.mu.Unlock()
	before := l.value
	f(&l.value)
	if l.value != before {
		close(l.changed)
		l.changed = make(chan struct{})
	}
}

// Reading gives the latest reading, and a channel that closes when there is another.
func (l *latest[T]) Reading() (T, <-chan struct{}) {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.value, l.changed
}
