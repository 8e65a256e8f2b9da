package store_test

import (
	"errors"
	"os"
	"testing"
	"time"

	mysqldriver "github.com/go-sql-driver/mysql"

	"falda/internal/store"
	"falda/internal/testdb"
)

func TestMain(m *testing.M) { os.Exit(testdb.Run(m)) }

var at = time.Date(2026, 3, 20, 9, 0, 0, 123456000, time.UTC)

// breakdown makes a shop with one piece on a bench.
func breakdown(t *testing.T) (*store.Store, store.Breakdown) {
	t.Helper()
	st, _ := testdb.Service(t, func() time.Time { return at })
	ctx := t.Context()
	shop, err := st.FirstShop(ctx)
	if err != nil {
		t.Fatal(err)
	}
	benches, err := st.Benches(ctx, shop.ID)
	if err != nil {
		t.Fatal(err)
	}
	lot := store.Lot{PublicID: store.NewID(), ShopID: shop.ID, LotNumber: "T-1", Supplier: "A croft",
		AtlasID: "beef.top_sirloin", Pieces: 1, TotalMg: 6_600_000, Price: "11.4", PricePer: "kg", SlaughteredOn: at,
		PackedOn: at, Findings: []string{"blood_shot"}, ReceivedAt: at}
	pieces := []store.Piece{{PublicID: store.NewID(), ShopID: shop.ID, Number: 1, LabelMg: 6_600_000, Version: 1}}
	if err := st.CreateLot(ctx, &lot, pieces); err != nil {
		t.Fatal(err)
	}
	b := store.Breakdown{PublicID: store.NewID(), ShopID: shop.ID, PieceID: pieces[0].ID, BenchID: benches[0].ID,
		PlanID: "seamed", CreatedAt: at, State: "waiting"}
	if err := st.CreateBreakdown(ctx, &b); err != nil {
		t.Fatal(err)
	}
	return st, b
}

func event(b store.Breakdown, seq int) store.Event {
	return store.Event{PublicID: store.NewID(), ShopID: b.ShopID, BreakdownID: b.ID, Seq: seq, BenchID: b.BenchID,
		Kind: "trimmed", At: at, ReceivedAt: at, Role: "cutter", NetMg: 5000}
}

func output(b store.Breakdown, e store.Event) store.Output {
	return store.Output{ShopID: b.ShopID, BreakdownID: b.ID, Node: e.PublicID, Kind: e.Kind, Part: "trim", MassMg: e.NetMg,
		At: at}
}

// Rules: an event is appended whole or not at all; the same number or id cannot be appended twice; times keep their
// microseconds.
func TestAppendIsAllOrNothing(t *testing.T) {
	st, b := breakdown(t)
	ctx := t.Context()
	piece, err := st.PieceRowByID(ctx, b.ShopID, b.PieceID)
	if err != nil {
		t.Fatal(err)
	}
	shop, err := st.Shop(ctx, b.ShopID)
	if err != nil {
		t.Fatal(err)
	}
	seen := store.Seen{LotID: piece.Lot.ID, Lot: piece.Lot.Version, Shop: shop.Version}
	first := event(b, 1)
	b.Events, b.State, b.InputMg = 1, "open", 6_600_000
	if err := st.Append(ctx,
		store.Appended{Event: first, Seen: seen, Breakdown: b, After: []store.Output{output(b, first)}}); err != nil {
		t.Fatal(err)
	}
	kept := []store.Output{output(b, first)}
	after := b
	after.Events = 2
	sameNumber, sameID := event(b, 1), event(b, 2)
	sameID.PublicID = first.PublicID
	unbalanced, noMass := after, output(b, event(b, 2))
	unbalanced.State, unbalanced.OutputMg = "closed", 1
	noMass.MassMg = 0
	for name, c := range map[string]struct {
		event store.Event
		row   store.Breakdown
		out   []store.Output
		want  error
	}{
		"a number that is taken":   {sameNumber, after, kept, store.ErrBehind},
		"an id that is taken":      {sameID, after, kept, store.ErrDuplicate},
		"a close without balance":  {event(b, 2), unbalanced, kept, nil},
		"a weighing of nothing":    {event(b, 2), after, append(kept[:1:1], noMass), nil},
		"a kind that is not known": {func() store.Event { e := event(b, 2); e.Kind = "eaten"; return e }(), after, kept, nil},
	} {
		err := st.Append(ctx, store.Appended{Event: c.event, Seen: seen, Breakdown: c.row, Before: kept, After: c.out})
		if err == nil || (c.want != nil && !errors.Is(err, c.want)) {
			t.Errorf("%s: %v", name, err)
		}
		row, err := st.Breakdown(ctx, b.ShopID, b.PublicID)
		if err != nil || row.Events != 1 || row.State != "open" {
			t.Errorf("%s left %+v, %v", name, row, err)
		}
		log, err := st.Events(ctx, b.ShopID, b.ID)
		if err != nil || len(log) != 1 || !log[0].At.Equal(at) {
			t.Errorf("%s left %d events, %v", name, len(log), err)
		}
	}
	second := event(b, 2)
	heavier := output(b, first)
	heavier.MassMg = 7000
	if err := st.Append(ctx,
		store.Appended{Event: second, Seen: seen, Breakdown: after, Before: kept,
			After: []store.Output{heavier, output(b, second)}}); err != nil {
		t.Fatal(err)
	}
	third := event(b, 3)
	if err := st.Append(ctx,
		store.Appended{Event: third, Seen: seen, Breakdown: after, Before: []store.Output{heavier, output(b, second)},
			After: []store.Output{output(b, second)}}); err != nil {
		t.Fatal(err)
	}
	outputs, err := st.Outputs(ctx, b.ShopID, b.ID)
	if err != nil || len(outputs) != 1 || outputs[0].Node != second.PublicID {
		t.Errorf("the read table is %+v, %v", outputs, err)
	}
}

