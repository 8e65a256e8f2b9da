package work_test

import (
	"context"
	"testing"
	"time"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/core/value"
	"falda/internal/store"
	"falda/internal/testdb"
	"falda/internal/work"
	"falda/internal/work/compare"
	"falda/internal/work/stock"
)

// zoned is a shop in a time zone, with a clock that the test sets.
type zoned struct {
	*testing.T
	w     *work.Rooms
	ctx   context.Context
	now   time.Time
	bench string
	lots  int
}

func inZone(t *testing.T, zone string) *zoned {
	t.Helper()
	z := &zoned{T: t, now: noon}
	_, z.w = testdb.Bare(t, testdb.DSN(t), func() time.Time { return z.now })
	in := testdb.Shop
	in.TimeZone = zone
	in.Seasons = []value.Season{{Name: "Winter", From: "11-01", To: "03-20"}}
	if _, err := z.w.People.SetUp(t.Context(), in, testdb.Accounts...); err != nil {
		t.Fatal(err)
	}
	z.ctx = testdb.As(t, z.w, "owner")
	view, err := z.w.Shop.Shop(z.ctx)
	if err != nil {
		t.Fatal(err)
	}
	z.bench = view.Benches[0].PublicID
	return z
}

// at sets the clock to an instant of UTC.
func (z *zoned) at(instant string) {
	z.Helper()
	t, err := time.Parse("2006-01-02 15:04", instant)
	if err != nil {
		z.Fatal(err)
	}
	z.now = t
}

func (z *zoned) receive(slaughtered string) (stock.LotView, error) {
	z.lots++
	return z.w.Stock.Receive(z.ctx,
		stock.Arrival{AtlasID: "beef.top_sirloin", Pieces: 1, Weight: "6.6", WeightUnit: "kg", Price: "11.40", PricePer: "kg",
			SlaughteredOn: slaughtered, PackedOn: slaughtered, Supplier: "A croft", LotNumber: "Z-" + string(rune('A'+z.lots))})
}

// finish cuts a piece straight through at once.
func (z *zoned) finish() string {
	z.Helper()
	lot, err := z.receive("2026-03-01")
	if err != nil {
		z.Fatal(err)
	}
	id := lot.Pieces[0].PublicID
	if err := z.w.Stock.ChoosePlan(z.ctx, id, stock.PlanPick{PlanID: "traditional"}, lot.Pieces[0].Version); err != nil {
		z.Fatal(err)
	}
	b, err := z.w.Bench.StartBreakdown(z.ctx, id, z.bench)
	if err != nil {
		z.Fatal(err)
	}
	for _, e := range []seam.Event{{Kind: seam.Opened, Net: 6600 * measure.Gram},
		{Kind: seam.Portioned, Product: "rump_steak", Net: 6550 * measure.Gram}, {Kind: seam.Closed}} {
		e.ID, e.At, e.Bench = store.NewID(), z.now, z.bench
		if e.Net > 0 {
			e.Gross, e.Division, e.Source = e.Net, 5*measure.Gram, "typed"
		}
		if _, err := z.w.Bench.Book(z.ctx, b.Breakdown.PublicID, e); err != nil {
			z.Fatal(err)
		}
	}
	return b.Breakdown.PublicID
}

