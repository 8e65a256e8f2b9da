package atlas

import (
	"cmp"
	"slices"
	"strings"
)

// Hit is something found by a name.
type Hit struct {
	Piece   Piece
	Kind    string // what bears the name
	ID      string // of the muscle, part or product; empty for a piece
	Form    string // of the piece, where the name is one of a form's
	Matched string // the name that was found
	Why     string // what kind of name it is: "house name", "name in uk", "item number (imps)", "anatomical name" …
	Near    bool   // not as it was typed, but close to it
	rank    int
	same    int // names of it, over all markets, that are the same as what was asked
}

// question is what is asked.
type question struct {
	words   []string // what is looked for; the animal left out where a word for one is among others
	whole   []string // all of them
	joined  string   // of whole
	species map[string]bool
	market  string
}

func asking(text, market string) question {
	q := question{whole: spoken(text), species: map[string]bool{}, market: market}
	if slices.ContainsFunc(q.whole, func(w string) bool { return strings.ContainsAny(w, "0123456789") }) {
		q.whole = slices.DeleteFunc(q.whole, func(w string) bool { return standards[w] })
	}
	q.joined = strings.Join(q.whole, "")
	for _, w := range q.whole {
		if kind := kinds[w]; kind != "" {
			q.species[kind] = true
		} else {
			q.words = append(q.words, w)
		}
	}
	return q
}

// Ranks of how well a name fits; they count before what kind of thing bears it.
const (
	rankAnimal  = 200  // the same, but for a word for the animal
	rankForeign = 400  // the same, in another market than one's own
	rankBegun   = 600  // its words begun, in some order
	rankMany    = 800  // many names of one thing
	rankNear    = 1000 // a slip or two away
	rankHome    = -50  // a name of one's own market, beside one of the house
	fewest      = 3    // letters of an item number that may still go on
	foreign     = 4    // letters by which a word of another market's name is known
)

// Lookup finds pieces, muscles, products and parts by any name; see [Atlas.LookupIn].
func (a *Atlas) Lookup(text string) []Hit { return a.LookupIn("", text) }

// LookupIn finds pieces, muscles, products, bones and by-products by any name: of the house, of a market, anatomical,
// or an item number. Capitals, accents, punctuation, spaces within a name and one or several do not matter; every word
// of the question must begin a word of the name, and a word for the animal says which is meant. Where no one name fits,
// several names of one thing may; where nothing is spelt so, words that are a slip or two away count, and the hit says
// that it is near. An item number is met or it is not. Names of one's own market go before those of others. Best match
// first, each thing once; an empty question finds nothing.
func (a *Atlas) LookupIn(market, text string) []Hit {
	q := asking(text, market)
	if len(q.whole) == 0 {
		return nil
	}
	if len(q.words) == 0 { // the animal alone
		return a.find(q, func(e entry) (int, bool) {
			whole := e.hit.Kind == HitPiece && e.hit.Form == "" && q.species[e.hit.Piece.Species]
			rank := len(e.words)
			if slices.ContainsFunc(q.whole, func(w string) bool { return slices.Contains(e.words, w) }) {
				rank = 0 // the animal itself before what comes of it
			}
			return rank, whole && e.market == "" && !e.number
		})
	}
	hits := a.find(q, q.fits)
	if len(hits) == 0 {
		hits = a.many(q)
	}
	if len(hits) == 0 {
		hits = a.find(q, q.near)
	}
	return hits
}

