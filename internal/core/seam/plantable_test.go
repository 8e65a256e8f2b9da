package seam

import (
	"flag"
	"fmt"
	"os"
	"strings"
	"testing"

	"falda/internal/core/atlas"
	"falda/internal/core/steps"
)

var update = flag.Bool("update", false, "write the table of plans in docs/atlas.md anew")

const (
	tableStart = "<!-- the plans in steps, written by: go test ./internal/core/seam -run PlanTable -update -->\n"
	tableEnd   = "<!-- end of the plans in steps -->"
)

// planTable lists every plan: how many steps it has under its usual choices, how many weighings it asks for
// with the whole piece, its minutes on a piece of the usual weight, and what it makes.
func planTable(a *atlas.Atlas) string {
	var b strings.Builder
	b.WriteString("| piece | plan | steps | weighings | minutes | products |\n|---|---|---:|---:|---:|---|\n")
	for _, p := range a.Pieces {
		for _, pl := range p.Plans {
			var names []string
			for _, pr := range pl.Products {
				if !pr.IsTrim() && !pr.ByProduct() {
					names = append(names, pr.Name)
				}
			}
			fmt.Fprintf(&b, "| %s | %s | %d | %d | %.1f | %s |\n", p.Name, pl.ShortName(), stepsOf(p, pl),
				1+len(Expect(p, pl, Board{}, p.Typical())), pl.Minutes, strings.Join(names, ", "))
		}
	}
	return b.String()
}

// stepsOf counts the steps of a plan; of a plan of percentages those that are done, and not what is reckoned by share.
func stepsOf(p atlas.Piece, pl atlas.Plan) int {
	n := 0
	for _, d := range p.Flow(pl).Steps {
		if pl.OwnSteps() || d.Weigh != steps.WeighNone {
			n++
		}
	}
	return n
}

// The table of docs/atlas.md says what the plans say.
func TestPlanTable(t *testing.T) {
	const path = "../../../docs/atlas.md"
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	doc, err := os.ReadFile(path)
	if err != nil {
		t.Fatal(err)
	}
	before, rest, found := strings.Cut(string(doc), tableStart)
	is, after, closed := strings.Cut(rest, tableEnd)
	if !found || !closed {
		t.Fatal("docs/atlas.md has no table of plans")
	}
	want := planTable(a)
	if *update {
		if err := os.WriteFile(path, []byte(before+tableStart+want+tableEnd+after), 0o644); err != nil {
			t.Fatal(err)
		}
		return
	}
	if is != want {
		t.Error("the table of plans in docs/atlas.md is not that of the atlas: write it anew with -update")
	}
}
