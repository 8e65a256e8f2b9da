package paper_test

import (
	"bytes"
	"regexp"
	"strings"
	"testing"

	"falda/internal/core/atlas"
	"falda/internal/paper"
)

var shown = regexp.MustCompile(`\((.*)\) ?Tj`)

// Every piece of the atlas has its card on one page, with each muscle in its order, each caution and each inspection
// point.
func TestEveryCardFitsOnePage(t *testing.T) {
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	for _, p := range a.Pieces {
		m, err := p.MapByShare()
		if err != nil {
			t.Fatal(err)
		}
		for _, market := range []string{"house", "de"} {
			var out bytes.Buffer
			if err := paper.SeamCard(&out, p, m, market); err != nil {
				t.Errorf("%s: %v", p.ID, err)
				continue
			}
			// the text is UTF-16: of plain letters the half that is nought goes
			raw := strings.ReplaceAll(out.String(), "\x00", "")
			if !strings.HasPrefix(raw, "%PDF-1.") || !strings.HasSuffix(strings.TrimSpace(raw), "%%EOF") ||
				strings.Count(raw, "/Type /Page\n") != 1 {
				t.Errorf("%s: not one page of PDF", p.ID)
			}
			text := ""
			for _, line := range shown.FindAllStringSubmatch(raw, -1) {
				text += strings.NewReplacer(`\(`, "(", `\)`, ")").Replace(line[1]) + " "
			}
			words := strings.Fields(text)
			count := map[string]int{}
			for _, w := range words {
				count[w]++
			}
			for _, mu := range p.Muscles {
				for _, w := range strings.Fields(mu.Seam.Tell + " " + mu.Seam.Danger) {
					if plain(w) && count[w] == 0 {
						t.Errorf("%s: the card lacks “%s” of the seam of %s", p.ID, w, mu.ID)
						break
					}
				}
			}
			for _, c := range p.Cautions {
				if first := strings.Fields(c)[0]; plain(first) && !strings.Contains(text, first) {
					t.Errorf("%s: the card lacks the caution “%s”", p.ID, c)
				}
			}
			if !strings.Contains(text, "Basis:") || !strings.Contains(text, "Look, smell, feel") {
				t.Errorf("%s: the card ends early", p.ID)
			}
		}
	}
}

// plain says whether a word is one of letters that the PDF shows as they are.
func plain(w string) bool {
	return !strings.ContainsFunc(w, func(r rune) bool { return r > 126 || strings.ContainsRune(`()\`, r) })
}

// A piece with more words than a page holds is refused, not cut off.
func TestTooMuchIsRefused(t *testing.T) {
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	p := a.Pieces[0]
	m, err := p.MapByShare()
	if err != nil {
		t.Fatal(err)
	}
	p.Cautions = append([]string{strings.Repeat("Mind the knife. ", 1500)}, p.Cautions...)
	if err := paper.SeamCard(&bytes.Buffer{}, p, m, "house"); err == nil {
		t.Error("a card of many pages was written as one")
	}
}
