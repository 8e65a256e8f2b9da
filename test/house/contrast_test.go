package house

import (
	"math"
	"os"
	"regexp"
	"strconv"
	"testing"
)

// luminance and contrast after WCAG 2.1, success criterion 1.4.3 and its definitions (W3C Recommendation, from memory).
func luminance(hex string) float64 {
	sum := 0.0
	for i, weight := range []float64{0.2126, 0.7152, 0.0722} {
		v, _ := strconv.ParseUint(hex[1+2*i:3+2*i], 16, 8)
		c := float64(v) / 255
		if c <= 0.03928 {
			c /= 12.92
		} else {
			c = math.Pow((c+0.055)/1.055, 2.4)
		}
		sum += weight * c
	}
	return sum
}

func contrast(a, b string) float64 {
	x, y := luminance(a), luminance(b)
	return (max(x, y) + 0.05) / (min(x, y) + 0.05)
}

// Every text of the two schemes is readable on what it stands on: 4.5 to 1; lines that carry meaning 3 to 1.
func TestContrast(t *testing.T) {
	if c := contrast("#000000", "#ffffff"); math.Abs(c-21) > 1e-9 { // the largest there is
		t.Fatalf("black on white is %.3f", c)
	}
	if c := contrast("#777777", "#ffffff"); c >= 4.5 || c < 4.4 { // the well-known grey that just fails
		t.Fatalf("#777 on white is %.3f", c)
	}
	raw, err := os.ReadFile("../../web/src/styles/base.css")
	if err != nil {
		t.Fatal(err)
	}
	blocks := regexp.MustCompile(`(?s)(:root|\[data-scheme='dark'\]) \{(.*?)\}`).FindAllStringSubmatch(string(raw), -1)
	if len(blocks) != 2 {
		t.Fatalf("%d schemes", len(blocks))
	}
	for _, block := range blocks {
		tokens := map[string]string{}
		for _, m := range regexp.MustCompile(`--([a-z0-9-]+): (#[0-9a-fA-F]{6})`).FindAllStringSubmatch(block[2], -1) {
			tokens[m[1]] = m[2]
		}
		check := func(least float64, front, back string) {
			t.Helper()
			if tokens[front] == "" || tokens[back] == "" {
				t.Errorf("%s: no %s or no %s", block[1], front, back)
				return
			}
			if c := contrast(tokens[front], tokens[back]); c < least {
				t.Errorf("%s: %s on %s is %.2f to 1, less than %.1f", block[1], front, back, c, least)
			}
		}
		for _, back := range []string{"ground", "surface", "act-wash", "ghost"} {
			for _, front := range []string{"ink", "ink-2"} {
				check(4.5, front, back)
			}
		}
		for _, back := range []string{"ground", "surface", "act-wash"} {
			check(4.5, "act", back)
		}
		check(4.5, "on-act", "act")
		for _, g := range []string{"below", "3", "4", "5"} {
			check(4.5, "g-"+g+"-ink", "g-"+g)
		}
		check(3, "seam", "surface")
		check(3, "line", "surface")
		check(3, "bone-line", "bone")
	}
}
