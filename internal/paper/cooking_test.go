package paper

import (
	"bytes"
	"io"
	"strings"
	"testing"

	"falda/internal/core/atlas"
	"falda/internal/core/cook"
	"falda/internal/core/report"
)

// The card of every cut fits on its page, in both systems of units, and says what it must.
func TestEveryCookingCardFits(t *testing.T) {
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	cards := 0
	for _, p := range a.Pieces {
		for _, pl := range p.Plans {
			for _, pr := range pl.Products {
				if pr.Cook == "" {
					continue
				}
				c, err := cook.Of(p, pr,
					cook.CardRequest{Doneness: "rare", Diners: 6, Treated: cards%2 == 0,
						Allergens: []string{"milk", "mustard", "gluten"}})
				if err != nil {
					t.Fatal(p.ID, pr.ID, err)
				}
				var out bytes.Buffer
				if err := CookingCard(&out, c, "", cards%3 == 0, "http://127.0.0.1/cook/"+p.ID+"/"+pr.ID); err != nil {
					t.Errorf("%s %s: %v", p.ID, pr.ID, err)
				}
				if !bytes.Contains(shown(out.Bytes()), []byte("Contains: milk, mustard, gluten.")) ||
					!bytes.HasPrefix(out.Bytes(), []byte("%PDF-")) {
					t.Errorf("%s %s does not name what it contains", p.ID, pr.ID)
				}
				cards++
			}
		}
	}
	if cards < 150 {
		t.Errorf("%d cards", cards)
	}
}

// Of °C the card in °F has none left: 63 °C are 145 °F.
func TestCardInFahrenheit(t *testing.T) {
	if got := in("63 °C at the centre; the safe floor is 71 °C (minced meat: 71 °C throughout).",
		true); got != "145 °F at the centre; the safe floor is 160 °F (minced meat: 160 °F throughout)." {
		t.Error(got)
	}
	if got := in("60 °C", false); got != "60 °C" {
		t.Error(got)
	}
	var out bytes.Buffer
	tasting := Tasting{Name: "Secret", Blind: "Tasting", Day: "2026-03-20",
		Samples:   []TastingSample{{Code: "123", Muscle: "Cap", Method: "Grill"}},
		Assessors: []TastingAssessor{{Number: 1, Page: "http://127.0.0.1/taste/X", Order: []int{0}}}}
	if err := ScoreSheets(&out, tasting); err != nil || bytes.Contains(shown(out.Bytes()), []byte("Secret")) ||
		!bytes.Contains(shown(out.Bytes()), []byte("123")) {
		t.Errorf("a score sheet: %v", err)
	}
}

// Rule: any name prints, also one with characters that no font here has.
func TestAnyTextPrints(t *testing.T) {
	long := strings.Repeat("\U00010000\U0001F969 bone ", 12)
	tasting := Tasting{Name: long, Blind: long, Day: long, Samples: []TastingSample{{Code: "123", Muscle: long,
		Method: long, From: long, Note: long}}, Assessors: []TastingAssessor{{Number: 1, Page: "http://x", Order: []int{0}}}}
	for name, write := range map[string]func(io.Writer, Tasting) error{"serving": ServingSheet, "sheets": ScoreSheets} {
		var b bytes.Buffer
		if err := write(&b, tasting); err != nil || !bytes.HasPrefix(b.Bytes(), []byte("%PDF")) {
			t.Errorf("%s: %v", name, err)
		}
	}
	var b bytes.Buffer
	if err := Report(&b, report.Report{Title: long, Sentence: long, Notes: []string{long}}); err != nil {
		t.Error(err)
	}
}
