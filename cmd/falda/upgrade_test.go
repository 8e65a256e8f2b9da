package main

import (
	"bytes"
	"compress/gzip"
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"falda/internal/backup"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/core/value"
	"falda/internal/store"
	"falda/internal/testdb"
	"falda/internal/work"
	"falda/internal/work/stock"
)

// figures are what a closed piece brought, as the version before showed it.
type figures struct {
	Recorded, Baseline map[string]string
	Difference         string
}

// schemaTen opens a database as schema 10 left it.
func schemaTen(t *testing.T) (dsn string, st *store.Store, w *work.Rooms) {
	t.Helper()
	dsn = testdb.DSN(t)
	if _, err := backup.Restore(t.Context(), dsn, "testdata/schema-10.falda", false, time.Now()); err != nil {
		t.Fatal(err)
	}
	st, w, err := openWork(dsn, "")
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { st.Close() })
	return dsn, st, w
}

// before opens a database as schema 10 left it: the demo, a year of pieces taken in, a shop's own plans, one piece half
// cut by one of them and one closed by another. It comes with the figures that the program of that schema showed.
func before(t *testing.T) (*store.Store, *work.Rooms, map[string]figures) {
	t.Helper()
	_, st, w := schemaTen(t)
	raw, err := os.Open("testdata/schema-10-figures.json.gz")
	if err != nil {
		t.Fatal(err)
	}
	defer raw.Close()
	unzipped, err := gzip.NewReader(raw)
	if err != nil {
		t.Fatal(err)
	}
	var was map[string]figures
	if err := json.NewDecoder(unzipped).Decode(&was); err != nil {
		t.Fatal(err)
	}
	return st, w, was
}

func shown(t value.Totals) map[string]string {
	return map[string]string{"sales": t.Sales.String(), "packaging": t.Packaging.String(), "labour": t.Labour.String(),
		"discard": t.Discard.String(), "purchase": t.Purchase.String(), "value": t.Value.String()}
}

// Rule: what closed pieces brought stays to the cent; where the atlas says otherwise now of the way that a piece is
// compared with, migrate lists the piece with its answer before and after. The shop's own plans become steps as a new
// version, the versions before stay, and doing it again changes nothing.
func TestTheVersionBeforeMovesOver(t *testing.T) {
	st, w, was := before(t)
	var said bytes.Buffer
	if err := migrate(t.Context(), st, w, &said); err != nil {
		t.Fatal(err)
	}
	for _, want := range []string{"plan “The house rump” of beef.top_sirloin", "steps, version 3",
		"plan “House straight striploin” of beef.striploin", "steps, version 2"} {
		if !strings.Contains(said.String(), want) {
			t.Errorf("migrate says %q, and not %q", said.String(), want)
		}
	}
	if v, err := w.Bench.Verify(t.Context(), false); err != nil || len(v.Flaws) > 0 {
		t.Errorf("%v, flaws %v", err, v.Flaws)
	}
	owner := testdb.As(t, w, "owner")
	if len(was) < 90 {
		t.Fatalf("only %d pieces to compare", len(was))
	}
	for id, figures := range was {
		c, err := w.Compare.Compare(owner, id, "", false, "")
		if err != nil {
			t.Fatalf("%s: %v", id, err)
		}
		for line, amount := range shown(c.Recorded.Totals()) {
			if amount != figures.Recorded[line] {
				t.Errorf("%s: %s is %s, was %s", id, line, amount, figures.Recorded[line])
			}
		}
		listed := strings.Contains(said.String(), "answer of "+stock.PieceName(c.View.Card.Row)+" (")
		// an answer is told a kilogram: what changes no coin of that is none
		then, err := measure.MoneyFromDecimal(figures.Difference)
		if err != nil {
			t.Fatal(err)
		}
		kg := c.View.Board.Input().In(measure.UnitKilogram)
		coin := c.View.Shop.Money
		if coin.Round(then.Over(kg)).Cmp(coin.Round(c.Diff.Over(kg))) != 0 && !listed {
			t.Errorf("%s: the difference is %s, was %s, and migrate does not list it", id, c.Diff, figures.Difference)
		}
		if kept := *c.View.Breakdown.GainPerKg; kept != c.PerKg.Text(measure.PriceDecimals) {
			t.Errorf("%s: the rail says %s a kilogram, its comparison %s", id, kept, c.PerKg)
		}
	}
	sameVersions(t, w)
	said.Reset()
	if err := migrate(t.Context(), st, w, &said); err != nil || strings.Contains(said.String(), "plan “") ||
		strings.Contains(said.String(), "answer of") {
		t.Errorf("migrating again: %v, says %q", err, said.String())
	}
}

