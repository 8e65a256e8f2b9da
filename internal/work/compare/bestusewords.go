package compare

import (
	"fmt"
	"slices"
	"strings"

	"falda/internal/core/bestuse"
	"falda/internal/core/fault"
	"falda/internal/core/words"
)

// clash says which orders cannot be met together.
func (b *best) clash(v BestView, solver bestuse.Solver, stop bestuse.Stop) error {
	c, err := bestuse.Conflict(b.problem, solver, stop)
	if err != nil {
		return err
	}
	var parts []string
	for _, o := range c.Orders {
		parts = append(parts, fmt.Sprintf("%s of %s (at most %s could be cut)", o.Order.Text(b.unit, 2), b.names[o.Product].Name, o.AtMost.Text(b.unit, 2)))
	}
	minutes := ""
	if c.Minutes {
		minutes = fmt.Sprintf(" in %g bench minutes", float64(*v.Minutes)/100)
	}
	var faults fault.List
	out := "Take one of them smaller, cut more pieces, or let go of one."
	if c.Minutes {
		out = "Give more bench minutes, or take one of them smaller."
	}
	if len(parts) == 0 {
		return fault.New("minutes", "infeasible", "The pieces cannot all be cut"+minutes, "Give more bench minutes, or let pieces wait.")
	}
	message := "cannot be met" + minutes + ": " + strings.Join(parts, "; ")
	if len(parts) > 1 {
		message = "cannot be met together" + minutes + ": " + strings.Join(parts, "; ")
	}
	for i, o := range v.Asked.Orders {
		if slices.ContainsFunc(c.Orders, func(s bestuse.UnmetOrder) bool { return s.Product == o.Key }) {
			faults.Add(fmt.Sprintf("orders[%d].weight", i), fault.New("", "infeasible", message, out))
		}
	}
	return faults.Err()
}

// tell puts the solution in the words of the trade.
func (b *best) tell(v *BestView, worths bestuse.ShadowPrices) {
	why := map[string]bestuse.Why{}
	for _, w := range b.problem.Why(v.Solution) {
		why[w.Chosen.Piece] = w
	}
	waiting := 0
	for i := range v.Pieces {
		p := &v.Pieces[i]
		w := why[p.Card.Row.Piece.PublicID]
		name := func(id string) string {
			if pl, ok := p.Card.Piece.Plan(id); ok {
				return "“" + pl.Name + "”"
			}
			return "waiting"
		}
		p.PlanID, p.PlanName = w.Chosen.Plan, strings.Trim(name(w.Chosen.Plan), "“”")
		p.Sentence = b.because(w, name)
		if w.Chosen.Plan == "" {
			waiting++
		}
	}
	for j, sale := range v.Solution.Sales {
		pr := b.problem.Products[j]
		x := BestSale{Sale: sale, Name: b.names[sale.Product].Name, Price: v.Book.Prices[sale.Product], Cap: pr.Cap, Order: pr.Order, Falls: pr.Fallback}
		for _, m := range worths.Demand {
			if m.Product == sale.Product {
				worth := m.PerKg
				x.Kilo = &worth
			}
		}
		if x.Value = b.money.Round(x.Value); sale.Made > 0 || pr.Order > 0 {
			v.Sales, v.Brought = append(v.Sales, x), v.Brought.Add(x.Value)
		}
	}
	v.Brought, v.Brings = b.money.Of(v.Brought), b.money.Round(v.Solution.Value)
	v.Costs = v.Brought.Sub(v.Brings)
	v.Sentence = fmt.Sprintf("%s %s so, before what they cost", words.Count(len(v.Pieces)-waiting, "piece brings", "pieces bring"), b.money.Text(v.Solution.Value))
	if v.Minutes != nil {
		v.Sentence += fmt.Sprintf(", in %.0f of %.0f bench minutes", float64(v.Solution.Minutes)/100, float64(*v.Minutes)/100)
	}
	v.Sentence += "."
	if v.Hour != nil && v.Hour.Sign() > 0 {
		v.Sentence += fmt.Sprintf(" One more bench hour would bring %s more.", b.money.Text(*v.Hour))
	}
	if !v.Proven {
		v.Notes = append(v.Notes, "Found in the time there was; nothing could bring more than "+b.money.Text(v.AtMost)+".")
	}
	if v.Proven && !worths.Proven {
		v.Notes = append(v.Notes, "What one more hour and one more kilogram of demand would bring is not worked out to the end; it may be more.")
	}
	if v.Left > 0 {
		v.Notes = append(v.Notes, words.Count(v.Left, "piece is left out: it is not old enough for any of its plans.", "pieces are left out: they are not old enough for any of their plans."))
	}
	if v.Book.Season != "" {
		v.Notes = append(v.Notes, "Demand and prices are those of "+v.Book.Season+".")
	}
}

// because says in a sentence why a piece goes where it goes.
func (b *best) because(w bestuse.Why, name func(string) string) string {
	by := b.money.Text(w.By.Abs())
	chosen := words.Capitalised(strings.Trim(name(w.Chosen.Plan), "“”"))
	switch w.Reason {
	case bestuse.BringsMost:
		if w.By.Sign() == 0 {
			return fmt.Sprintf("%s brings as much as %s.", chosen, name(w.Other))
		}
		return fmt.Sprintf("%s brings %s more than %s, the next best.", chosen, by, name(w.Other))
	case bestuse.DemandIsFull:
		return fmt.Sprintf("%s brings %s more than %s: no more %s sells at its full price.", chosen, by, name(w.Other), strings.ToLower(words.Short(b.names[w.Product].Name)))
	case bestuse.ShortOfMinutes:
		return fmt.Sprintf("%s would bring %s more here, but %.1f minutes are missing; they bring more elsewhere.", name(w.Other), by, float64(w.Minutes)/100)
	case bestuse.ForAnOrder:
		return fmt.Sprintf("%s would bring %s more, but then the order of %s would not be met.", name(w.Other), by, strings.ToLower(words.Short(b.names[w.Product].Name)))
	}
	return "There is no other plan that it is ready for."
}
