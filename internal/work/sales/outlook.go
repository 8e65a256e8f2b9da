package sales

import (
	"cmp"
	"context"
	"slices"
	"time"

	"falda/internal/core/demand"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/till"
	"falda/internal/core/value"
	"falda/internal/store"
	"falda/internal/work/goods"
	"falda/internal/work/shop"
)

// lookBack is how many days of sales are looked at: two years, so that a season of last year counts.
const lookBack = 731

// Product is how a product sells.
type Product struct {
	goods.Product
	demand.Outlook
	Sum till.Sum // of the last four weeks
}

// Kg is what so many of its packs weigh.
func (p Product) Kg(packs float64) measure.Mass { return p.Mass(packs) }

// Sales is how a shop sells.
type Sales struct {
	First, Last *time.Time // days of which sales are known
	Today       time.Time
	Monday      time.Time // of the week that is forecast
	Season      string    // whose weeks count; empty where all do
	Weeks       int       // whole weeks that are known
	Products    []Product // those that were sold, the one that brought the most first
	Files       []store.SaleFile
	Trials      []Trial
	Settings    Settings
	Unsold      demand.Outlook // of what was never sold
}

// lastWeeks is how many days back the sums of the products go.
const lastWeeks = 28

// Sales gives how the shop sells and what can be expected of the week to come, with the files that were read and the
// trials of names.
func (s *Service) Sales(ctx context.Context) (Sales, error) {
	out, sh, sums, products, err := s.selling(ctx)
	if err != nil {
		return out, err
	}
	if out.Files, err = s.store.SaleFiles(ctx, sh.ID); err != nil {
		return out, err
	}
	out.Trials, err = s.trials(ctx, sh, products, sums)
	return out, err
}

// Selling is Sales without files and trials.
func (s *Service) Selling(ctx context.Context) (Sales, error) {
	out, _, _, _, err := s.selling(ctx)
	return out, err
}

func (s *Service) selling(ctx context.Context) (out Sales, sh shop.WithPlans, sums []store.SaleSum,
	products map[string]goods.Product, err error) {
	if sh, err = s.shops.WithPlans(ctx); err != nil {
		return out, sh, nil, nil, err
	}
	if out, sums, err = s.known(ctx, sh); err != nil {
		return out, sh, nil, nil, err
	}
	if products, err = s.goods.Products(ctx, sh); err != nil {
		return out, sh, nil, nil, err
	}
	out.Unsold = out.look(sh.Shop, nil, "")
	for _, key := range keysOf(sums) {
		p := Product{Product: products[key], Outlook: out.look(sh.Shop, sums, key),
			Sum: sumOf(sums, key, out.Today.AddDate(0, 0, 1-lastWeeks), out.Today)}
		p.Key, p.Name = key, cmp.Or(p.Name, key)
		out.Products = append(out.Products, p)
	}
	slices.SortStableFunc(out.Products, func(a, b Product) int { return b.Sum.Takings.Cmp(a.Sum.Takings) })
	return out, sh, sums, products, nil
}

// known reads what was sold, and finds the weeks that count.
func (s *Service) known(ctx context.Context, sh shop.WithPlans) (Sales, []store.SaleSum, error) {
	settings, err := settingsOf(ctx, s.store, sh.ID)
	today := sh.Day(s.now())
	out := Sales{Settings: settings, Today: today, Monday: demand.Monday(today)}
	if err != nil {
		return out, nil, err
	}
	sums, err := s.store.SaleSums(ctx, sh.ID, "", today.AddDate(0, 0, -lookBack), today)
	if err != nil {
		return out, nil, err
	}
	for _, x := range sums {
		if out.First == nil || x.Day.Before(*out.First) {
			out.First = &x.Day
		}
		if out.Last == nil || x.Day.After(*out.Last) {
			out.Last = &x.Day
		}
	}
	if out.First != nil {
		mondays := out.span().Mondays()
		out.Weeks = len(mondays)
		season := value.SeasonOn(sh.Seasons, out.Monday)
		if season != "" && slices.ContainsFunc(mondays, func(m time.Time) bool {
			return value.SeasonOn(sh.Seasons, m) == season
		}) {
			out.Season = season
		}
	}
	return out, sums, nil
}

func (x Sales) span() demand.Span {
	if x.First == nil {
		return demand.Span{}
	}
	return demand.SpanOf(*x.First, *x.Last, x.Today)
}