// fits says how well a name answers, the less the better.
func (q question) fits(e entry) (int, bool) {
	if e.number {
		if e.joined == q.joined {
			return 0, true
		}
		return rankBegun, len(q.joined) >= fewest && strings.HasPrefix(e.joined, q.joined)
	}
	away := 0
	switch {
	case e.market == "" && e.hit.Form != "": // what a form is called is no name by itself
		away = rankBegun
	case e.market != "" && e.market == q.market:
		away = rankHome
	case e.market != "" && q.market != "":
		away = rankForeign
	}
	if e.joined == q.joined {
		return away + len(e.words) - len(q.whole), true
	}
	if len(q.species) > 0 && !q.species[e.hit.Piece.Species] {
		return 0, false
	}
	joined := strings.Join(q.words, "")
	if joined == e.joined {
		return rankAnimal + away, true
	}
	least := 1
	if away == rankForeign {
		least = foreign
	}
	for _, words := range [][]string{q.whole, q.words} {
		if r := match(words, e.words, least); r >= 0 {
			return rankBegun + r + max(0, away)/100, true
		}
	}
	return rankBegun + 5 + len(e.joined) - len(joined), len(joined) >= foreign && strings.HasPrefix(e.joined, joined)
}

// near says how well a name answers of which words are a slip or two away.
func (q question) near(e entry) (int, bool) {
	if e.number || (len(q.species) > 0 && !q.species[e.hit.Piece.Species]) {
		return 0, false
	}
	r := near(q.words, e.words)
	if r >= 0 && e.market != "" && e.market == q.market {
		r -= 2
	}
	return r, r >= 0
}

func (a *Atlas) find(q question, fits func(entry) (int, bool)) []Hit {
	best := map[[3]string]Hit{}
	for _, e := range a.names {
		r, ok := fits(e)
		if !ok {
			continue
		}
		h := e.hit
		h.rank, h.Near = h.rank+r, r >= rankMany
		key := e.key()
		known, ok := best[key]
		if h.same = known.same; r < rankBegun {
			h.same++
		}
		if ok && known.rank <= h.rank {
			known.same = h.same
			h = known
		}
		best[key] = h
	}
	return a.sorted(best)
}

func (a *Atlas) sorted(best map[[3]string]Hit) []Hit {
	hits := make([]Hit, 0, len(best))
	for _, h := range best {
		hits = append(hits, h)
	}
	slices.SortFunc(hits, func(x, y Hit) int {
		return cmp.Or(cmp.Compare(x.rank, y.rank), cmp.Compare(y.same, x.same),
			cmp.Compare(a.byID[x.Piece.ID], a.byID[y.Piece.ID]), cmp.Compare(x.Kind, y.Kind), cmp.Compare(x.ID, y.ID))
	})
	return hits
}

// many finds things of which several names together answer: each word asked for is one of its names', or one of the
// names of the piece that it is in.
func (a *Atlas) many(q question) []Hit {
	of := map[[3]string][]string{}
	first := map[[3]string]entry{}
	for _, e := range a.names {
		if e.number || (len(q.species) > 0 && !q.species[e.hit.Piece.Species]) {
			continue
		}
		key := e.key()
		if _, ok := first[key]; !ok {
			first[key] = e
		}
		of[key] = append(of[key], e.words...)
	}
	best := map[[3]string]Hit{}
	for key, words := range of {
		own := 0
		piece := of[[3]string{key[0], HitPiece, ""}]
		all := !slices.ContainsFunc(q.words, func(w string) bool {
			if slices.Contains(words, w) {
				own++
				return false
			}
			return !slices.Contains(piece, w)
		})
		if all && own > 0 {
			h := first[key].hit
			h.rank += rankMany + 10*(len(q.words)-own)
			h.Why = "several of its names"
			best[key] = h
		}
	}
	return a.sorted(best)
}

// Search finds the pieces that bear a name or hold what bears it. Best match first, one hit for each piece; an empty
// question gives every piece.
func (a *Atlas) Search(question string) []Hit { return a.SearchIn("", question) }

// SearchIn is [Atlas.Search] in a market, whose names go before those of others.
func (a *Atlas) SearchIn(market, question string) []Hit {
	if len(Words(question)) == 0 {
		var all []Hit
		for _, p := range a.everything() {
			all = append(all, Hit{Piece: p, Kind: HitPiece, Matched: p.Name, Why: "house name"})
		}
		return all
	}
	seen := map[string]bool{}
	var out []Hit
	for _, h := range a.LookupIn(market, question) {
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
