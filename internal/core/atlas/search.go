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
	Kind    string // what bears the name
	ID      string // of the muscle, part or product; empty for a piece
	Form    string // of the piece, where the name is one of a form's
	Matched string // the name that was found
	Why     string // what kind of name it is: "house name", "name in uk", "item number (imps)", "anatomical name" …
	Near    bool   // not as it was typed, but close to it
	rank    int
	same    int // names of it, over all markets, that are the same as what was asked
}

// entry is one name of the index.
type entry struct {
	words  []string // in their plain form, without small words
	joined string   // without the spaces
	number bool     // an item number: it is meant, or it is not
	market string   // whose name it is; empty for the house's
	hit    Hit
	thing  string // what it is about, wherever it is: a piece, a muscle by its anatomical name, a product by its key
}

// The kinds of what bears a name.
const (
	HitPiece   = "piece"
	HitMuscle  = "muscle"
	HitPart    = "part" // a bone, fat or trim
	HitProduct = "product"
)

// key is what an entry names.
func (e entry) key() [3]string { return [3]string{e.hit.Piece.ID, e.hit.Kind, e.hit.ID} }

// indexing gathers every name once, when the atlas is loaded.
type indexing struct {
	out   []entry
	thing string // what the names are of
}

// Ranks of kinds of names: the kind of thing counts before the kind of name.
const (
	rankMuscle  = 20
	rankProduct = 40
	rankPart    = 60
	rankMarket  = 1
	rankNumber  = 2
	rankForm    = 3
	rankLatin   = 2
)

func (x *indexing) add(h Hit, name, market string, number bool) {
	words := spoken(name)
	h.Matched = name
	x.out = append(x.out, entry{words, strings.Join(words, ""), number, market, h, x.thing})
}

// house adds the name that the house has for something: also what stands before its comma.
func (x *indexing) house(h Hit, name string) {
	x.add(h, name, "", false)
	if head, _, more := strings.Cut(name, ","); more {
		x.add(h, head, "", false)
		x.out[len(x.out)-1].hit.Matched = name
	}
}

// named adds the names that markets have for something.
func (x *indexing) named(h Hit, names map[string][]string) {
	h.rank += rankMarket
	for _, market := range sortedKeys(names) {
		for _, n := range names[market] {
			h.Why = "name in " + market
			x.add(h, n, market, false)
		}
	}
}

// numbered adds item numbers.
func (x *indexing) numbered(h Hit, codes map[string]string) {
	h.rank += rankNumber
	for _, std := range sortedKeys(codes) {
		h.Why = "item number (" + std + ")"
		x.add(h, codes[std], "", true)
	}
}

// index lists every name once. Of a carcass only its own names count: its pieces are there already.
func index(pieces []Piece, carcass map[string]bool) []entry {
	var x indexing
	for _, p := range pieces {
		x.thing = p.ID
		x.house(Hit{Piece: p, Kind: HitPiece, Why: "house name"}, p.Name)
		x.named(Hit{Piece: p, Kind: HitPiece}, p.Names)
		x.numbered(Hit{Piece: p, Kind: HitPiece}, p.Codes)
		if carcass[p.ID] {
			continue
		}
		for _, f := range p.Forms {
			h := Hit{Piece: p, Kind: HitPiece, Form: f.ID, Why: "form", rank: rankForm}
			x.add(h, f.Name, "", false)
			x.named(h, f.Names)
			x.numbered(h, f.Code)
		}
		for _, m := range p.Muscles {
			h := Hit{Piece: p, Kind: HitMuscle, ID: m.ID, Why: "house name", rank: rankMuscle}
			latin := Words(m.Anatomical)
			x.thing = strings.Join(latin[:min(3, len(latin))], " ")
			x.house(h, m.Name)
			x.named(h, m.Names)
			h.Why, h.rank = "anatomical name", rankMuscle+rankLatin
			x.add(h, m.Anatomical, "", false)
		}
		for _, o := range p.Other {
			if x.thing = o.ID; o.Kind != KindLoss {
				x.house(Hit{Piece: p, Kind: HitPart, ID: o.ID, Why: "house name", rank: rankPart}, o.Name)
			}
		}
		for _, pr := range p.everyProduct() {
			h := Hit{Piece: p, Kind: HitProduct, ID: pr.ID, Why: "product", rank: rankProduct}
			x.thing = p.Key(pr)
			x.house(h, pr.Name)
			x.named(h, pr.Names)
		}
	}
	return x.out
}

