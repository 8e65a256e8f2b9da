package backup_test

import (
	"os"
	"path/filepath"
	"testing"
	"time"

	"falda/internal/backup"
	"falda/internal/core/recipe"
	"falda/internal/store"
	"falda/internal/testdb"
	"falda/internal/work/goods"
	"falda/internal/work/made"
)

// What lies in stock comes back with a backup, and what is left of it, which the database works out, with it.
func TestGoodsComeBack(t *testing.T) {
	c := newSource(t)
	must := func(err error) {
		t.Helper()
		if err != nil {
			t.Fatal(err)
		}
	}
	must(c.work.Goods.Begin(c.ctx, time.Now().UTC().Format(time.DateOnly)))
	rec, err := c.work.Made.SaveRecipe(c.ctx, "", made.NewRecipe{Name: "Mince", Body: recipe.Recipe{Kind: "mince"}})
	must(err)
	m, err := c.work.Made.Begin(c.ctx, made.NewMaking{ID: store.NewID(), Recipe: rec.PublicID})
	must(err)
	g := store.Goods{PublicID: store.NewID(), ShopID: m.ShopID, ProductKey: goods.MadeKey(rec.PublicID), MakingID: &m.ID,
		MadeOn: m.MadeOn, UseBy: m.MadeOn, MadeMg: 3_000_000}
	must(c.store.PutMade(t.Context(), g))
	tub := goods.TubID{Key: g.ProductKey, MadeOn: m.MadeOn, Place: "cold"}
	must(c.work.Goods.Book(c.ctx, goods.Booking{ID: store.NewID(), Tub: tub.String(), Kind: "sold", Weight: "1.25",
		Unit: "kg"}))

	path := filepath.Join(t.TempDir(), "goods.falda")
	file, err := os.Create(path)
	must(err)
	_, err = backup.Write(t.Context(), c.dsn, file, time.Now())
	must(err)
	must(file.Close())
	dsn := testdb.Named(t, "falda_goods")
	_, err = backup.Restore(t.Context(), dsn, path, false, time.Now())
	must(err)
	st, err := store.Open(dsn)
	must(err)
	defer st.Close()
	there, err := st.GoodsThere(t.Context(), m.ShopID)
	if err != nil || len(there) != 1 || there[0].LeftMg != 1_750_000 || there[0].MadeMg != 3_000_000 {
		t.Errorf("%+v, %v", there, err)
	}
	if flaws, err := st.CrossShopRefs(t.Context()); err != nil || len(flaws) > 0 {
		t.Errorf("%v, %v", flaws, err)
	}
}