// look gives the outlook of a product, from the week on in which it was sold first: before that it was not there to be
// had. What is not sold in packs that were weighed has packs of the shop's setting.
func (x Sales) look(sh shop.Shop, sums []store.SaleSum, key string) demand.Outlook {
	var days []demand.OnDay
	for _, d := range sums {
		if d.ProductKey != key || d.Kind == till.Wasted {
			continue
		}
		sign := 1
		if d.Kind == till.Returned {
			sign = -1
		}
		days = append(days,
			demand.OnDay{Day: d.Day, Packs: sign * d.Packs, Mass: measure.Mass(sign) * measure.Mass(d.MassMg)})
	}
	var alike func(time.Time) bool
	if x.Season != "" {
		alike = func(m time.Time) bool { return value.SeasonOn(sh.Seasons, m) == x.Season }
	}
	span := x.span()
	if len(days) == 0 {
		span = demand.Span{}
	} else if m := demand.Monday(days[0].Day); m.After(span.From) && !span.From.IsZero() {
		span.From = m
	}
	out := demand.Look(x.Settings.belief(), days, span, x.Monday, alike)
	if out.Pack == 0 {
		out.Pack = measure.Mass(x.Settings.PackG * float64(measure.Gram))
	}
	return out
}

// keysOf lists the products of sums, each once, in order.
func keysOf(sums []store.SaleSum) []string {
	var out []string
	for _, x := range sums {
		if len(out) == 0 || out[len(out)-1] != x.ProductKey {
			out = append(out, x.ProductKey)
		}
	}
	return out
}

// sumOf adds up what became of a product between two days.
func sumOf(sums []store.SaleSum, key string, first, last time.Time) till.Sum {
	var out till.Sum
	for _, x := range sums {
		if x.ProductKey != key || x.Day.Before(first) || x.Day.After(last) {
			continue
		}
		amount, err := measure.MoneyFromDecimal(x.Amount)
		if err != nil { // the database wrote it
			panic(err)
		}
		out.Add(x.Kind, x.Packs, measure.Mass(x.MassMg), amount)
	}
	return out
}

// Realised is what a kilogram of each product that went in a stretch of days brought, what was sold for less and thrown
// away counted, and which part of it was sold at its full price. What the stock log says was thrown away counts too.
type Realised struct {
	PerKg map[string]measure.Money
	Sums  map[string]till.Sum
	First time.Time
	Last  time.Time
}

// MaxRealised bounds the stretch, in days.
const MaxRealised = 366

// Realised adds up the last days.
func (s *Service) Realised(ctx context.Context, days int) (Realised, error) {
	out := Realised{PerKg: map[string]measure.Money{}, Sums: map[string]till.Sum{}}
	if days < 1 || days > MaxRealised {
		return out, fault.New("days", "out_of_range", "must be from 1 to 366", "Ask for fewer days.")
	}
	sh, err := s.shops.Current(ctx)
	if err != nil {
		return out, err
	}
	now := s.now()
	out.Last = sh.Day(now)
	out.First = out.Last.AddDate(0, 0, 1-days)
	sums, err := s.store.SaleSums(ctx, sh.ID, "", out.First, out.Last)
	if err != nil {
		return out, err
	}
	became, err := s.store.GoodsSums(ctx, sh.ID, sh.Begins(out.First), now.Add(time.Second))
	if err != nil {
		return out, err
	}
	for _, key := range keysOf(sums) {
		sum := sumOf(sums, key, out.First, out.Last)
		for _, b := range became {
			if b.ProductKey == key && b.Kind == "wasted" {
				sum.Wasted -= measure.Mass(b.Mg)
			}
		}
		out.Sums[key] = sum
		if v := sum.PerKg(); v != nil {
			out.PerKg[key] = *v
		}
	}
	return out, nil
}

// Lines goes through what was sold in a stretch of days, line by line, with the products' names.
func (s *Service) Lines(ctx context.Context, first, last time.Time, each func(store.Sale, string) error) error {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return err
	}
	products, err := s.goods.Products(ctx, sh)
	if err != nil {
		return err
	}
	return s.store.SaleLines(ctx, sh.ID, first, last, func(x store.Sale) error {
		return each(x, cmp.Or(products[x.ProductKey].Name, x.ProductKey))
	})
}
