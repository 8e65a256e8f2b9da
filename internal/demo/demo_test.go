package demo_test

import (
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"
	"time"

	"falda/internal/core/fault"
	"falda/internal/core/seam"
	"falda/internal/demo"
	"falda/internal/store"
	"falda/internal/testdb"
	"falda/internal/work"
	"falda/internal/work/stock"
)

func TestMain(m *testing.M) { os.Exit(testdb.Run(m)) }

var now = time.Date(2026, 5, 4, 10, 30, 0, 0, time.UTC)

// told enters the scenario and gives what hangs on the rail.
func told(t *testing.T) (*work.Rooms, []stock.Card, []store.Breakdown) {
	t.Helper()
	st, w := testdb.Service(t, func() time.Time { return now })
	if err := st.Empty(t.Context()); err != nil {
		t.Fatal(err)
	}
	if _, err := st.Migrate(t.Context()); err != nil {
		t.Fatal(err)
	}
	if _, err := w.People.SetUp(t.Context(), demo.Shop, demo.Accounts...); err != nil {
		t.Fatal(err)
	}
	if err := demo.Seed(t.Context(), w); err != nil {
		t.Fatal(err)
	}
	if seeded, err := w.Shop.Seeded(t.Context()); err != nil || !seeded {
		t.Fatalf("not marked as seeded: %v", err)
	}
	queue, err := w.Stock.Queue(testdb.As(t, w, "owner"), "")
	if err != nil {
		t.Fatal(err)
	}
	rail := queue.Pieces
	shop, err := st.FirstShop(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	cut, err := st.Breakdowns(t.Context(), shop.ID)
	if err != nil {
		t.Fatal(err)
	}
	return w, rail, cut
}

// The scenario holds lots in every state and the mistakes that a demo must show; every closed breakdown balances to the
// milligram.
func TestScenarioHoldsWhatItMust(t *testing.T) {
	w, rail, cut := told(t)
	states := map[string]int{}
	kinds := map[seam.Kind]int{}
	reasons, plans := "", map[string]int{}
	for _, c := range rail {
		switch {
		case strings.HasPrefix(c.WaitsFor, "its age"):
			states["ageing"]++
		case c.Stage == "plan":
			states["ready"]++
		case c.Stage == "bench" && c.Row.Breakdown == nil:
			states["planned"]++
		case c.Stage == "bench":
			states["being cut on "+c.Row.Bench]++
		default:
			states[c.Stage]++
		}
		if c.AgeDays <= 7 {
			states["just arrived"]++
		}
	}
	pieces := map[string]map[string]int{}
	for _, b := range cut {
		plans[b.PlanID]++
		board, err := w.Bench.Board(testdb.As(t, w, "owner"), b.PublicID)
		if err != nil {
			t.Fatal(err)
		}
		if b.State == "closed" {
			if pieces[board.Card.Piece.ID] == nil {
				pieces[board.Card.Piece.ID] = map[string]int{}
			}
			pieces[board.Card.Piece.ID][b.PlanID]++
		}
		log, err := w.Bench.Log(testdb.As(t, w, "owner"), b.PublicID)
		if err != nil {
			t.Fatal(err)
		}
		for _, l := range log {
			kinds[l.Event.Kind]++
			reasons += l.Event.Reason + "; "
		}
		checkBalance(t, w, b)
	}
	for _, piece := range []string{"beef.top_sirloin", "beef.knuckle", "beef.chuck_roll", "beef.clod", "lamb.leg_chump",
		"lamb.shoulder_whole"} {
		if pieces[piece]["seamed"] == 0 || pieces[piece]["traditional"] == 0 {
			t.Errorf("%s was not cut both ways: %v", piece, pieces[piece])
		}
	}
	for _, j := range demo.Jobs() { // what is cut in blocks
		if pieces[j[0]][j[1]] == 0 {
			t.Errorf("%s was not cut by %s: %v", j[0], j[1], pieces[j[0]])
		}
	}
	for _, kind := range []seam.Kind{seam.Parted, seam.Tubbed, seam.Added, seam.Ticked} {
		if kinds[kind] == 0 {
			t.Errorf("nothing is %s", kind)
		}
	}
	for _, state := range []string{"just arrived", "ageing", "ready", "planned", "being cut on Middle", "judge",
		"compare"} {
		if states[state] == 0 {
			t.Errorf("nothing is %s: %v", state, states)
		}
	}
	if kinds[seam.Undone] == 0 || kinds[seam.WeighedAgain] == 0 || kinds[seam.Discarded] == 0 {
		t.Errorf("the mistakes are missing: %v", kinds)
	}
	for _, reason := range []string{"blood-shot corner", "tub not tared", "drip: the bag had stood open"} {
		if !strings.Contains(reasons, reason) {
			t.Errorf("nobody says %q", reason)
		}
	}
	if plans["seamed"] < 3 || plans["traditional"] < 2 {
		t.Errorf("cut both ways: %v", plans)
	}
}

func checkBalance(t *testing.T, w *work.Rooms, row store.Breakdown) {
	t.Helper()
	v, err := w.Bench.Board(testdb.As(t, w, "owner"), row.PublicID)
	if err != nil {
		t.Fatal(err)
	}
	if row.State != "closed" {
		return
	}
	root, _ := v.Board.Node("")
	if row.InputMg+row.AddedMg != row.OutputMg+row.LossMg || row.LossMg != int64(v.Board.Lost()) {
		t.Errorf("%s does not balance: %+v", row.PublicID, row)
	}
	if !v.Plan.OwnSteps() { // of blocks what was cut from them weighs, and not they themselves
		sum := root.Loss
		for _, id := range root.Children {
			n, _ := v.Board.Node(id)
			sum += n.Mass
		}
		if sum != root.Mass {
			t.Errorf("%s does not balance: %d of %d", row.PublicID, sum, root.Mass)
		}
	}
	if v.Balance.ResidualPct() < 0 || v.Balance.ResidualPct() > 3 {
		t.Errorf("%s lost %.2f %%", row.PublicID, v.Balance.ResidualPct())
	}
	c, err := w.Compare.Compare(testdb.As(t, w, "owner"), row.PublicID, "", false, "")
	if v.Card.Carcass {
		if f := fault.Of(err); f == nil || f[0].Code != "carcass" {
			t.Errorf("a carcass was compared: %v", err)
		}
		return
	}
	if err != nil {
		t.Fatal(err)
	}
	if row.GainPerKg == nil || c.PerKg.Text(2) == "" || c.Recorded.Mass() != root.Mass {
		t.Errorf("%s has no answer: %+v", row.PublicID, row.GainPerKg)
	}
}

// Of three trials one pays for certain, one does not, and of one it is too early to tell.
func TestScenarioHasThreeTrials(t *testing.T) {
	w, _, _ := told(t)
	ctx := testdb.As(t, w, "owner")
	list, _, err := w.Compare.Trials(ctx, "")
	if err != nil || len(list) != 3 {
		t.Fatalf("%d trials, %v", len(list), err)
	}
	for _, x := range list {
		v, err := w.Compare.Trial(ctx, x.PublicID)
		if err != nil {
			t.Fatal(err)
		}
		switch {
		case strings.HasPrefix(x.Name, "Rump"):
			if v.Result.Verdict != "real" || v.Result.Mean <= 0 {
				t.Error(v.Sentence)
			}
		case strings.HasPrefix(x.Name, "Lamb"):
			if v.Result.Verdict != "real" || v.Result.Mean >= 0 {
				t.Error(v.Sentence)
			}
		default:
			if v.Result.Verdict != "too few to tell" {
				t.Error(v.Sentence)
			}
		}
	}
}

// The same day tells the same story.
func TestScenarioIsTheSameEveryTime(t *testing.T) {
	tell := func() []string {
		_, rail, _ := told(t)
		var out []string
		for _, c := range rail {
			gain := ""
			if b := c.Row.Breakdown; b != nil && b.GainPerKg != nil {
				gain = *b.GainPerKg
			}
			out = append(out,
				fmt.Sprint(c.Row.Lot.LotNumber, c.Row.Piece.Number, c.Weight, c.Stage, c.WaitsFor, c.Row.Lot.Supplier, gain))
		}
		return out
	}
	first, second := tell(), tell()
	if len(first) < 15 || !slices.Equal(first, second) {
		t.Errorf("two tellings differ:\n%v\n%v", first, second)
	}
}