// everyProduct is every product that some plan or choice makes of the piece, once; what goes on as a piece is none.
func (p Piece) everyProduct() []Product {
	var out []Product
	seen := map[string]bool{}
	add := func(list []Product) {
		for _, pr := range list {
			if !seen[pr.ID] && pr.Form != FormPiece {
				seen[pr.ID] = true
				out = append(out, pr)
			}
		}
	}
	for _, pl := range p.Plans {
		add(pl.All())
	}
	for _, o := range p.Options {
		for _, c := range o.Choices {
			add(c.Products)
		}
	}
	return out
}

// kinds are the words for an animal: asked beside a name they say which is meant.
var kinds = map[string]string{"beef": "beef", "ox": "beef", "cow": "beef", "steer": "beef", "rind": "beef",
	"boeuf": "beef", "boi": "beef", "lamb": "lamb", "sheep": "lamb", "hogget": "lamb", "lamm": "lamb",
	"agneau": "lamb", "cordeiro": "lamb", "venison": "deer", "deer": "deer", "hirsch": "deer"}

// small are words that say nothing by themselves.
var small = map[string]bool{"of": true, "the": true, "a": true, "an": true, "and": true, "with": true, "for": true,
	"style": true}

// standards are words before an item number.
var standards = map[string]bool{"imp": true, "imps": true, "unece": true, "item": true, "no": true, "number": true,
	"nr": true}

// spoken are the words of a name as they are compared: plain, without small words where others are left, one of several
// (chops) as one (chop).
func spoken(name string) []string {
	all := Words(name)
	words := slices.DeleteFunc(slices.Clone(all), func(w string) bool { return small[w] })
	if len(words) == 0 {
		words = all
	}
	for i, w := range words {
		if n := len(w); n > 3 && strings.HasSuffix(w, "s") && !strings.HasSuffix(w, "ss") {
			words[i] = w[:n-1]
		}
	}
	return words
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
			return len(e.words), whole && e.market == "" && !e.number
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

// match ranks how well the words asked for fit a name: 0 the same, then by how much of the name was left unsaid; −1 no.
// A word of at least so many letters may be the beginning of one.
func match(asked, name []string, least int) int {
	return fit(asked, name, func(asked, word string) int {
		switch {
		case word == asked:
			return 0
		case len(asked) >= least && strings.HasPrefix(word, asked):
			return 2
		}
		return -1
	})
}

// slipCosts weighs a slip more than what kind of name it is.
const slipCosts = 50

// near ranks a name of which words are a slip or two away: one in words of five letters or more, or of three among
// others, two in those of seven or more; a word that begins with another letter, or with a figure in it, is another.
func near(words, name []string) int {
	r := fit(words, name, func(asked, word string) int {
		if strings.HasPrefix(word, asked) {
			return 2
		}
		n := len([]rune(asked))
		limit := 0
		if n >= 5 || (n >= 3 && len(words) > 1) {
			limit = 1
		}
		if n >= 7 {
			limit = 2
		}
		if word == "" || asked[0] != word[0] || strings.ContainsAny(asked, "0123456789") {
			return -1
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
	return rankNear + r
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
	thing  string
}

// Meanings lists what a name, as a whole, means in each market that has it, where two markets mean different things of
// one species by it; nothing where it is clear. The house is a market too.
func (a *Atlas) Meanings(name string) []Meaning {
	words := spoken(name)
	var all []Meaning
	things := map[[2]string]map[string]bool{} // species and market → what is meant
	for _, e := range a.names {
		if !slices.Equal(e.words, words) || e.number || e.hit.Kind == HitPart || e.hit.Form != "" {
			continue
		}
		market, isMarket := strings.CutPrefix(e.hit.Why, "name in ")
		if !isMarket {
			if e.hit.Why != "house name" && e.hit.Why != "product" {
				continue
			}
			market = "house"
		}
		all = append(all, Meaning{market, e.hit, e.thing})
		key := [2]string{e.hit.Piece.Species, market}
		if things[key] == nil {
			things[key] = map[string]bool{}
		}
		things[key][e.thing] = true
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

// ProductName is what a market calls a product that some plan or choice makes of the piece; the house's name where the
// market has none.
func (p Piece) ProductName(id, market string) string {
	for _, pr := range p.everyProduct() {
		if pr.ID == id {
			return pr.NameIn(market)
		}
	}
	return ""
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
