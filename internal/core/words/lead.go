package words

import (
	"math/big"
	"slices"
	"strconv"
	"strings"

	"falda/internal/core/atlas"
	"falda/internal/core/measure"
	"falda/internal/core/value"
)

// Telling is how a sentence is told.
type Telling struct {
	Past     bool // the piece was cut; otherwise it is a forecast
	Unit     measure.Unit
	Currency measure.Currency
	Ways     [2]string // what a and b are called, such as “way A”; empty names them by how they cut
}

// Sheets says in one sentence whether b paid against a, by how much, and which muscle made the difference.
func Sheets(a, b value.Sheet, t Telling) string {
	sa, sb := a.Alternative("", false), b.Alternative("", false)
	sentence := sheets(a, b, sa, sb, t)
	if sb.Mass <= 0 || len(unpriced(a, b)) > 0 {
		return sentence
	}
	return sentence + t.doubt(sa, sb)
}

// sheets is the sentence without what it rests on.
func sheets(a, b value.Sheet, sa, sb value.Alternative, t Telling) string {
	if t.Ways[0] == "" && a.Plan.Cut == b.Plan.Cut { // then how they cut does not tell them apart
		t.Ways = [2]string{"“" + a.Plan.ShortName() + "”", "“" + b.Plan.ShortName() + "”"}
	}
	diff := sb.Value().Sub(sa.Value())
	if sb.Mass <= 0 {
		return "Nothing has been weighed yet."
	}
	per := value.LeadPer(sa, sb, t.unit())
	if missing := unpriced(a, b); len(missing) > 0 {
		verb := "pays"
		if t.Past {
			verb = "paid"
		}
		return "Whether it " + verb + " cannot be said yet: there is no price for " + strings.Join(missing, ", ") + "."
	}
	if strings.Trim(per.Abs().Text(t.Currency.Places()), "0.") == "" &&
		strings.Trim(diff.Abs().Text(t.Currency.Places()), "0.") == "" {
		if t.Ways[0] != "" {
			return Capitalised(t.Ways[0]) + " and " + t.Ways[1] + " come out even on this block."
		}
		return Capitalised(doing(b)) + " and " + baseline(a) + " come out even on this block."
	}
	more := t.byWeight(per, diff.Sign())
	onPiece := ", " + t.Currency.Text(diff.Abs()) + " on the piece" + mainReason(value.Bridge(sa, sb), diff) + "."
	if t.Ways[0] != "" {
		verb := " would bring "
		if t.Past {
			verb = " brought "
		}
		return Capitalised(t.Ways[1]) + verb + more + " than " + t.Ways[0] + onPiece
	}
	return Capitalised(doing(b)) + " this block " + t.paid(diff) + " " + more + " than " + baseline(a) + onPiece
}

// byWeight says an amount per unit of block as more, or as less where the sign is below zero.
func (t Telling) byWeight(per measure.Money, sign int) string {
	word := " more"
	if sign < 0 {
		word = " less"
	}
	return t.Currency.Text(per.Abs()) + " a " + t.unitWord() + word
}

// paid says whether something pays or paid that brings so much more.
func (t Telling) paid(more measure.Money) string {
	switch {
	case more.Sign() > 0 && t.Past:
		return "paid:"
	case more.Sign() > 0:
		return "would pay"
	case t.Past:
		return "did not pay:"
	default:
		return "would not pay:"
	}
}

// unpriced lists what either sheet sells without a price, each once.
func unpriced(a, b value.Sheet) []string {
	names := a.Unpriced()
	for _, n := range b.Unpriced() {
		if !slices.Contains(names, n) {
			names = append(names, n)
		}
	}
	return names
}

func (t Telling) unit() measure.Unit {
	if t.Unit == measure.UnitPound {
		return measure.UnitPound
	}
	return measure.UnitKilogram
}

func (t Telling) unitWord() string {
	if t.unit() == measure.UnitPound {
		return "pound"
	}
	return "kilo"
}

// doing names the way of cutting as something one does.
func doing(s value.Sheet) string {
	if s.Plan.Cut == atlas.CutSeams {
		return "seaming"
	}
	return "cutting straight through"
}

// baseline names the way of cutting as what is compared with.
func baseline(s value.Sheet) string {
	if s.Plan.Cut == atlas.CutSeams {
		return "seaming it"
	}
	return "cutting straight through"
}

