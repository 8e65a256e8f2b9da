package atlas

import (
	"slices"
	"strings"
	"unicode"

	"golang.org/x/text/runes"
	"golang.org/x/text/transform"
	"golang.org/x/text/unicode/norm"
)

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
		if m.Code == code(m.Name) { // its letters come of its name
			p.Muscles[i].Code = code(p.Muscles[i].Name)
		}
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
