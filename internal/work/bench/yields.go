package bench

import (
	"context"
	"fmt"
	"time"

	"falda/internal/core/seam"
	"falda/internal/core/steps"
	"falda/internal/core/value"
	"falda/internal/core/words"
)

// PastPieces is how many earlier pieces a yield is held against at most: the latest.
const PastPieces = 100

// YieldsView is what a closed piece gave beside what is usual for it.
type YieldsView struct {
	Rows     []value.Yield
	Past     int                      // earlier pieces of the house, cut by the same plan
	Took     map[string]time.Duration // by part or product that came straight off the piece
	Sentence string
	Outputs  []TracedOutput
}

// TracedOutput is one thing that left the bench, with the number by which it can be traced to the piece and the lot.
type TracedOutput struct {
	Node   seam.Node
	Name   string
	Of     string // the muscle it came off
	Number string
}

// Yields gives what a closed piece gave beside the house's history of that piece and plan, and what left the bench.
func (s *Service) Yields(ctx context.Context, id string) (YieldsView, error) {
	v, err := s.BoardForSale(ctx, id)
	if err != nil {
		return YieldsView{}, err
	}
	if !v.Board.Closed() {
		return YieldsView{}, NotFinished()
	}
	rows, err := s.store.PastShares(ctx, v.Shop.ID, v.Card.Row.Lot.AtlasID, v.Breakdown.PlanID, v.Breakdown.ID, PastPieces)
	if err != nil {
		return YieldsView{}, err
	}
	past, pieces := map[string][]float64{}, map[int64]bool{}
	for _, r := range rows {
		past[r.ID] = append(past[r.ID], r.Pct)
		pieces[r.BreakdownID] = true
	}
	root, _ := v.Board.Node("")
	out := YieldsView{Past: len(pieces),
		Rows: value.Yields(v.Expected, root.Mass, v.Board.Lost(), v.Shop.LossLimit(v.Plan), past), Outputs: v.Outputs(),
		Took: v.Board.Took()}
	out.Sentence = yieldSentence(out)
	return out, nil
}

// yieldSentence says in a line how a piece lies to what is usual.
func yieldSentence(v YieldsView) string {
	var odd []words.OddYield
	for _, y := range v.Rows {
		if o := y.Odd(); o != "" && (y.Kind == "muscle" || y.Kind == seam.KindProduct || y.Kind == "loss") {
			odd = append(odd, words.OddYield{Name: y.Name, Odd: o, Pct: y.Pct, Low: y.Low, High: y.High})
		}
	}
	return words.Yields(odd, v.Past, v.Past >= value.EnoughPast)
}

// Outputs lists what left the bench: what was weighed and not opened further, waste left out. Each has a number of its
// own: the lot's, the piece's and the place of its weighing in the log, which never changes.
func (v BoardView) Outputs() []TracedOutput {
	var out []TracedOutput
	for _, n := range v.Board.Nodes {
		if n.Parent == "" || len(n.Children) > 0 || n.Divided() || thrown(n) || n.Event == seam.Added {
			continue
		}
		of := ""
		if parent, ok := v.Board.Node(n.Parent); ok && n.Parent != v.Board.Root {
			of = v.NameOf(parent)
		}
		out = append(out, TracedOutput{Node: n, Name: v.NameOf(n), Of: of, Number: v.Number(n)})
	}
	return out
}

// thrown says whether what was weighed was thrown away.
func thrown(n seam.Node) bool {
	return n.Event == seam.Discarded || (n.Event == seam.Tubbed && n.Part == string(steps.Discard))
}

// Number is the batch number of a weighing.
func (v BoardView) Number(n seam.Node) string {
	return fmt.Sprintf("%s-%d-%02d", v.Card.Row.Lot.LotNumber, v.Card.Row.Piece.Number, n.Seq)
}