// Every query goes through the shop: the ids of one are nothing to another.
func TestQueriesStayInTheShop(t *testing.T) {
	st, b := breakdown(t)
	ctx, other := t.Context(), b.ShopID+1
	if _, err := st.Breakdown(ctx, other, b.PublicID); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("breakdown: %v", err)
	}
	if _, err := st.PieceRowByID(ctx, other, b.PieceID); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("piece: %v", err)
	}
	for _, ids := range [][]string{{"ü"}, {"ü", "x"}, {"x", "y", "ü"}} { // letters that no id has
		if _, err := st.PieceRowsOf(ctx, b.ShopID, ids); !errors.Is(err, store.ErrNotFound) {
			t.Errorf("pieces %q: %v", ids, err)
		}
	}
	if rows, _, err := st.Queue(ctx, other, 0, 10, 10); err != nil || len(rows) != 0 {
		t.Errorf("rail: %d, %v", len(rows), err)
	}
	if lots, err := st.Lots(ctx, other, nil, 10); err != nil || len(lots) != 0 {
		t.Errorf("lots: %d, %v", len(lots), err)
	}
	if rows, _, err := st.Queue(ctx, b.ShopID, 0, 10, 10); err != nil || len(rows) != 1 ||
		rows[0].Lot.Findings[0] != "blood_shot" {
		t.Errorf("the shop's own rail: %+v, %v", rows, err)
	}
}

func TestMigrateEmptyAndUnavailable(t *testing.T) {
	st, _ := breakdown(t)
	ctx := t.Context()
	if behind, err := st.Behind(ctx); err != nil || behind {
		t.Errorf("a migrated database is behind: %v, %v", behind, err)
	}
	if err := st.Empty(ctx); err != nil {
		t.Fatal(err)
	}
	if behind, err := st.Behind(ctx); err != nil || !behind {
		t.Errorf("an empty database is not behind: %v, %v", behind, err)
	}
	if _, err := store.Open("falda:x@tcp(127.0.0.1:1)/falda"); !errors.Is(err, store.ErrUnavailable) {
		t.Errorf("no database there: %v", err)
	}
}

// A transaction that lost a deadlock is run again, and what its first run wrote is not there twice.
func TestTxRunsAgain(t *testing.T) {
	st, b := breakdown(t)
	runs := 0
	err := st.Tx(t.Context(), func(tx *store.Store) error {
		runs++
		if err := tx.CreateBench(t.Context(),
			&store.Bench{PublicID: store.NewID(), ShopID: b.ShopID, Name: "West", Active: true, Version: 1}); err != nil {
			return err
		}
		if runs < 3 {
			return &mysqldriver.MySQLError{Number: 1213, Message: "Deadlock found when trying to get lock"}
		}
		return nil
	})
	benches, listErr := st.Benches(t.Context(), b.ShopID)
	if err != nil || listErr != nil || runs != 3 || len(benches) != 3 {
		t.Errorf("%d runs, %d benches, %v, %v", runs, len(benches), err, listErr)
	}
	if err := st.Tx(t.Context(),
		func(*store.Store) error { return &mysqldriver.MySQLError{Number: 1213} }); !errors.Is(err, store.ErrUnavailable) {
		t.Errorf("a deadlock that stays: %v", err)
	}
}
