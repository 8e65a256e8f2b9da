package bestuse

import (
	"errors"
	"fmt"
	"slices"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
)

// Head is so many animals, or sides, that are alike. All of them are divided in the same way.
type Head struct {
	ID    string
	Count int
}

// Way is a way of cutting a kind of piece that a head falls into.
type Way struct {
	Head, Division, Piece, ID string
	PerHead                   int // pieces of that kind in one head
	Plan                      Plan
}

// NoBetterThan says whether another way of the same piece makes at least as much of everything in no more minutes and
// at no more cost, so that this one need not be looked at.
func (x Way) NoBetterThan(other Way) bool {
	if x.Head != other.Head || x.Division != other.Division || x.Piece != other.Piece || x.PerHead != other.PerHead ||
		x.Plan.Minutes < other.Plan.Minutes || x.Plan.Saw < other.Plan.Saw || x.Plan.Cost.Cmp(other.Plan.Cost) < 0 {
		return false
	}
	return !slices.ContainsFunc(x.Plan.Yields, func(y Yield) bool {
		return !slices.ContainsFunc(other.Plan.Yields,
			func(o Yield) bool { return o.Product == y.Product && o.Mass >= y.Mass })
	})
}

// Heads is what a week's kill should become.
type Heads struct {
	Heads    []Head
	Ways     []Way // those without a division belong to every one
	Products []Product
	Minutes  *Minutes
	Saw      *Minutes
}

// Use is how many pieces of a kind go one way.
type Use struct {
	Head, Piece, Way string
	Pieces           int
}

// HeadsSolution is the best use of the heads.
type HeadsSolution struct {
	Solution
	Use       []Use
	Divisions map[string]string // by head
	Problem   Problem           // of the divisions that were chosen
}

// The most that is taken at once.
const (
	maxHeads     = 50
	maxDivisions = 144 // combinations of the heads' divisions
	maxWays      = 2000
)

// BestHeads finds for each head the division, and for its pieces how many go which way, so that the whole brings the
// most. Each combination of divisions is a problem of its own; that which brings the most is kept. Faults name
// heads[i].count, ways[i].per_head and the like; ErrInfeasible where no combination keeps all orders and limits.
func BestHeads(h Heads, with Solver, stop Stop) (HeadsSolution, error) {
	if err := h.check(); err != nil {
		return HeadsSolution{}, err
	}
	best, found, proven, atMost := HeadsSolution{}, false, true, 0.0
	var last error
	for _, chosen := range h.combinations() {
		p, ways := h.problem(chosen)
		solver := with
		if b, ok := with.(BranchAndBound); ok && found { // only what brings more is of interest
			b.Above = &best.Value
			solver = b
		}
		s, err := solver.Solve(p, nil, stop)
		if errors.Is(err, ErrInfeasible) {
			last = err
			continue
		}
		if errors.Is(err, ErrStopped) && found {
			proven = false
			atMost = max(atMost, p.atMost())
			continue
		}
		if err != nil {
			return HeadsSolution{}, err
		}
		proven = proven && s.Proven
		atMost = max(atMost, s.AtMost, s.Value.Float())
		if !found || s.Value.Cmp(best.Value) > 0 {
			best, found = HeadsSolution{Solution: s, Divisions: chosen, Problem: p, Use: uses(s, ways)}, true
		}
	}
	if !found {
		return HeadsSolution{}, last
	}
	best.Proven, best.AtMost = proven || atMost <= best.Value.Float()+exact, atMost
	return best, nil
}

func (h Heads) check() error {
	var faults fault.List
	bad := func(wrong bool, field, code, message, out string) {
		if wrong {
			faults.Add(field, fault.New("", code, message, out))
		}
	}
	bad(len(h.Heads) == 0 || len(h.Heads) > maxHeads, "heads", "out_of_range", fmt.Sprintf("must be 1 to %d", maxHeads),
		"Put heads that are alike together by a count.")
	bad(len(h.Ways) == 0 || len(h.Ways) > maxWays, "ways", "out_of_range", fmt.Sprintf("must be 1 to %d", maxWays),
		"Leave some out.")
	known := map[string]bool{}
	for i, x := range h.Heads {
		at := fmt.Sprintf("heads[%d].", i)
		bad(x.ID == "" || known[x.ID], at+"id", "twice", "is empty or stands twice", "Give each head its own id.")
		bad(x.Count < 1 || x.Count > MaxCount, at+"count", "out_of_range", fmt.Sprintf("must be from 1 to %d", MaxCount),
			"Count again.")
		known[x.ID] = true
	}
	per, seen := map[[3]string]int{}, map[[4]string]bool{}
	for i, w := range h.Ways {
		at := fmt.Sprintf("ways[%d].", i)
		bad(!known[w.Head], at+"head", "unknown", "is not one of the heads", "List it among them.")
		bad(w.Piece == "", at+"piece", "required", "is empty", "Name the piece.")
		id := [4]string{w.Head, w.Division, w.Piece, w.ID}
		bad(w.ID == "" || seen[id], at+"id", "twice", "is empty or stands twice", "Give each way of a piece its own id.")
		seen[id] = true
		bad(w.PerHead < 1 || w.PerHead > 100, at+"per_head", "out_of_range", "must be from 1 to 100",
			"Say how many of it one head has.")
		key := [3]string{w.Head, w.Division, w.Piece}
		was, twice := per[key]
		bad(twice && was != w.PerHead, at+"per_head", "different", "differs from that of another way of the same piece",
			"A head has so many of it, however they are cut.")
		per[key] = w.PerHead
	}
	if faults == nil {
		bad(h.count() > maxDivisions, "ways", "too_many", "name more divisions than can be tried together",
			"Leave some divisions out.")
	}
	return faults.Err()
}

