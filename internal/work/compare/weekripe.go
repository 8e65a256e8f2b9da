package compare

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"falda/internal/core/age"
	"falda/internal/core/atlas"
	"falda/internal/core/bestuse"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/words"
)

// What of a week is young, and what lies there already.

// The bounds of a slaughter day about today, and of what ageing takes.
const (
	longestHung   = 120 // days
	furthestKill  = 31  // days ahead
	mostLossDaily = 5   // per cent; dry ageing on the bone takes less (common practice, no source)
)

// readKilled reads when a kind of head is slaughtered; zero where nobody says, and all of it counts as ripe.
func (w *week) readKilled(text string) (time.Time, error) {
	if strings.TrimSpace(text) == "" {
		return time.Time{}, nil
	}
	on, err := time.Parse(time.DateOnly, strings.TrimSpace(text))
	if err != nil {
		return on, fault.New("", "not_a_day", "is no day", "Choose it in the calendar, or type it as 2026-03-09.")
	}
	if d := age.Days(on, w.Shop.Day(w.s.now())); d > longestHung || d < -furthestKill {
		return on, fault.New("", "out_of_range",
			fmt.Sprintf("must be from %d days ago to %d days ahead", longestHung, furthestKill), "Look at the day again.")
	}
	return on, nil
}

// readLoss reads what ageing takes a day, in per cent.
func readLoss(text string) (float64, error) {
	if strings.TrimSpace(text) == "" {
		return 0, nil
	}
	return readUpTo(text, mostLossDaily, fmt.Sprint(mostLossDaily),
		"Say how many per cent of its weight a piece loses in a day.")
}

// ripe says when a plan's muscles for quick cooking are old enough, whether that is within the days that are asked for,
// and what a piece weighs then.
func (w *week) ripe(head string, x weekPlan) (weekPlan, bool) {
	killed := w.killed[head]
	if killed.IsZero() {
		return x, true
	}
	today := w.Shop.Day(w.s.now())
	x.readyOn = age.Of(x.piece, []atlas.Plan{x.plan}, killed, today).ReadyOn
	if x.readyOn.After(today.AddDate(0, 0, w.Asked.Days-1)) {
		return x, false
	}
	if wait := age.Days(today, x.readyOn); wait > 0 {
		x.each = measure.Mass(math.Round(float64(x.each) * math.Pow(1-w.loss/100, float64(wait))))
	}
	return x, true
}

// sayYoung names the pieces that no plan has ripe within the days: they are left to hang.
func (w *week) sayYoung() {
	var names []string
	for _, h := range w.heads.Heads {
		d := w.Divisions[h.ID]
		for n, part := range d.Parts {
			if first, ok := w.young[[3]string{h.ID, d.ID, placeOf(part.Piece, n)}]; ok {
				p, _ := w.s.atlas.Find(part.Piece)
				names = append(names, fmt.Sprintf("%d × %s (ripe on %s)", h.Count*part.Count, words.Uncapitalised(p.Name),
					first.Format("2 January")))
			}
		}
	}
	if w.unripe > 0 {
		w.Notes = append(w.Notes,
			words.Count(w.unripe, "way", "ways")+" of cutting that these days are too few to ripen for "+
				"stayed out.")
	}
	if len(names) > 0 {
		w.Notes = append(w.Notes, "Not ripe in these days, left to hang and not in the figures: "+
			strings.Join(names, ", ")+".")
	}
}

// stand takes what lies there and no order asks for off what can still be sold of it in these days.
func (w *week) stand(ctx context.Context) error {
	lies, err := w.s.orders.Lies(ctx)
	if err != nil {
		return err
	}
	for _, n := range w.needs {
		lies[n.Key] -= n.FromStock
	}
	w.demand, w.stock = map[string]measure.Mass{}, map[string]measure.Mass{}
	for j, pr := range w.heads.Products {
		if pr.Cap == nil {
			continue
		}
		w.demand[pr.ID] = *pr.Cap
		if free := max(0, lies[pr.ID]); free > 0 {
			left := max(0, *pr.Cap-free)
			w.heads.Products[j].Cap, w.stock[pr.ID] = &left, free
		}
	}
	return nil
}

// demanded is what is left to sell of a product where so much of it is asked for.
func (w *week) demanded(product string, times float64) measure.Mass {
	return max(0, measure.Mass(float64(w.demand[product])*times)-w.stock[product])
}

// hasWay says whether a piece of a head can go a way.
func (w *week) hasWay(x bestuse.Way, id string) bool {
	return slices.ContainsFunc(w.heads.Ways, func(o bestuse.Way) bool {
		return o.Head == x.Head && o.Division == x.Division && o.Piece == x.Piece && o.ID == id
	})
}
