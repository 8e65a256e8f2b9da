package device

import (
	"bufio"
	"context"
	"fmt"
	"net"
	"slices"
	"strings"
	"sync"
	"time"
)

// ScaleFaults are what can go wrong with the simulated scale, by command: “fault noise”, “fault none” to end it.
// ProbeFaults are those of the simulated thermometer.
var (
	ProbeFaults = []string{
		"noise",   // it never comes to rest
		"drift",   // it creeps up by one step every ten lines
		"garbage", // bytes that are no line of the protocol
		"stuck",   // it repeats what it said last
		"drop",    // the line breaks, once
	}
	ScaleFaults = append(slices.Clone(ProbeFaults), "unit") // it says that it shows a unit that nobody knows
)

// wrong is what is wrong with a stand-in.
type wrong struct {
	fault string // empty when all is well
	said  string // the last line, which a stuck one repeats
	lines int    // said since the fault began
}

// next counts a line and gives what is wrong.
func (w *wrong) next() string {
	w.lines++
	return w.fault
}

// common is what a line becomes by faults that every device can have.
func (w *wrong) common(line string) (out string, drop bool) {
	switch w.fault {
	case "garbage":
		return "\xff\x00 stable gross=", false
	case "stuck":
		return w.said, false
	case "drop":
		w.fault = ""
		return "", true
	}
	w.said = line
	return line, false
}

// goWrong carries out the command that makes something go wrong.
func (w *wrong) goWrong(words, known []string) string {
	if len(words) != 2 || (words[1] != "none" && !slices.Contains(known, words[1])) {
		return "no fault: say none, " + strings.Join(known, ", ")
	}
	w.fault, w.lines = strings.TrimPrefix(words[1], "none"), 0
	return "ok fault"
}

// talker is a stand-in that says a line every so often and obeys commands.
type talker struct {
	every time.Duration
	hello func() string
	line  func(now time.Time) (text string, drop bool)
	obey  func(words []string, now time.Time) string
	raw   func(command string) string // in the place of obey, where spaces count
}

// serve speaks to everyone who connects until the context ends.
func serve(ctx context.Context, l net.Listener, t talker) error {
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
		go t.speak(ctx, conn)
	}
}

func (t talker) speak(ctx context.Context, conn net.Conn) {
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	stop := context.AfterFunc(ctx, func() { conn.Close() })
	defer stop()
	var writing sync.Mutex
	say := func(line string) error {
		writing.Lock()
		defer writing.Unlock()
		_ = conn.SetWriteDeadline(time.Now().Add(silence))
		_, err := fmt.Fprintln(conn, line)
		return err
	}
	if say(t.hello()) != nil {
		return
	}
	go func() {
		defer cancel()
		commands := bufio.NewScanner(conn)
		commands.Buffer(nil, 4*maxLine)
		for commands.Scan() {
			answer := ""
			if t.raw != nil {
				answer = t.raw(commands.Text())
			} else {
				answer = t.obey(strings.Fields(commands.Text()), time.Now())
			}
			if say(answer) != nil {
				return
			}
		}
	}()
	tick := time.NewTicker(t.every)
	defer tick.Stop()
	for {
		line, drop := t.line(time.Now())
		if drop || say(line) != nil {
			return
		}
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
	}
}
