package words

import (
	"fmt"
	"strings"

	"falda/internal/core/bestuse"
	"falda/internal/core/measure"
)

// BestUse is what is said of a best use.
type BestUse struct {
	Cut           int // pieces that are cut
	Brings        measure.Money
	Used          bestuse.Minutes
	Limit         *bestuse.Minutes // nil where minutes are no limit
	Hour          *measure.Money   // shadow price of a bench hour
	Proven        bool
	AtMost        measure.Money // what nothing could bring more than, where it is not proven
	ShadowsProven bool
	TooYoung      int // pieces that are left out
	InTrial       int // pieces that keep the way that was drawn
	Season        string
	WithoutPrice  []string
	Unmade        []string // what open orders ask for and no piece that is ready becomes
	Short         []string // what of open orders cannot be met from what is ready
	Guessed       int      // products whose price is a guess, of so many
	Of            int
	Unit          measure.Unit
	Currency      measure.Currency
	ProductName   func(key string) string
}

// Sentence says what the pieces bring, and what one more hour would.
func (b BestUse) Sentence() string {
	text := fmt.Sprintf("%s %s so, before what they cost", Count(b.Cut, "piece brings", "pieces bring"),
		b.Currency.Text(b.Brings))
	if b.Limit != nil {
		text += fmt.Sprintf(", in %.0f of %.0f bench minutes", float64(b.Used)/100, float64(*b.Limit)/100)
	}
	text += "."
	if b.Hour != nil && b.Hour.Sign() > 0 {
		text += fmt.Sprintf(" One more bench hour would bring %s more.", b.Currency.Text(*b.Hour))
	}
	return text
}

// Notes say what one should know of the answer.
func (b BestUse) Notes() []string {
	var notes []string
	if b.InTrial > 0 {
		notes = append(notes, Count(b.InTrial, "piece is of a trial and keeps the way that was drawn for it.",
			"pieces are of a trial and keep the way that was drawn for them."))
	}
	if len(b.WithoutPrice) > 0 {
		notes = append(notes, "Without a price, and counted as nothing: "+strings.Join(b.WithoutPrice, ", ")+".")
	}
	if len(b.Short) > 0 {
		notes = append(notes, "Ordered, and more than what is ready gives: "+strings.Join(b.Short, "; ")+" too little.")
	}
	if len(b.Unmade) > 0 {
		notes = append(notes, "Ordered, and no piece that is ready becomes it: "+strings.Join(b.Unmade, "; ")+".")
	}
	if b.Guessed > 0 {
		notes = append(notes, strings.TrimSpace(GuessedPrices(b.Guessed, b.Of)))
	}
	if !b.Proven {
		notes = append(notes, "Found in the time there was; nothing could bring more than "+b.Currency.Text(b.AtMost)+".")
	}
	if b.Proven && !b.ShadowsProven {
		notes = append(notes,
			"What one more hour and one more kilogram of demand would bring is not worked out to the end; it may be more.")
	}
	if b.TooYoung > 0 {
		notes = append(notes, Count(b.TooYoung, "piece is left out: it is not old enough for any of its plans.",
			"pieces are left out: they are not old enough for any of their plans."))
	}
	if b.Season != "" {
		notes = append(notes, "Demand and prices are those of "+b.Season+".")
	}
	return notes
}

// Because says why a piece goes where it goes; plan gives the name of a plan by its id, in quotation marks.
func (b BestUse) Because(w bestuse.Why, plan func(id string) string) string {
	by := b.Currency.Text(w.By.Abs())
	chosen := Capitalised(strings.Trim(plan(w.Chosen.Plan), "“”"))
	switch w.Reason {
	case bestuse.BringsMost:
		if w.By.Sign() == 0 {
			return fmt.Sprintf("%s brings as much as %s.", chosen, plan(w.Other))
		}
		return fmt.Sprintf("%s brings %s more than %s, the next best.", chosen, by, plan(w.Other))
	case bestuse.DemandIsFull:
		return fmt.Sprintf("%s brings %s more than %s: no more %s sells at its full price.", chosen, by, plan(w.Other),
			b.product(w.Product))
	case bestuse.ShortOfMinutes:
		return fmt.Sprintf("%s would bring %s more here, but %.1f minutes are missing; they bring more elsewhere.",
			plan(w.Other), by, float64(w.Minutes)/100)
	case bestuse.ForAnOrder:
		return fmt.Sprintf("%s would bring %s more, but then the order of %s would not be met.", plan(w.Other), by,
			b.product(w.Product))
	}
	return "There is no other plan that it is ready for."
}

func (b BestUse) product(key string) string { return strings.ToLower(Short(b.ProductName(key))) }

// Unmet says that orders, or all pieces, cannot be met within the bench minutes, and what to do about it.
func (b BestUse) Unmet(c bestuse.Clash) (message, hint string) {
	minutes := ""
	if c.Minutes && b.Limit != nil {
		minutes = fmt.Sprintf(" in %g bench minutes", float64(*b.Limit)/100)
	}
	var parts []string
	for _, o := range c.Orders {
		parts = append(parts, fmt.Sprintf("%s of %s (at most %s could be cut)",
			o.Order.Text(b.Unit, 2), b.ProductName(o.Product), o.AtMost.Text(b.Unit, 2)))
	}
	switch {
	case len(parts) == 0:
		return "The pieces cannot all be cut" + minutes, "Give more bench minutes, or let pieces wait."
	case len(parts) == 1:
		message = "cannot be met" + minutes + ": " + parts[0]
	default:
		message = "cannot be met together" + minutes + ": " + strings.Join(parts, "; ")
	}
	if c.Minutes {
		return message, "Give more bench minutes, or take one of them smaller."
	}
	return message, "Take one of them smaller, cut more pieces, or let go of one."
}
