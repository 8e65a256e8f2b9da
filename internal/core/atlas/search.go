package atlas

import (
	"sort"
	"strings"
	"unicode"

	"golang.org/x/text/runes"
	"golang.org/x/text/transform"
	"golang.org/x/text/unicode/norm"
)

// Hit is a piece found by a name.
type Hit struct {
	Piece   Piece
	Matched string // the name that was found
	Why     string // what kind of name it is: "house name", "name in uk", "item number (imps)", "muscle in it" …
	rank    int
}

// Search finds pieces by any name: of the house, of a market, anatomical, an item number, or the name of a muscle in
// the piece. Capitals, accents and punctuation do not matter; every word of the question must begin a word of the
// name. Best match first, one hit for each piece; an empty question gives every piece.
func (a *Atlas) Search(question string) []Hit {
	words := Words(question)
	var hits []Hit
	for _, p := range a.Pieces {
		best := Hit{rank: -1}
		try := func(name, why string, base int) {
			if r := match(words, Words(name)); r >= 0 && (best.rank < 0 || base+r < best.rank) {
				best = Hit{Piece: p, Matched: name, Why: why, rank: base + r}
			}
		}
		try(p.Name, "house name", 0)
		for _, market := range sortedKeys(p.Names) {
			for _, n := range p.Names[market] {
				try(n, "name in "+market, 1)
			}
		}
		for _, std := range sortedKeys(p.Codes) {
			try(p.Codes[std], "item number ("+std+")", 2)
		}
		for _, m := range p.Muscles {
			try(m.Name, "muscle in it", 20)
			try(m.Anatomical, "muscle in it", 22)
			for _, market := range sortedKeys(m.Names) {
				for _, n := range m.Names[market] {
					try(n, "muscle in it, name in "+market, 21)
				}
			}
		}
		if best.rank >= 0 {
			hits = append(hits, best)
		}
	}
	sort.SliceStable(hits, func(i, j int) bool { return hits[i].rank < hits[j].rank })
	return hits
}

// match ranks how well the words asked for fit a name: 0 the same, then by how much of the name was left unsaid; −1 no.
func match(asked, name []string) int {
	if len(asked) == 0 {
		return 0
	}
	used := make([]bool, len(name))
	short := 0
	for _, a := range asked {
		found := false
		for i, n := range name {
			if !used[i] && strings.HasPrefix(n, a) {
				used[i], found = true, true
				if n != a {
					short++
				}
				break
			}
		}
		if !found {
			return -1
		}
	}
	return short*2 + min(len(name)-len(asked), 10)
}

// Words splits a name into lower-case words without accents or punctuation.
func Words(s string) []string {
	plain, _, err := transform.String(transform.Chain(norm.NFD, runes.Remove(runes.In(unicode.Mn)), norm.NFC), s)
	if err != nil {
		plain = s
	}
	plain = strings.ReplaceAll(strings.ToLower(plain), "ß", "ss")
	return strings.FieldsFunc(plain, func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })
}

func sortedKeys[V any](m map[string]V) []string {
	keys := make([]string, 0, len(m))
	for k := range m {
		keys = append(keys, k)
	}
	sort.Strings(keys)
	return keys
}
