package atlas

import (
	"bufio"
	"os"
	"slices"
	"strings"
	"testing"
)

// says writes a hit as the table does.
func (h Hit) says() string {
	switch h.Kind {
	case HitProduct:
		return "=" + h.Piece.Species + "." + h.ID
	case HitPiece:
		return h.Piece.ID
	}
	return h.Piece.ID + "/" + h.ID
}

// What people say at counters and on telephones is found, in their market, as the first hit; what is called by no name
// finds nothing that is passed off as fitting. The table is testdata/spoken.txt: common practice, no source.
func TestSpokenNames(t *testing.T) {
	a := loaded(t)
	f, err := os.Open("testdata/spoken.txt")
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	n := 0
	for lines := bufio.NewScanner(f); lines.Scan(); {
		line := strings.TrimSpace(lines.Text())
		if line == "" || strings.HasPrefix(line, "#") {
			continue
		}
		n++
		field := strings.Split(line, "|")
		market, said := strings.TrimSpace(field[0]), strings.TrimSpace(field[1])
		meant := strings.Split(strings.TrimSpace(field[2]), " or ")
		hits := a.LookupIn(market, said)
		if meant[0] == "-" {
			if len(hits) > 0 && !hits[0].Near {
				t.Errorf("%s: %q is called nothing, and finds %s by %q", market, said, hits[0].says(), hits[0].Matched)
			}
			continue
		}
		if len(hits) == 0 || !slices.Contains(meant, hits[0].says()) {
			t.Errorf("%s: %q does not mean %s", market, said, meant)
			for _, h := range hits[:min(3, len(hits))] {
				t.Logf("  finds %s by %q, %s, rank %d", h.says(), h.Matched, h.Why, h.rank)
			}
		}
	}
	if n < 250 {
		t.Errorf("%d names are said", n)
	}
	t.Logf("%d names", n)
}
