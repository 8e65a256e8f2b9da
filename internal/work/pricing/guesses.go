package pricing

import (
	"context"
	"math"
	"slices"

	"falda/internal/core/fault"
	"falda/internal/core/ladder"
	"falda/internal/core/measure"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/shop"
)

// guessStep is to which part of a coin guesses are rounded: tenths.
const guessStep = 10

// Guesses is what was guessed, and from how many prices.
type Guesses struct {
	Known   int // prices that it was guessed from
	Guessed int // products that have a guess now
	// names of products that have neither: their species has no known price, or nothing says what they cost
	Without []string
}

// GuessPrices gives every product without a price a guess, from those that are known, and makes the guesses that there
// are anew. A product that somebody has priced stays as it is.
func (s *Service) GuessPrices(ctx context.Context) (Guesses, error) {
	defer s.shops.Wake()
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return Guesses{}, err
	}
	var g Guesses
	err = s.store.Tx(ctx, func(tx *store.Store) error {
		g, err = s.guess(ctx, tx, sh, true)
		return err
	})
	return g, err
}

// DropGuesses takes every guess away again.
func (s *Service) DropGuesses(ctx context.Context) error {
	defer s.shops.Wake()
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		who, err := audit.Who(ctx)
		if err != nil {
			return audit.Change{}, err
		}
		n, err := tx.DropGuesses(ctx, who.ShopID)
		return audit.Change{Action: "prices.guesses_dropped", Subject: "prices", SubjectName: "guessed prices",
			Was: map[string]any{"guessed": n}}, err
	})
}

// sharpen makes the guesses that there are anew, after a price became known.
func (s *Service) sharpen(ctx context.Context, tx *store.Store, sh shop.WithPlans) error {
	_, err := s.guess(ctx, tx, sh, false)
	return err
}

// guess writes guesses: for every product that has no known price, or only for those that have a guess already.
func (s *Service) guess(ctx context.Context, tx *store.Store, sh shop.WithPlans, all bool) (Guesses, error) {
	rows, err := tx.Prices(ctx, sh.ID)
	if err != nil {
		return Guesses{}, err
	}
	known, wanted := map[string]float64{}, all
	for key, row := range rows {
		p, err := standing(sh.Shop, row)
		if err != nil {
			return Guesses{}, err
		}
		if wanted = wanted || p.Guessed(); !p.Guessed() && p.Amount.Sign() > 0 {
			known[key] = p.PerKilogram().Float()
		}
	}
	if !wanted {
		return Guesses{Known: len(known)}, nil
	}
	table, err := s.indices()
	if err != nil {
		return Guesses{}, err
	}
	fit, changed := ladder.Fit(known, table), 0
	g := Guesses{Known: len(known)}
	if all && len(fit) == 0 {
		return g, fault.New("prices", "none_known", "are not known for any product yet",
			"Enter the price of a product or two that you know by heart, such as mince or a steak.")
	}
	for _, pr := range s.Products(sh, "") {
		row, has := rows[pr.Key]
		if has && row.Spread == 0 {
			continue
		}
		x, ok := fit[pr.Key]
		if !ok {
			g.Without = append(g.Without, pr.Name)
			continue
		}
		g.Guessed++
		if !all && !has {
			continue
		}
		wrote, err := guessed(ctx, tx, sh.Shop, pr.Key, row, x)
		if err != nil {
			return g, err
		}
		changed += wrote
	}
	if changed == 0 {
		return g, nil
	}
	who, err := audit.Who(ctx)
	if err != nil {
		return g, err
	}
	slices.Sort(g.Without)
	if err := tx.StaleResults(ctx, who.ShopID); err != nil {
		return g, err
	}
	return g, s.audit.Write(ctx, tx, who, audit.Change{Action: "prices.guessed", Subject: "prices",
		SubjectName: "guessed prices", Became: map[string]any{"guessed": g.Guessed, "from": g.Known}})
}

// guessed writes one guess where it is another than stands there; it gives 1 where it did.
func guessed(ctx context.Context, tx *store.Store, sh shop.Shop, key string, row store.Price, x ladder.Guess) (int,
	error) {
	per := measure.UnitKilogram
	if sh.Unit == measure.UnitPound {
		per = measure.UnitPound
	}
	kilos, _ := per.Kilograms().Float64()
	amount := math.Max(1, math.Round(x.Price*kilos*guessStep)) / guessStep
	if sh.Money.Places() == 0 {
		amount = math.Max(1, math.Round(x.Price*kilos))
	}
	text := measure.MoneyOf(int64(math.Round(amount*guessStep)), guessStep).Text(measure.PriceDecimals)
	spread := math.Round(x.Spread*1e4) / 1e4
	if row.Version > 0 && row.Spread == spread && row.Per == string(per) {
		if old, err := sh.Price(row.Amount, row.Per); err == nil && old.Amount.Text(measure.PriceDecimals) == text {
			return 0, nil
		}
	}
	return 1, tx.SetPrice(ctx, store.Price{ShopID: sh.ID, ProductKey: key, Amount: text, Per: string(per), Spread: spread,
		Version: row.Version})
}