// divisions lists those of a head in the order in which they are named; the one without a name where there is none.
func (h Heads) divisions(head string) []string {
	var out []string
	seen := map[string]bool{}
	for _, w := range h.Ways {
		if w.Head == head && w.Division != "" && !seen[w.Division] {
			seen[w.Division] = true
			out = append(out, w.Division)
		}
	}
	if out == nil {
		return []string{""}
	}
	return out
}

// count is how many combinations of divisions there are.
func (h Heads) count() int {
	n := 1
	for _, x := range h.Heads {
		n = min(n*len(h.divisions(x.ID)), maxDivisions+1)
	}
	return n
}

// combinations lists one division for each head, in every way.
func (h Heads) combinations() []map[string]string {
	out := []map[string]string{{}}
	for _, x := range h.Heads {
		var next []map[string]string
		for _, was := range out {
			for _, d := range h.divisions(x.ID) {
				with := map[string]string{x.ID: d}
				for head, division := range was {
					with[head] = division
				}
				next = append(next, with)
			}
		}
		out = next
	}
	return out
}

// problem lays out one combination; ways gives for each piece and plan of it the way that it is.
func (h Heads) problem(chosen map[string]string) (p Problem, ways [][]Way) {
	p = Problem{Products: h.Products, Minutes: h.Minutes, Saw: h.Saw}
	count := map[string]int{}
	for _, x := range h.Heads {
		count[x.ID] = x.Count
	}
	at := map[[2]string]int{}
	for _, w := range h.Ways {
		if w.Division != "" && w.Division != chosen[w.Head] {
			continue
		}
		key := [2]string{w.Head, w.Piece}
		i, ok := at[key]
		if !ok {
			i = len(p.Pieces)
			at[key] = i
			p.Pieces = append(p.Pieces, Piece{ID: w.Head + "\x00" + w.Piece, Count: count[w.Head] * w.PerHead})
			ways = append(ways, nil)
		}
		plan := w.Plan
		plan.ID = fmt.Sprint(len(p.Pieces[i].Plans))
		p.Pieces[i].Plans = append(p.Pieces[i].Plans, plan)
		ways[i] = append(ways[i], w)
	}
	return p, ways
}

// uses says which way how many pieces go.
func uses(s Solution, ways [][]Way) []Use {
	var out []Use
	for i, list := range ways {
		for k, w := range list {
			if n := s.counts[i][k]; n > 0 {
				out = append(out, Use{w.Head, w.Piece, w.ID, n})
			}
		}
	}
	return out
}

// AnHour is what one more hour at the bench would bring, all else as it is; nil where minutes are no limit.
func AnHour(h Heads, best HeadsSolution, with Solver, stop Stop) (*measure.Money, bool, error) {
	if h.Minutes == nil {
		return nil, true, nil
	}
	more := *h.Minutes + 60*100
	h.Minutes = &more
	s, err := BestHeads(h, with, stop)
	if err != nil {
		return nil, false, err
	}
	worth := s.Value.Sub(best.Value)
	if worth.Sign() < 0 { // it was stopped before it came so far
		worth = measure.Money{}
	}
	return &worth, s.Proven, nil
}

// HeadsConflict says which orders and limits of heads that have no use cannot be kept together: of the divisions those
// that come closest, by the fewest orders in the way.
func HeadsConflict(h Heads, with Solver, stop Stop) (Clash, error) {
	var best Clash
	for i, chosen := range h.combinations() {
		p, _ := h.problem(chosen)
		c, err := Conflict(p, with, stop)
		if err != nil {
			return c, err
		}
		if i == 0 || len(c.Orders) < len(best.Orders) {
			best = c
		}
	}
	return best, nil
}
