package work_test

import (
	"bytes"
	"database/sql"
	"testing"
	"time"

	"falda/internal/work/stock"

	mysqldriver "github.com/go-sql-driver/mysql"

	"falda/internal/backup"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/store"
	"falda/internal/testdb"
	"falda/internal/work"
)

// Rule: the account that serves reads, inserts, updates and deletes rows, and needs no other right
// (docs/operations.md): with it the whole way goes from receiving to the answer, the upkeep, the check of everything
// and a backup; and it can take off neither a table nor a trigger.
func TestServingNeedsFewRights(t *testing.T) {
	r := newArena(t)
	owner, err := sql.Open("mysql", testdb.Server.OwnerDSN())
	if err != nil {
		t.Fatal(err)
	}
	defer owner.Close()
	for _, q := range []string{"DROP USER IF EXISTS serving@127.0.0.1",
		"CREATE USER serving@127.0.0.1 IDENTIFIED BY 'only here'",
		"GRANT SELECT, INSERT, UPDATE, DELETE ON falda.* TO serving@127.0.0.1"} {
		if _, err := owner.Exec(q); err != nil {
			t.Fatal(err)
		}
	}
	c, err := mysqldriver.ParseDSN(testdb.Server.DSN)
	if err != nil {
		t.Fatal(err)
	}
	c.User, c.Passwd = "serving", "only here"
	st, err := store.Open(c.FormatDSN())
	if err != nil {
		t.Fatal(err)
	}
	defer st.Close()
	if err := st.CheckSchema(t.Context()); err != nil {
		t.Fatal(err)
	}
	w := work.New(st, r.two.Atlas(), func() time.Time { return noon })
	in := r.arrival()
	in.LotNumber = "S-1"
	lot, err := w.Stock.Receive(r.ctx, in)
	if err != nil {
		t.Fatal(err)
	}
	id := lot.Pieces[0].PublicID
	if err := w.Stock.ChoosePlan(r.ctx, id, stock.PlanPick{PlanID: "traditional"}, lot.Pieces[0].Version); err != nil {
		t.Fatal(err)
	}
	b, err := w.Bench.StartBreakdown(r.ctx, id, r.bench)
	if err != nil {
		t.Fatal(err)
	}
	for _, e := range []seam.Event{{Kind: seam.Opened, Net: 6600 * measure.Gram},
		{Kind: seam.Portioned, Product: "rump_steak", Net: 6550 * measure.Gram}, {Kind: seam.Closed}} {
		if _, err := w.Bench.Book(r.ctx, b.Breakdown.PublicID, r.event(e)); err != nil {
			t.Fatal(err)
		}
	}
	if _, err := w.Compare.Compare(r.ctx, b.Breakdown.PublicID, "", false, "nrv"); err != nil {
		t.Error(err)
	}
	if err := w.Bench.Upkeep(r.ctx); err != nil {
		t.Error(err)
	}
	if v, err := w.Bench.Verify(r.ctx, false); err != nil || len(v.Flaws) > 0 {
		t.Errorf("%v %v", v.Flaws, err)
	}
	var file bytes.Buffer
	if _, err := backup.Write(t.Context(), c.FormatDSN(), &file, noon); err != nil || file.Len() == 0 {
		t.Errorf("a backup: %v", err)
	}
	db, err := sql.Open("mysql", c.FormatDSN())
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	for _, q := range []string{"TRUNCATE audit", "DROP TABLE audit", "DROP TRIGGER audit_never_changes",
		"ALTER TABLE audit DROP COLUMN chain", "UPDATE audit SET name = 'x'", "DELETE FROM events"} {
		if _, err := db.Exec(q); err == nil {
			t.Errorf("the account that serves may do %s", q)
		}
	}
}
