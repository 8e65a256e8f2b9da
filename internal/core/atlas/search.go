package atlas

import (
	"cmp"
	"slices"
	"strings"
	"unicode"

	"golang.org/x/text/runes"
	"golang.org/x/text/transform"
	"golang.org/x/text/unicode/norm"
)

// Hit is something found by a name.
type Hit struct {
	Piece   Piece
	Kind    string // "piece", "muscle" or "product": what bears the name
	ID      string // of the muscle or product; empty for a piece
	Matched string // the name that was found
	Why     string // what kind of name it is: "house name", "name in uk", "item number (imps)", "anatomical name" …
	Near    bool   // not as it was typed, but close to it
	rank    int
}

// entry is one name of the index.
type entry struct {
	words []string
	hit   Hit
}

// The kinds of what bears a name.
const (
	HitPiece   = "piece"
	HitMuscle  = "muscle"
	HitProduct = "product"
)

// index lists every name once; it is made when the atlas is loaded. Of a carcass only its own names count: its pieces
// are there already.
func index(pieces []Piece, carcass map[string]bool) []entry {
	var out []entry
	for _, p := range pieces {
		add := func(kind, id, name, why string, base int) {
			out = append(out, entry{Words(name), Hit{Piece: p, Kind: kind, ID: id, Matched: name, Why: why, rank: base}})
		}
		add(HitPiece, "", p.Name, "house name", 0)
		for _, market := range sortedKeys(p.Names) {
			for _, n := range p.Names[market] {
				add(HitPiece, "", n, "name in "+market, 1)
			}
		}
		for _, std := range sortedKeys(p.Codes) {
			add(HitPiece, "", p.Codes[std], "item number ("+std+")", 2)
		}
		if carcass[p.ID] {
			continue
		}
		for _, m := range p.Muscles {
			add(HitMuscle, m.ID, m.Name, "house name", 20)
			add(HitMuscle, m.ID, m.Anatomical, "anatomical name", 22)
			for _, market := range sortedKeys(m.Names) {
				for _, n := range m.Names[market] {
					add(HitMuscle, m.ID, n, "name in "+market, 21)
				}
			}
		}
		seen := map[string]bool{}
		for _, pl := range p.Plans {
			for _, pr := range pl.Products {
				if !seen[pr.ID] && pr.Form != FormPiece {
					seen[pr.ID] = true
					add(HitProduct, pr.ID, pr.Name, "product", 40)
				}
			}
		}
	}
	return out
}

// nearPenalty is what a misspelt match ranks behind one that is spelt right.
const nearPenalty = 100

// Lookup finds pieces, muscles and products by any name: of the house, of a market, anatomical, or an item number.
// Capitals, accents and punctuation do not matter; every word of the question must begin a word of the name. Where
// nothing is spelt so, words that are a slip or two away count. Best match first, each thing once. An empty question
// finds nothing.
func (a *Atlas) Lookup(question string) []Hit {
	asked := Words(question)
	if len(asked) == 0 {
		return nil
	}
	hits := a.find(asked, match)
	if len(hits) == 0 {
		hits = a.find(asked, near)
	}
	return hits
}

func (a *Atlas) find(asked []string, fits func(asked, name []string) int) []Hit {
	best := map[[3]string]Hit{}
	for _, e := range a.names {
		r := fits(asked, e.words)
		if r < 0 {
			continue
		}
		h := e.hit
		h.rank, h.Near = h.rank+r, r >= nearPenalty
		key := [3]string{h.Piece.ID, h.Kind, h.ID}
		if known, ok := best[key]; !ok || h.rank < known.rank {
			best[key] = h
		}
	}
	hits := make([]Hit, 0, len(best))
	for _, h := range best {
		hits = append(hits, h)
	}
	slices.SortFunc(hits, func(x, y Hit) int {
		return cmp.Or(cmp.Compare(x.rank, y.rank), cmp.Compare(a.byID[x.Piece.ID], a.byID[y.Piece.ID]),
			cmp.Compare(x.Kind, y.Kind), cmp.Compare(x.ID, y.ID))
	})
	return hits
}

// Search finds the pieces that bear a name or hold what bears it. Best match first, one hit for each piece; an empty
// question gives every piece.
func (a *Atlas) Search(question string) []Hit {
	if len(Words(question)) == 0 {
		var all []Hit
		for _, p := range a.everything() {
			all = append(all, Hit{Piece: p, Kind: HitPiece, Matched: p.Name, Why: "house name"})
		}
		return all
	}
	seen := map[string]bool{}
	var out []Hit
	for _, h := range a.Lookup(question) {
		if !seen[h.Piece.ID] {
			seen[h.Piece.ID] = true
			out = append(out, h)
		}
	}
	return out
}

// everything is the pieces, then the carcasses as pieces.
func (a *Atlas) everything() []Piece {
	out := slices.Clone(a.Pieces)
	for _, c := range a.Carcasses {
		out = append(out, a.Whole(c, UsualDivision))
	}
	return out
}

// match ranks how well the words asked for fit a name: 0 the same, then by how much of the name was left unsaid; −1 no.
func match(asked, name []string) int {
	return fit(asked, name, func(asked, word string) int {
		switch {
		case word == asked:
			return 0
		case strings.HasPrefix(word, asked):
			return 2
		}
		return -1
	})
}

// slipCosts weighs a slip more than what kind of name it is.
const slipCosts = 50

