package device

import (
	"context"
	"fmt"
	"net"
	"strconv"
	"strings"
	"sync"
	"time"

	"falda/internal/core/label"
)

// SimPrinter is the simulated label printer. It keeps what it printed last, and gives each label away as it is printed.
type SimPrinter struct {
	Every   time.Duration // between two lines; 500 ms when zero
	Printed func(page label.Page, copies int)

	mu    sync.Mutex
	page  *label.Page
	count int
	out   bool // of paper
}

// maxCopies bounds how many labels one command prints.
const maxCopies = 500

// Serve speaks to everyone who connects until the context ends.
func (p *SimPrinter) Serve(ctx context.Context, l net.Listener) error {
	if p.Every == 0 {
		p.Every = 500 * time.Millisecond
	}
	return serve(ctx, l, talker{every: p.Every, hello: func() string { return "hello printer dots=8 simulated=yes" },
		line: func(time.Time) (string, bool) {
			p.mu.Lock()
			defer p.mu.Unlock()
			return fmt.Sprintf("status %s printed=%d", map[bool]string{true: "out", false: "ready"}[p.out], p.count), false
		}, raw: p.obey})
}

// obey carries out one command.
func (p *SimPrinter) obey(command string) string {
	p.mu.Lock()
	defer p.mu.Unlock()
	words := strings.Fields(command)
	if len(words) == 0 {
		return "no command"
	}
	switch verb := words[0]; {
	case verb == "paper" && len(words) == 2 && (words[1] == "out" || words[1] == "in"):
		p.out = words[1] == "out"
	case verb == "page" && len(words) == 3:
		wide, err1 := strconv.ParseFloat(words[1], 64)
		high, err2 := strconv.ParseFloat(words[2], 64)
		if err1 != nil || err2 != nil || wide <= 0 || high <= 0 || wide > 500 || high > 500 {
			return "no page: it has no size"
		}
		p.page = &label.Page{Wide: wide, High: high}
	case p.page == nil:
		return "no " + verb + ": begin with a page"
	case verb == "print" && len(words) == 2:
		n, err := strconv.Atoi(words[1])
		if err != nil || n < 1 || n > maxCopies {
			return fmt.Sprintf("no print: 1 to %d labels", maxCopies)
		}
		if p.out {
			return "no print: its paper is out"
		}
		p.count += n
		page := *p.page
		p.page = nil
		if p.Printed != nil {
			p.Printed(page, n)
		}
	default:
		i, err := readItem(command)
		if err != nil {
			return "no " + verb + ": " + err.Error()
		}
		p.page.Items = append(p.page.Items, i)
	}
	return "ok " + words[0]
}