// mainReason names the steps that pull the way the difference goes: one when it alone makes more than half of that
// pull, else the two largest.
func mainReason(steps []value.Step, diff measure.Money) string {
	pull := new(big.Rat)
	var first, second *value.Step
	for i := range steps {
		s := &steps[i]
		if s.Change.Sign() != diff.Sign() || s.ID == "" {
			continue
		}
		pull.Add(pull, s.Change.Rat())
		switch {
		case first == nil || s.Change.Abs().Cmp(first.Change.Abs()) > 0:
			first, second = s, first
		case second == nil || s.Change.Abs().Cmp(second.Change.Abs()) > 0:
			second = s
		}
	}
	if first == nil || pull.Sign() == 0 {
		return ""
	}
	part := new(big.Rat).Quo(first.Change.Rat(), pull)
	switch {
	case second == nil || part.Cmp(big.NewRat(9, 10)) >= 0:
		return ", almost all of it from " + stepName(*first)
	case part.Cmp(big.NewRat(1, 2)) > 0:
		return ", most of it from " + stepName(*first)
	default:
		return ", chiefly from " + stepName(*first) + " and " + stepName(*second)
	}
}

// stepName is the step's name inside a sentence: "the rump cap", "labour".
func stepName(s value.Step) string {
	name, _, _ := strings.Cut(s.Name, " (")
	name = strings.ToLower(name)
	if s.Kind == "muscle" || s.Kind == "by_product" {
		return "the " + name
	}
	return name
}

// Lead says in one sentence whether b pays against a, by how much a kilogram of block, and which muscle or cost makes
// the difference.
func Lead(a, b value.Alternative, t Telling) string {
	missing := slices.Clone(a.Unpriced)
	for _, n := range b.Unpriced {
		if !slices.Contains(missing, n) {
			missing = append(missing, n)
		}
	}
	if len(missing) > 0 {
		return "Whether it pays cannot be said yet: there is no price for " + strings.Join(missing, ", ") + "."
	}
	if a.Mass <= 0 || b.Mass <= 0 {
		return "Nothing has been weighed yet."
	}
	per := value.LeadPer(a, b, t.unit())
	verb := " brings "
	if !b.Planned && !a.Planned {
		verb = " brought "
	}
	if strings.Trim(per.Abs().Text(t.Currency.Places()), "0.") == "" {
		return Capitalised(b.Name) + " and " + a.Name + " come out even." + t.doubt(a, b)
	}
	return Capitalised(b.Name) + verb + t.byWeight(per, per.Sign()) + " than " + a.Name +
		mainReason(value.BridgeByPart(a, b), per) + "." + t.doubt(a, b)
}

// doubt says how far an answer rests on guessed prices; nothing where it rests on none.
func (t Telling) doubt(a, b value.Alternative) string {
	d := value.Doubts(a, b, t.unit())
	if d.Guessed == 0 {
		return ""
	}
	many := Count(d.Guessed, "price", "prices")
	is, them := "are guesses", "them"
	if d.Guessed == 1 {
		is, them = "is a guess", "it"
	}
	text := " " + Capitalised(many) + " of " + strconv.Itoa(d.Of) + " that bear on it " + is + ": with " + them +
		" it is " +
		t.between(d.Low, d.High) + " a " + t.unitWord() + ", four times in five."
	if d.Turns != "" {
		name := b.Products[d.Turns].Name
		if name == "" {
			name = a.Products[d.Turns].Name
		}
		text += " It would turn if " + Uncapitalised(name) + " sold at " +
			t.Currency.Text(t.Currency.Round(d.At.Times(t.unit().Kilograms()))) + "."
	}
	return text
}

// between says a range of what b is worth more or less than a.
func (t Telling) between(low, high measure.Money) string {
	switch {
	case low.Sign() >= 0:
		return t.Currency.Text(low) + " to " + t.Currency.Text(high) + " more"
	case high.Sign() <= 0:
		return t.Currency.Text(high.Abs()) + " to " + t.Currency.Text(low.Abs()) + " less"
	}
	return "anything from " + t.Currency.Text(low.Abs()) + " less to " + t.Currency.Text(high) + " more"
}