// near ranks a name of which words are a slip or two away: one in words of three letters or more, two in those of seven
// or more.
func near(asked, name []string) int {
	r := fit(asked, name, func(asked, word string) int {
		if strings.HasPrefix(word, asked) {
			return 2
		}
		n := len([]rune(asked))
		limit := 0
		if n >= 3 {
			limit = 1
		}
		if n >= 7 {
			limit = 2
		}
		if d := slips(asked, word, limit); d <= limit {
			return slipCosts * d
		}
		if n >= 4 && len([]rune(word)) > n { // the beginning of a longer word
			if d := slips(asked, string([]rune(word)[:n]), limit); d <= limit {
				return slipCosts*d + 2
			}
		}
		return -1
	})
	if r < 0 {
		return -1
	}
	return nearPenalty + r
}

// fit lays each word asked for on a word of the name of its own.
func fit(asked, name []string, cost func(asked, word string) int) int {
	used := make([]bool, len(name))
	sum := 0
	for _, a := range asked {
		at, least := -1, 0
		for i, n := range name {
			if used[i] {
				continue
			}
			if c := cost(a, n); c >= 0 && (at < 0 || c < least) {
				at, least = i, c
			}
		}
		if at < 0 {
			return -1
		}
		used[at] = true
		sum += least
	}
	return sum + min(len(name)-len(asked), 10)
}

// slips counts the letters that were left out, added, taken for another or exchanged with their neighbour (the
// restricted Damerau–Levenshtein distance); more than most need not be exact.
func slips(a, b string, limit int) int {
	x, y := []rune(a), []rune(b)
	if d := len(x) - len(y); d > limit || -d > limit {
		return limit + 1
	}
	rows := make([][]int, len(x)+1)
	for i := range rows {
		rows[i] = make([]int, len(y)+1)
		rows[i][0] = i
	}
	for j := range rows[0] {
		rows[0][j] = j
	}
	for i := 1; i <= len(x); i++ {
		for j := 1; j <= len(y); j++ {
			same := 1
			if x[i-1] == y[j-1] {
				same = 0
			}
			d := min(rows[i-1][j]+1, rows[i][j-1]+1, rows[i-1][j-1]+same)
			if i > 1 && j > 1 && x[i-1] == y[j-2] && x[i-2] == y[j-1] {
				d = min(d, rows[i-2][j-2]+1)
			}
			rows[i][j] = d
		}
	}
	return rows[len(x)][len(y)]
}

// Meaning is what a name means in a market.
type Meaning struct {
	Market string
	Hit    Hit
}

// Meanings lists what a name, as a whole, means in each market that has it, where two markets mean different things of
// one species by it; nothing where it is clear. The house is a market too.
func (a *Atlas) Meanings(name string) []Meaning {
	words := Words(name)
	var all []Meaning
	things := map[[2]string]map[string]bool{} // species and market → what is meant
	for _, e := range a.names {
		if !slices.Equal(e.words, words) || e.hit.Kind == HitProduct {
			continue
		}
		market, isMarket := strings.CutPrefix(e.hit.Why, "name in ")
		if !isMarket {
			if e.hit.Why != "house name" {
				continue
			}
			market = "house"
		}
		all = append(all, Meaning{market, e.hit})
		key := [2]string{e.hit.Piece.Species, market}
		if things[key] == nil {
			things[key] = map[string]bool{}
		}
		things[key][thing(e.hit)] = true
	}
	unclear := map[string]bool{} // species
	for x, some := range things {
		for y, others := range things {
			if x[0] == y[0] && !overlap(some, others) {
				unclear[x[0]] = true
			}
		}
	}
	return slices.DeleteFunc(all, func(m Meaning) bool { return !unclear[m.Hit.Piece.Species] })
}

func overlap(a, b map[string]bool) bool {
	for k := range a {
		if b[k] {
			return true
		}
	}
	return false
}

// thing names what a hit is about: a piece, or a muscle by its anatomical name, for one muscle is in several pieces.
func thing(h Hit) string {
	if h.Kind == HitPiece {
		return h.Piece.ID
	}
	m, _ := h.Piece.Muscle(h.ID)
	latin := Words(m.Anatomical)
	return strings.Join(latin[:min(3, len(latin))], " ")
}

// NameIn is what a market calls the piece: its first name there, or the house's.
func (p Piece) NameIn(market string) string { return nameIn(p.Names, p.Name, market) }

// Called says whether a name, spelt right, is one of the piece's own: of the house, of any market, or an item number.
func (p Piece) Called(name string) bool {
	asked := Words(name)
	own := []string{p.Name}
	for _, list := range p.Names {
		own = append(own, list...)
	}
	for _, number := range p.Codes {
		own = append(own, number)
	}
	return slices.ContainsFunc(own, func(n string) bool { return slices.Equal(Words(n), asked) })
}

// In gives the piece as a market speaks of it: its own name and its muscles' are those of the market.
func (p Piece) In(market string) Piece {
	p.Name = p.NameIn(market)
	p.Muscles = slices.Clone(p.Muscles)
	for i, m := range p.Muscles {
		p.Muscles[i].Name = m.NameIn(market)
	}
	return p
}

// NameIn is what a market calls the carcass: its first name there, or the house's.
func (c Carcass) NameIn(market string) string { return nameIn(c.Names, c.Name, market) }

// NameIn is what a market calls the muscle: its first name there, or the house's.
func (m Muscle) NameIn(market string) string { return nameIn(m.Names, m.Name, market) }

func nameIn(names map[string][]string, house, market string) string {
	if list := names[market]; len(list) > 0 {
		first := []rune(list[0])
		return strings.ToUpper(string(first[:1])) + string(first[1:])
	}
	return house
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
	slices.Sort(keys)
	return keys
}
