package words

import (
	"testing"

	"falda/internal/core/atlas"
)

func TestCount(t *testing.T) {
	for n, want := range map[int]string{0: "0 pieces", 1: "1 piece", 2: "2 pieces", 21: "21 pieces"} {
		if got := Count(n, "piece", "pieces"); got != want {
			t.Errorf("%d: %q, want %q", n, got, want)
		}
	}
}

func TestTexts(t *testing.T) {
	for _, c := range []struct{ what, got, want string }{
		{"short", Short("Eye of round (semitendinosus)"), "Eye of round"},
		{"short as it is", Short("Heart"), "Heart"},
		{"capital beyond ASCII", Capitalised("éclanche"), "Éclanche"},
		{"small letter", Uncapitalised("Öl"), "öl"},
		{"empty", Capitalised("") + Uncapitalised(""), ""},
		{"characters, not bytes", Truncate("żółw", 3), "żół"},
		{"short enough", Truncate("ab", 3), "ab"},
	} {
		if c.got != c.want {
			t.Errorf("%s: %q, want %q", c.what, c.got, c.want)
		}
	}
}

// Rule: no two steps of a plan that follow each other say the same; whoever ticks one off sees that something else
// comes.
func TestStepsSayWhatComesNext(t *testing.T) {
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	for _, p := range a.Pieces {
		for _, pl := range p.Plans {
			last := ""
			for _, d := range p.Flow(pl).Steps {
				if d.Idle {
					continue
				}
				said := Step(p, pl, d)
				if said == last && pl.OwnSteps() {
					t.Errorf("%s %s: two steps are “%s”", p.ID, pl.ID, said)
				}
				last = said
			}
		}
	}
}
