package demo_test

import (
	"fmt"
	"maps"
	"slices"
	"strings"
	"testing"
	"time"

	"falda/internal/demo"
	"falda/internal/store"
	"falda/internal/testdb"
	"falda/internal/work/audit"
	"falda/internal/work/people"
)

// counts are the rows of every table.
func counts(t *testing.T, st *store.Store) map[string]int {
	t.Helper()
	var tables []string
	err := st.DB().Raw("SELECT table_name FROM information_schema.tables WHERE table_schema = DATABASE()").Scan(&tables).
		Error
	if err != nil || len(tables) < 30 {
		t.Fatalf("%d tables: %v", len(tables), err)
	}
	out := map[string]int{}
	for _, name := range tables {
		var n int
		if err := st.DB().Raw(fmt.Sprintf("SELECT COUNT(*) FROM `%s`", name)).Scan(&n).Error; err != nil {
			t.Fatal(err)
		}
		out[name] = n
	}
	return out
}

// Rule: an example shop stands beside the real one, is seen in none of its figures, and goes without a trace but the
// two lines of the audit; a real shop never goes.
func TestAnExampleComesAndGoes(t *testing.T) {
	st, w := testdb.Service(t, func() time.Time { return now })
	owner := testdb.As(t, w, "owner")
	who, err := audit.Who(owner)
	if err != nil {
		t.Fatal(err)
	}
	token, err := w.People.SignInDemo(owner, who.Member, audit.Where{})
	if err != nil {
		t.Fatal(err)
	}
	before := counts(t, st)
	if e, err := w.People.ExampleShop(owner); err != nil || e != (people.Example{}) {
		t.Fatalf("at first: %+v, %v", e, err)
	}
	as, err := w.People.AddExample(owner, demo.Shop, demo.Accounts)
	if err != nil {
		t.Fatal(err)
	}
	if e, err := w.People.ExampleShop(owner); err != nil || e.Whole || e.Stale {
		t.Errorf("while it is filled: %+v, %v", e, err)
	}
	if _, err := w.People.AddExample(owner, demo.Shop, demo.Accounts); err == nil {
		t.Error("a second example was made")
	}
	if err := demo.SeedAs(t.Context(), w, as); err != nil {
		t.Fatal(err)
	}
	e, err := w.People.ExampleShop(owner)
	if err != nil || !e.Whole || e.Shop != as["owner"].Shop {
		t.Fatalf("when it is whole: %+v, %v", e, err)
	}
	if queue, err := w.Stock.Queue(owner, ""); err != nil || len(queue.Pieces) != 0 {
		t.Errorf("%d pieces of the example hang on the real rail, %v", len(queue.Pieces), err)
	}
	if queue, err := w.Stock.Queue(audit.As(owner, as["owner"]), ""); err != nil || len(queue.Pieces) < 10 {
		t.Errorf("%d pieces hang on the example's rail, %v", len(queue.Pieces), err)
	}
	if flaws, err := st.CrossShopRefs(t.Context()); err != nil || len(flaws) > 0 {
		t.Errorf("%v, %v", flaws, err)
	}
	signed, err := w.People.BySession(t.Context(), token)
	if err != nil {
		t.Fatal(err)
	}
	if err := w.People.SwitchShop(audit.As(t.Context(), signed), e.Shop); err != nil {
		t.Fatal(err)
	}
	there, err := w.At(func() time.Time { return now }).People.BySession(t.Context(), token)
	if err != nil || there.Shop != e.Shop {
		t.Fatalf("signed in at %s: %v", there.Shop, err)
	}

	if err := w.People.RemoveExample(audit.As(t.Context(), there)); err != nil {
		t.Fatal(err)
	}
	home, err := w.People.BySession(t.Context(), token)
	if err != nil || home.Shop != who.Shop || home.MemberID != who.MemberID {
		t.Errorf("after it is gone one is at %q: %v", home.Shop, err)
	}
	after := counts(t, st)
	before["audit"] += 2 // that it came, and that it went
	for _, name := range slices.Sorted(maps.Keys(after)) {
		if after[name] != before[name] {
			t.Errorf("%s has %d rows, had %d", name, after[name], before[name])
		}
	}
	if flaws, err := st.Orphans(t.Context()); err != nil || len(flaws) > 0 {
		t.Errorf("%v, %v", flaws, err)
	}
	if flaws, _, _, err := st.AuditFlaws(t.Context(), who.ShopID); err != nil || len(flaws) > 0 {
		t.Errorf("%v, %v", flaws, err)
	}
	if err := st.RemoveExample(t.Context(), who.ShopID); err == nil {
		t.Error("a real shop was taken away")
	}
	if after2 := counts(t, st); !maps.Equal(after, after2) {
		t.Errorf("a refused removal left %v, there was %v", after2, after)
	}
	if err := st.DB().Exec("UPDATE shops SET example = 1").Error; err == nil || !strings.Contains(err.Error(), "example") {
		t.Errorf("a real shop became an example: %v", err)
	}
}
