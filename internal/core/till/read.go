package till

import (
	"math/big"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode"

	"falda/internal/core/fault"
	"falda/internal/core/label"
	"falda/internal/core/measure"
)

// What a line of a till is.
const (
	Sold     = "sold"
	Reduced  = "reduced"  // sold for less than its price
	Returned = "returned" // came back
	Wasted   = "wasted"
)

// Columns says in which column of a file what stands; an empty name says in none.
type Columns struct {
	Day    string `json:"day"`
	Item   string `json:"item"` // number or barcode
	Name   string `json:"name"`
	Packs  string `json:"packs"`
	Weight string `json:"weight"`
	Amount string `json:"amount"` // of the line
	Kind   string `json:"kind"`
	Reason string `json:"reason"`
}

// Way is how a till's file is read.
type Way struct {
	Columns
	Unit       measure.Unit `json:"unit"`        // of the weights
	MonthFirst bool         `json:"month_first"` // of days such as 11/28/2026
}

// fields are the columns with where their names are kept, in the order in which a guess looks for them.
func (c *Columns) fields() []*string {
	return []*string{&c.Day, &c.Item, &c.Amount, &c.Weight, &c.Packs, &c.Kind, &c.Reason, &c.Name}
}

// called are words that tills head their columns with, in the order of fields.
var called = [][]string{
	{"day", "date", "sold on", "datum", "time"},
	{"item", "plu", "ean", "barcode", "article", "code", "number", "sku"},
	{"amount", "total", "sum", "value", "takings", "turnover", "revenue", "net", "gross", "price"},
	{"weight", "kg", "grams", "mass", "kilos", "lb"},
	{"packs", "pieces", "qty", "quantity", "count", "units", "pcs"},
	{"kind", "type", "what"},
	{"reason", "why"},
	{"name", "product", "description", "text"},
}

// Guess finds the columns of a file by their headings: by a whole word first, by a part of one then. A column is taken
// once.
func Guess(heading []string) Columns {
	var c Columns
	taken := map[int]bool{}
	for i, to := range c.fields() {
		for _, whole := range []bool{true, false} {
			for _, word := range called[i] {
				at := slices.IndexFunc(heading, func(h string) bool {
					h = strings.ToLower(strings.TrimSpace(h))
					return h == word || !whole && strings.Contains(h, word)
				})
				if at >= 0 && !taken[at] && *to == "" {
					*to, taken[at] = heading[at], true
				}
			}
		}
	}
	return c
}

// Missing names what a file must have and does not: day and amount, and an item or a name.
func (c Columns) Missing() []string {
	var out []string
	if c.Day == "" {
		out = append(out, "day")
	}
	if c.Amount == "" {
		out = append(out, "amount")
	}
	if c.Item == "" && c.Name == "" {
		out = append(out, "item")
	}
	return out
}

// Line is what a line says.
type Line struct {
	Day    time.Time
	Item   string // as it is written
	Name   string // as the till calls it
	Kind   string
	Packs  int // 1 where nothing is said
	Mass   measure.Mass
	Amount measure.Money
	Reason string
}

// Said is what the till means by the line: the name, or the item where it has none.
func (l Line) Said() string {
	if l.Name != "" {
		return l.Name
	}
	return l.Item
}

// kinds are the words for kinds that are understood.
var kinds = map[string]string{"": Sold, "sold": Sold, "sale": Sold, "sales": Sold, "reduced": Reduced,
	"markdown": Reduced, "discount": Reduced, "marked down": Reduced, "returned": Returned, "return": Returned,
	"refund": Returned, "void": Returned, "wasted": Wasted, "waste": Wasted, "thrown away": Wasted, "spoiled": Wasted}

// mostPacks bounds what one line sells.
var mostPacks = big.NewInt(100_000)