// sameVersions holds the versions of the moved plan beside each other: the newest says the same as the one before it.
func sameVersions(t *testing.T, w *work.Rooms) {
	t.Helper()
	owner := testdb.As(t, w, "owner")
	plans, err := w.Stock.Plans(owner, "beef.top_sirloin")
	if err != nil {
		t.Fatal(err)
	}
	for _, p := range plans.Plans {
		if p.Plan.Name != "The house rump" {
			continue
		}
		list, err := w.Stock.PlanVersions(owner, "beef.top_sirloin", p.Plan.ID)
		if err != nil {
			t.Fatal(err)
		}
		if len(list) != 3 || list[0].MadeBy != "Falda" || len(list[0].Plan.Steps) == 0 || len(list[1].Plan.Steps) != 0 {
			t.Fatalf("%d versions, the newest by %s with %d steps", len(list), list[0].MadeBy, len(list[0].Plan.Steps))
		}
		now, then := list[0].Plan, list[1].Plan
		a, b := value.Forecast(plans.Piece, now, 6600*measure.Gram), value.Forecast(plans.Piece, then, 6600*measure.Gram)
		if len(a) != len(b) || now.Minutes != then.Minutes {
			t.Errorf("%d cells in %g minutes, were %d in %g", len(a), now.Minutes, len(b), then.Minutes)
		}
		return
	}
	t.Error("the own plan is gone")
}

// Rule: a piece that is half cut goes on, by the plan it was begun with, with events of the old kinds from a tablet's
// queue and of the new ones alike.
func TestAHalfCutPieceGoesOn(t *testing.T) {
	st, w, _ := before(t)
	var said bytes.Buffer
	if err := migrate(t.Context(), st, w, &said); err != nil {
		t.Fatal(err)
	}
	owner := testdb.As(t, w, "owner")
	shop, err := w.Shop.WithPlans(owner)
	if err != nil {
		t.Fatal(err)
	}
	rows, err := st.Breakdowns(t.Context(), shop.ID)
	if err != nil {
		t.Fatal(err)
	}
	for _, row := range rows {
		v, err := w.Bench.Board(owner, row.PublicID)
		if err != nil {
			t.Fatal(err)
		}
		if v.Plan.Name != "The house rump" || v.Board.Closed() {
			continue
		}
		book := func(e seam.Event) {
			t.Helper()
			e.ID, e.At, e.Bench = store.NewID(), time.Now(), v.Bench.PublicID
			if v, err = w.Bench.Book(owner, row.PublicID, e); err != nil {
				t.Fatal(err)
			}
		}
		done := 0
		for _, e := range v.Expected {
			done += e.Times
		}
		if done != 3 {
			t.Fatalf("%d of three muscles are off", done)
		}
		for v.Next >= 0 {
			switch e := v.Expected[v.Next]; e.Kind {
			case "muscle":
				book(seam.Event{Kind: seam.SeamedOff, Part: e.ID, Net: e.Mass, Division: 5 * measure.Gram})
			case "waste":
				book(seam.Event{Kind: seam.Discarded, Part: e.ID, Net: e.Mass})
			default:
				book(seam.Event{Kind: seam.Trimmed, Part: e.ID, Net: e.Mass})
			}
		}
		book(seam.Event{Kind: seam.Tubbed, Part: "mince_trim", Net: 5 * measure.Gram, Division: 5 * measure.Gram})
		book(seam.Event{Kind: seam.Closed, Reason: "as it is"})
		c, err := w.Compare.Compare(owner, row.PublicID, "", false, "")
		if err != nil || c.Recorded.Mass() != v.Board.Input() {
			t.Errorf("%v: the sheet weighs %v of %v", err, c.Recorded.Mass(), v.Board.Input())
		}
		return
	}
	t.Error("no half-cut piece")
}

// Before anything is migrated a whole backup is written; a database that is up to date needs none.
func TestABackupBeforeTheUpgrade(t *testing.T) {
	dsn, st, w := schemaTen(t)
	// as if the last step had not been taken: every step can be repeated
	knows, err := store.KnownSchema()
	if err != nil {
		t.Fatal(err)
	}
	if err := st.DB().Exec("DELETE FROM goose_db_version WHERE version_id = ?", knows).Error; err != nil {
		t.Fatal(err)
	}
	dir := filepath.Join(t.TempDir(), "before")
	var out bytes.Buffer
	for _, want := range []int{1, 1} { // the second time nothing is to be done
		if err := backupBefore(t.Context(), st, dsn, dir, &out); err != nil {
			t.Fatal(err)
		}
		if err := migrate(t.Context(), st, w, &out); err != nil {
			t.Fatal(err)
		}
		if found, err := filepath.Glob(filepath.Join(dir, "schema-*.falda")); err != nil || len(found) != want {
			t.Fatalf("%v, want %d: %v", found, want, err)
		}
	}
	found, _ := filepath.Glob(filepath.Join(dir, fmt.Sprintf("schema-%d-*.falda", knows-1)))
	if len(found) != 1 {
		t.Fatalf("no backup of schema %d in %s", knows-1, dir)
	}
	if head, tail, err := backup.Check(found[0]); err != nil || head.Schema != knows-1 || tail.Rows["breakdowns"] == 0 {
		t.Errorf("schema %d, %d rows: %v", head.Schema, tail.Total(), err)
	}
	if err := backupBefore(t.Context(), st, dsn, "", &out); err != nil {
		t.Errorf("without a folder: %v", err)
	}
}
