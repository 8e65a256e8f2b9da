package device

import (
	"context"
	"fmt"
	"strconv"
	"strings"

	"falda/internal/core/label"
)

// PrinterState is what a label printer says of itself.
type PrinterState struct {
	Status    Status // OK or Disconnected
	Printed   int    // labels since it was switched on
	Simulated bool
	Message   string
}

// parse reads one line: “hello printer dots=8 simulated=yes”, “status ready printed=12”, “status out printed=12” where
// the paper is out.
func (s PrinterState) parse(line string) (PrinterState, error) {
	words := strings.Fields(line)
	bad := fmt.Errorf("label printer: %q is not a line of the protocol", clip(line))
	if len(line) > maxLine || len(words) < 2 {
		return s, bad
	}
	next := s
	next.Message = ""
	switch {
	case words[0] == "hello" && words[1] == "printer":
		next.Simulated = strings.Contains(line, "simulated=yes")
	case words[0] == "status" && len(words) == 3 && (words[1] == "ready" || words[1] == "out"):
		n, err := strconv.Atoi(strings.TrimPrefix(words[2], "printed="))
		if err != nil || n < 0 {
			return s, bad
		}
		next.Status, next.Printed = OK, n
		if words[1] == "out" {
			next.Message = "its paper is out"
		}
	default:
		return s, bad
	}
	return next, nil
}

// Printer keeps a connection to one label printer.
type Printer struct {
	link
	latest[PrinterState]
}

// ConnectPrinter keeps a connection to the printer at addr until the context ends, and takes it up again when it drops.
func ConnectPrinter(ctx context.Context, addr string) *Printer {
	p := &Printer{link: newLink(addr, "label printer"),
		latest: newLatest(PrinterState{Status: Disconnected, Message: "not connected yet"})}
	go p.keep(ctx, func(line string) {
		p.update(func(s *PrinterState) {
			next, err := s.parse(line)
			if err != nil {
				s.Message = err.Error()
				return
			}
			*s = next
		})
	}, func(err error) {
		p.update(func(s *PrinterState) {
			*s = PrinterState{Status: Disconnected, Simulated: s.Simulated, Message: err.Error()}
		})
	})
	return p
}

// Command sends one command and waits for the answer: those of a page, and on the stand-in “paper out” and “paper in”.
func (p *Printer) Command(ctx context.Context, command string) error { return p.command(ctx, command) }

// Print sends a label and prints it so many times. The error says why the printer did not.
func (p *Printer) Print(ctx context.Context, page label.Page, copies int) error {
	for _, line := range append(lines(page), fmt.Sprintf("print %d", copies)) {
		if err := p.command(ctx, line); err != nil {
			return err
		}
	}
	return nil
}

// mm is a length as the protocol says it.
func mm(v float64) string { return strconv.FormatFloat(v, 'f', 2, 64) }

// lines writes a page in the words of the protocol, a command for each thing on it.
func lines(p label.Page) []string {
	out := []string{"page " + mm(p.Wide) + " " + mm(p.High)}
	for _, i := range p.Items {
		switch i.Kind {
		case label.KindText:
			face, side := "plain", "left"
			if i.Bold {
				face = "bold"
			}
			if i.Right {
				side = "right"
			}
			out = append(out, strings.Join([]string{"text", mm(i.X), mm(i.Y), mm(i.Size), face, side, i.Text}, " "))
		case label.KindLine:
			out = append(out, strings.Join([]string{"line", mm(i.X), mm(i.Y), mm(i.Wide), mm(i.High)}, " "))
		default:
			out = append(out, strings.Join([]string{"code", i.Kind, mm(i.X), mm(i.Y), mm(i.Wide), mm(i.High), i.Text}, " "))
		}
	}
	return out
}

// readItem reads what a command puts on a page.
func readItem(command string) (i label.Item, err error) {
	verb, rest, _ := strings.Cut(command, " ")
	bad := fmt.Errorf("%q is no command", clip(command))
	words := strings.SplitN(rest, " ", 6)
	number := func(n int) float64 {
		if n >= len(words) {
			err = bad
			return 0
		}
		v, wrong := strconv.ParseFloat(words[n], 64)
		if wrong != nil || v < 0 || v > 500 {
			err = bad
		}
		return v
	}
	switch {
	case verb == "text" && len(words) == 6:
		i = label.Item{Kind: label.KindText, X: number(0), Y: number(1), Size: number(2), Bold: words[3] == "bold",
			Right: words[4] == "right", Text: words[5]}
	case verb == "line" && len(words) == 4:
		i = label.Item{Kind: label.KindLine, X: number(0), Y: number(1), Wide: number(2), High: number(3)}
	case verb == "code" && len(words) == 6:
		i = label.Item{Kind: words[0], X: number(1), Y: number(2), Wide: number(3), High: number(4), Text: words[5]}
		if i.Kind != label.KindGS1 && i.Kind != label.KindEAN13 && i.Kind != label.KindQR {
			err = bad
		}
	default:
		err = bad
	}
	return i, err
}