// Rules: what day it is, how old a piece is, when it is ready, which season it is and until when it may be minced is
// asked of the clock on the shop's wall, also in the night, when the day in Greenwich is another. The offsets are those
// of the IANA time zone database, from memory: in March 2026 Auckland is 13 hours ahead of UTC, Los Angeles 7 behind,
// Dublin at it.
func TestTheShopsOwnClock(t *testing.T) {
	for _, c := range []struct {
		zone, at, day, season string
		age                   int // of what was slaughtered on 1 March
	}{
		{"Europe/Dublin", "2026-03-20 23:30", "2026-03-20", "Winter", 19},
		{"Pacific/Auckland", "2026-03-20 23:30", "2026-03-21", "", 20}, // half past noon on the next day
		{"Pacific/Auckland", "2026-03-20 10:30", "2026-03-20", "Winter", 19},
		{"America/Los_Angeles", "2026-03-21 03:00", "2026-03-20", "Winter", 19}, // eight in the evening before
		{"America/Los_Angeles", "2026-03-21 07:30", "2026-03-21", "", 20},
	} {
		z := inZone(t, c.zone)
		z.at("2026-03-10 20:00")
		lot, err := z.receive("2026-03-01")
		if err != nil {
			t.Fatal(err)
		}
		z.at(c.at)
		v, err := z.w.Compare.Piece(z.ctx, lot.Pieces[0].PublicID)
		if err != nil {
			t.Fatal(err)
		}
		if v.Card.AgeDays != c.age {
			t.Errorf("%s at %s: %d days old, by its wall %d", c.zone, c.at, v.Card.AgeDays, c.age)
		}
		book, err := z.w.Pricing.PriceBook(z.ctx, "", "")
		if err != nil {
			t.Fatal(err)
		}
		if got := book.Day.Format(time.DateOnly); got != c.day || book.Season != c.season {
			t.Errorf("%s at %s: prices of %s in season %q, by its wall %s in %q", c.zone, c.at, got, book.Season, c.day,
				c.season)
		}
		// boned and vacuum-packed beef may be minced until 15 days after slaughter: 16 March
		for _, m := range []struct {
			at   string
			past bool
		}{{"2026-03-16 12:00", c.zone == "Pacific/Auckland"}, {"2026-03-17 12:30", true}, {"2026-03-16 07:30", false}} {
			z.at(m.at)
			list, err := z.w.Stock.ReadyAtOnce(z.ctx, 10)
			if err != nil || len(list) != 1 {
				t.Fatal(list, err)
			}
			if list[0].MincePast != m.past {
				t.Errorf("%s at %s: past its mince %v", c.zone, m.at, list[0].MincePast)
			}
		}
		// nothing is slaughtered tomorrow; what is tomorrow in Los Angeles is today in Auckland
		z.at("2026-03-20 20:00")
		_, err = z.receive("2026-03-21")
		if ahead := c.zone == "Pacific/Auckland"; (err == nil) != ahead || err != nil && fault.Of(err) == nil {
			t.Errorf("%s: slaughtered on the 21st, entered on the 20th at 20:00 UTC: %v", c.zone, err)
		}
	}
}

// Rule: a day runs from midnight to midnight of the shop's wall, also the one of 23 hours on which the clocks go
// forward (Dublin: 29 March 2026 at 01:00 UTC) and the one of 25 (25 October 2026), and the last of the year.
func TestDaysOverTheChangeOfTheClocks(t *testing.T) {
	for _, c := range []struct {
		zone, day string
		in, out   []string
	}{
		{"Europe/Dublin", "2026-03-29", []string{"2026-03-29 00:00", "2026-03-29 22:59"},
			[]string{"2026-03-28 23:59", "2026-03-29 23:00"}},
		{"Europe/Dublin", "2026-10-25", []string{"2026-10-24 23:00", "2026-10-25 23:59"},
			[]string{"2026-10-24 22:59", "2026-10-26 00:00"}},
		{"America/Los_Angeles", "2026-12-31", []string{"2026-12-31 08:00", "2027-01-01 07:59"},
			[]string{"2026-12-31 07:59", "2027-01-01 08:00"}},
		{"Pacific/Auckland", "2027-01-01", []string{"2026-12-31 11:00", "2027-01-01 10:59"},
			[]string{"2026-12-31 10:59", "2027-01-01 11:00"}},
	} {
		z := inZone(t, c.zone)
		want := map[string]bool{}
		for _, instant := range c.in {
			z.at(instant)
			want[z.finish()] = true
		}
		for _, instant := range c.out {
			z.at(instant)
			z.finish()
		}
		rows, _, err := z.w.Compare.HistoryPieces(z.ctx,
			compare.HistoryPick{Group: compare.GroupPick{From: c.day, To: c.day}, By: "week", Measure: "value"}, "", "")
		if err != nil {
			t.Fatal(err)
		}
		if len(rows) != len(want) {
			t.Errorf("%s on %s: %d pieces, %d were finished on it", c.zone, c.day, len(rows), len(want))
		}
		for _, r := range rows {
			if !want[r.PublicID] {
				t.Errorf("%s on %s: a piece of another day, %s", c.zone, c.day, r.ClosedAt)
			}
		}
	}
}

// Rule: a shop's time zone is one of the IANA list.
func TestNoOtherTimeZone(t *testing.T) {
	_, w := testdb.Bare(t, testdb.DSN(t), func() time.Time { return noon })
	for _, zone := range []string{"Local", "Europe/Nowhere", "../etc/passwd", "GMT+3:30"} {
		in := testdb.Shop
		in.TimeZone = zone
		if _, err := w.People.SetUp(t.Context(), in, testdb.Accounts...); err == nil || fault.Of(err) == nil {
			t.Errorf("%s is taken for a time zone: %v", zone, err)
		}
	}
}