// Read reads a line; cell gives what stands in a column. What is below zero came back. Faults name day, item, packs,
// weight, amount and kind.
func (w Way) Read(cell func(column string) string) (Line, fault.List) {
	var faults fault.List
	get := func(column string) string {
		if column == "" {
			return ""
		}
		return strings.TrimSpace(cell(column))
	}
	l := Line{Item: clip(get(w.Item)), Name: clip(get(w.Name)), Reason: clip(get(w.Reason)), Packs: 1}
	if l.Said() == "" {
		faults.Add("item", fault.Required("Say what was sold."))
	}
	var err error
	l.Day, err = w.day(get(w.Day))
	faults.Add("day", err)
	kind, ok := kinds[strings.ToLower(get(w.Kind))]
	if !ok {
		faults.Add("kind", fault.New("", "unknown", fault.Quote(get(w.Kind))+" is not a kind of sale",
			"Write sold, reduced, returned or wasted."))
	}
	l.Kind = kind
	back := false
	if text := get(w.Packs); text != "" {
		n, err := measure.ParseNumber(text)
		if err == nil && (!n.IsInt() || n.Num().CmpAbs(mostPacks) > 0) {
			err = fault.New("", "not_a_number", fault.Quote(text)+" is not a number of packs", "Write a whole number.")
		}
		if faults.Add("packs", err); err == nil {
			v := int(n.Num().Int64())
			back, l.Packs = v < 0, max(v, -v)
		}
	}
	if text := get(w.Weight); text != "" {
		m, err := measure.ParseMass(w.plainWeight(text))
		faults.Add("weight", err)
		back, l.Mass = back || m < 0, max(m, -m)
	}
	amount, err := measure.ParseMoney(plainAmount(get(w.Amount)))
	if get(w.Amount) == "" && kind == Wasted { // nothing was taken for it
		amount, err = measure.Money{}, nil
	}
	faults.Add("amount", err)
	if amount.Sign() < 0 {
		back, amount = true, amount.Neg()
	}
	l.Amount = amount
	if back && (kind == Sold || kind == Reduced) {
		l.Kind = Returned
	}
	return l, faults
}

// clip keeps what is remembered of a text: its first 80 letters, blanks put together.
func clip(text string) string {
	r := []rune(strings.Join(strings.Fields(text), " "))
	if len(r) > 80 {
		r = r[:80]
	}
	return string(r)
}

// plainWeight takes the unit off a weight that names one, such as “1.25 kg”.
func (w Way) plainWeight(text string) (string, measure.Unit) {
	at := strings.LastIndexFunc(text, func(r rune) bool { return unicode.IsDigit(r) || r == '.' || r == ',' }) + 1
	if u := measure.Unit(strings.ToLower(strings.TrimSpace(text[at:]))); at > 0 && u.Valid() {
		return strings.TrimSpace(text[:at]), u
	}
	return text, w.Unit
}

// plainAmount takes the currency off an amount, before or after it, and separators of thousands before decimals.
func plainAmount(text string) string {
	text = strings.TrimFunc(text, func(r rune) bool {
		return !unicode.IsDigit(r) && r != '-' && r != '−' && r != '.' && r != ','
	})
	point, comma := strings.LastIndexByte(text, '.'), strings.LastIndexByte(text, ',')
	switch {
	case point > comma && comma >= 0:
		return strings.ReplaceAll(text, ",", "")
	case comma > point && point >= 0:
		return strings.ReplaceAll(text, ".", "")
	}
	return text
}

// day reads a day as tills write it: 2026-11-28, 28.11.2026, 28/11/2026 or, with the month first, 11/28/2026; a time
// after it is left out.
func (w Way) day(text string) (time.Time, error) {
	if text == "" {
		return time.Time{}, fault.Required("Say on which day.")
	}
	first, _, _ := strings.Cut(strings.Replace(text, "T", " ", 1), " ")
	slashes := "2/1/2006"
	if w.MonthFirst {
		slashes = "1/2/2006"
	}
	for _, form := range []string{time.DateOnly, "2006/1/2", "2.1.2006", slashes, "20060102"} {
		if d, err := time.Parse(form, first); err == nil {
			return d, nil
		}
	}
	return time.Time{}, fault.New("", "not_a_day", fault.Quote(text)+" is not a day",
		"Write it as 2026-11-28, or say that the month comes first.")
}

// Number is what a product's number in a till is: five digits of the shop's own.
type Number struct {
	Item   string
	Inside int64 // what a barcode holds beside it: grams, or the smallest coins
	Coded  bool  // it was a barcode, with something inside
}

// ReadNumber reads an item: five digits or fewer of the shop's own, or an EAN-13 of the shop with weight or price
// inside; ok is false for what is neither. Prefix is that of the shop's own barcodes.
func ReadNumber(item, prefix string) (n Number, ok bool) {
	if item == "" || strings.Trim(item, "0123456789") != "" {
		return n, false
	}
	if len(item) == 13 && strings.HasPrefix(item, prefix) && label.CheckDigit(item[:12]) == item[12] {
		inside, err := strconv.ParseInt(item[7:12], 10, 64)
		return Number{item[2:7], inside, true}, err == nil
	}
	if len(item) > 5 {
		return n, false
	}
	return Number{Item: strings.Repeat("0", 5-len(item)) + item}, true
}
