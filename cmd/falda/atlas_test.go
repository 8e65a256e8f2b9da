package main

import (
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/testdb"
	"falda/internal/work/stock"
)

// A newcomer saves the example of docs/atlas.md in a folder and starts with it: the piece is found, received, planned
// and forecast, and nothing of the atlas is lost.
func TestAPieceOfOnesOwn(t *testing.T) {
	doc, err := os.ReadFile("../../docs/atlas.md")
	if err != nil {
		t.Fatal(err)
	}
	_, rest, found := strings.Cut(string(doc), "```yaml\n")
	example, _, closed := strings.Cut(rest, "```")
	if !found || !closed {
		t.Fatal("docs/atlas.md has no example")
	}
	dir := t.TempDir()
	save := func(text string) {
		t.Helper()
		if err := os.WriteFile(filepath.Join(dir, "shank.yaml"), []byte(text), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	save(example)
	dsn := testdb.DSN(t)
	st, w, err := openWork(dsn, dir)
	if err != nil {
		t.Fatal(err)
	}
	defer st.Close()
	if _, err := st.Migrate(t.Context()); err != nil {
		t.Fatal(err)
	}
	if _, err := w.People.SetUp(t.Context(), testdb.Shop, testdb.Accounts...); err != nil {
		t.Fatal(err)
	}
	builtIn, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	if got := len(w.Atlas().Pieces); got != len(builtIn.Pieces)+1 {
		t.Errorf("%d pieces, want one more than %d", got, len(builtIn.Pieces))
	}
	for _, question := range []string{"hind shank", "souris", "hindshnak", "5030"} {
		hits := w.Atlas().Search(question)
		// the shank of a leg is called so too
		if !slices.ContainsFunc(hits[:min(2, len(hits))], func(h atlas.Hit) bool { return h.Piece.ID == "lamb.hind_shank" }) {
			t.Errorf("%q does not find it", question)
		}
	}
	owner := testdb.As(t, w, "owner")
	day := func(ago int) string { return time.Now().UTC().AddDate(0, 0, -ago).Format(time.DateOnly) }
	lot, err := w.Stock.Receive(owner,
		stock.Arrival{AtlasID: "lamb.hind_shank", Pieces: 4, Weight: "1.6", WeightUnit: "kg", Price: "9", PricePer: "kg",
			SlaughteredOn: day(5), PackedOn: day(4), Supplier: "A croft", LotNumber: "T-1"})
	if err != nil {
		t.Fatal(err)
	}
	if err := w.Stock.ChoosePlan(owner, lot.Pieces[0].PublicID, stock.PlanPick{PlanID: "seamed"}, 1); err != nil {
		t.Fatal(err)
	}
	v, err := w.Compare.Piece(owner, lot.Pieces[0].PublicID)
	if err != nil || len(v.Forecast.Sheets) != 2 || len(v.Map.Areas) != 3 {
		t.Errorf("%d plans, %d areas on the map, %v", len(v.Forecast.Sheets), len(v.Map.Areas), err)
	}
	// an id that the atlas has replaces that piece; a carcass that takes it must still be taken whole
	chump := strings.Replace(example, "id: lamb.hind_shank", "id: lamb.chump", 1)
	save(chump)
	if _, err := loadAtlas(dir); err == nil ||
		!strings.Contains(err.Error(), "instead.chump: lamb.chump has 6 % of the carcass") {
		t.Errorf("a piece that no longer fits its carcass: %v", err)
	}
	save(strings.Replace(chump, "side_share_pct: 2", "side_share_pct: 6", 1))
	other, err := loadAtlas(dir)
	if err != nil {
		t.Fatal(err)
	}
	if len(other.Pieces) != len(builtIn.Pieces) {
		t.Fatal(len(other.Pieces))
	}
	if p, _ := other.Find("lamb.chump"); p.Name != "Hind shank, bone-in" {
		t.Errorf("the chump is still %s", p.Name)
	}
	// a slip names file, piece and key
	save(strings.Replace(example, "heel: 92", "heel: 90", 1))
	if _, err := loadAtlas(dir); err == nil ||
		!strings.Contains(err.Error(), "shank.yaml: lamb.hind_shank: plans.seamed.from.heel") {
		t.Errorf("a slip in a plan: %v", err)
	}
	save(strings.Replace(example, "name: Diced lamb", "name: Lamb cubes", 1))
	if _, err := loadAtlas(dir); err == nil || !strings.Contains(err.Error(), "stew") {
		t.Errorf("a product with two names: %v", err)
	}
	if _, err := loadAtlas(t.TempDir()); err == nil {
		t.Error("an empty folder was taken for an atlas")
	}
}
