package bench

import (
	"context"
	"fmt"
	"time"

	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/store"
	"falda/internal/work/shop"
)

// Verification is what was looked at and what was found wrong.
type Verification struct {
	Shops      int
	Breakdowns int
	Events     int
	Flaws      []string // each names its breakdown and says what does not agree
	Rebuilt    int      // breakdowns whose read tables were written anew
	Audits     []string // where each shop's audit ends, in words: worth noting elsewhere
}

// Verify looks through the whole database, shop by shop: it folds the log of every breakdown and compares it with the
// read tables, checks that every closed node balances to the milligram, that no event is missing in a log, that the
// pieces of a lot weigh what the lot weighs, and that no row leans on a row of another shop. With rebuild, read tables
// that do not agree are written anew from the log; the log itself is never touched.
func (s *Service) Verify(ctx context.Context, rebuild bool) (Verification, error) {
	var v Verification
	shops, err := s.store.Shops(ctx)
	if err != nil {
		return v, err
	}
	for _, row := range shops {
		shop, err := s.shops.For(ctx, row)
		if err != nil {
			return v, err
		}
		if err := s.verifyShop(ctx, shop, rebuild, &v); err != nil {
			return v, err
		}
		flaws, entries, head, err := s.store.AuditFlaws(ctx, shop.ID)
		if err != nil {
			return v, err
		}
		for _, f := range flaws {
			v.Flaws = append(v.Flaws, shop.PublicID+": "+f)
		}
		v.Audits = append(v.Audits, fmt.Sprintf("audit of %s: %d rows, ends at %.16s", shop.Name, entries, head))
	}
	flaws, err := s.store.CrossShopRefs(ctx)
	v.Shops, v.Flaws = len(shops), append(v.Flaws, flaws...)
	return v, err
}

func (s *Service) verifyShop(ctx context.Context, shop shop.WithPlans, rebuild bool, v *Verification) error {
	rows, err := s.store.Breakdowns(ctx, shop.ID)
	if err != nil {
		return err
	}
	for _, row := range rows {
		board, err := s.BoardOf(ctx, shop, row, nil)
		if err != nil {
			return err
		}
		v.Breakdowns++
		v.Events += board.Board.Events
		for _, f := range unbalanced(board.Board) {
			v.Flaws = append(v.Flaws, row.PublicID+": "+f)
		}
		outputs, err := s.store.Outputs(ctx, shop.ID, row.ID)
		if err != nil {
			return err
		}
		want := row
		summarise(&want, board.Board, board.Minutes)
		if !board.Board.Closed() {
			want.Minutes = row.Minutes // runs while the piece is open
		}
		differ := summaryFlaws(row, want)
		wanted := outputRows(shop.ID, row.ID, board.Board)
		differ = append(differ, outputFlaws(outputs, wanted)...)
		flaws, result, err := s.resultFlaws(ctx, board)
		if err != nil {
			return err
		}
		if rebuild && result != nil {
			if err := s.WriteResult(ctx, shop, row); err != nil {
				return err
			}
		}
		for _, f := range append(flaws, differ...) {
			v.Flaws = append(v.Flaws, row.PublicID+": "+f)
		}
		if rebuild && len(flaws)+len(differ) > 0 {
			if err := s.store.Rewrite(ctx, want, wanted); err != nil {
				return err
			}
			v.Rebuilt++
		}
	}
	return nil
}

// unbalanced lists the closed nodes whose children and loss do not add up to their input.
func unbalanced(b seam.Board) []string {
	var flaws []string
	for _, n := range b.Nodes {
		if !n.Closed {
			continue
		}
		sum, in := n.Loss, n.Mass
		for _, id := range n.Children {
			child, _ := b.Node(id)
			sum += child.Mass
		}
		if n.ID == b.Root { // of a block that was cut further, what came off it is what came out
			sum, in = n.Loss+b.Output(), n.Mass+b.AddedMass()
		}
		if sum != in {
			flaws = append(flaws, fmt.Sprintf("node %s: children and loss are %d mg of %d", n.ID, sum, in))
		}
	}
	return flaws
}

func summaryFlaws(got, want store.Breakdown) []string {
	var flaws []string
	differ := func(what string, a, b any) {
		if a != b {
			flaws = append(flaws, fmt.Sprintf("%s is %v, the log says %v", what, a, b))
		}
	}
	differ("state", got.State, want.State)
	differ("number of events", got.Events, want.Events)
	differ("input", measure.Mass(got.InputMg), measure.Mass(want.InputMg))
	differ("output", measure.Mass(got.OutputMg), measure.Mass(want.OutputMg))
	differ("added", measure.Mass(got.AddedMg), measure.Mass(want.AddedMg))
	differ("loss", measure.Mass(got.LossMg), measure.Mass(want.LossMg))
	if d := got.Minutes - want.Minutes; d > 0.001 || d < -0.001 {
		differ("minutes", got.Minutes, want.Minutes)
	}
	differ("time of the close", moment(got.ClosedAt), moment(want.ClosedAt))
	return flaws
}

func moment(t *time.Time) string {
	if t == nil {
		return "none"
	}
	return t.UTC().Format(time.RFC3339Nano)
}

func outputFlaws(got, want []store.Output) []string {
	var flaws []string
	byNode := map[string]store.Output{}
	for _, o := range got {
		byNode[o.Node] = o
	}
	for _, w := range want {
		g, ok := byNode[w.Node]
		delete(byNode, w.Node)
		switch {
		case !ok:
			flaws = append(flaws, "weighing "+w.Node+" is missing in the read table")
		case g.MassMg != w.MassMg || g.Part != w.Part || g.Product != w.Product || g.Parent != w.Parent || g.Kind != w.Kind:
			flaws = append(flaws, "weighing "+w.Node+" stands wrongly in the read table")
		}
	}
	for node := range byNode {
		flaws = append(flaws, "weighing "+node+" is in the read table and not on the board")
	}
	return flaws
}
