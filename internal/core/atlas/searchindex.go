package atlas

import (
	"slices"
	"strings"
)

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
