package store_test

import (
	"database/sql"
	"fmt"
	"testing"

	"falda/internal/store"
	"falda/internal/testdb"
)

// Rule: the rows of the audit are chained, so that whoever changes, takes out, puts in, swaps or cuts off some is
// found, even one who may take the database's own locks off it.
func TestTheAuditTellsWhoTamperedWithIt(t *testing.T) {
	st, _ := breakdown(t)
	ctx := t.Context()
	shop, err := st.FirstShop(ctx)
	if err != nil {
		t.Fatal(err)
	}
	for i := range 6 {
		if err := st.Record(ctx,
			&store.Audit{ShopID: shop.ID, At: at, Name: "Owner", Role: "owner", Via: "session", Action: "price.set",
				Subject: fmt.Sprint(i), SubjectName: "Cap"}); err != nil {
			t.Fatal(err)
		}
	}
	db, err := sql.Open("mysql", testdb.Server.DSN)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	do := func(q string) {
		t.Helper()
		if _, err := db.Exec(q); err != nil {
			t.Fatalf("%s: %v", q, err)
		}
	}
	for _, q := range []string{"UPDATE audit SET name = 'x'", "DELETE FROM audit"} {
		if _, err := db.Exec(q); err == nil {
			t.Errorf("the database lets through: %s", q)
		}
	}
	for _, q := range []string{"DROP TRIGGER audit_never_changes", "DROP TRIGGER audit_never_goes",
		"CREATE TABLE kept AS SELECT * FROM audit", "CREATE TABLE kept_heads AS SELECT * FROM audit_heads"} {
		do(q)
	}
	flaws := func() []string {
		t.Helper()
		f, _, _, err := st.AuditFlaws(ctx, shop.ID)
		if err != nil {
			t.Fatal(err)
		}
		return f
	}
	if f := flaws(); len(f) > 0 {
		t.Fatalf("untouched: %v", f)
	}
	some := "(SELECT * FROM (SELECT id FROM audit WHERE subject = '3') x)"
	for name, q := range map[string]string{
		"a name changed":        "UPDATE audit SET name = 'Somebody else' WHERE id = " + some,
		"an hour changed":       "UPDATE audit SET at = at + INTERVAL 1 HOUR WHERE id = " + some,
		"a row taken out":       "DELETE FROM audit WHERE id = " + some,
		"the last one cut off":  "DELETE FROM audit ORDER BY id DESC LIMIT 1",
		"the first one cut off": "DELETE FROM audit ORDER BY id LIMIT 1",
		"all gone":              "TRUNCATE audit",
		"a row put in": "INSERT INTO audit (shop_id, at, name, role, via, bench, action, subject, subject_name, " +
			"request, address, chain) SELECT shop_id, at, 'Forged', role, via, bench, action, subject, subject_name, request, " +
			"address, chain FROM kept WHERE subject = '3'",
		"chains taken off": "UPDATE audit SET chain = ''",
	} {
		do(q)
		if f := flaws(); len(f) == 0 {
			t.Errorf("%s: nobody notices", name)
		}
		for _, q := range []string{"DELETE FROM audit", "INSERT INTO audit SELECT * FROM kept", "DELETE FROM audit_heads",
			"INSERT INTO audit_heads SELECT * FROM kept_heads"} {
			do(q)
		}
		if f := flaws(); len(f) > 0 {
			t.Fatalf("put back after %s: %v", name, f)
		}
	}
	if err := st.Record(ctx, &store.Audit{ShopID: shop.ID, At: at, Action: "price.set"}); err != nil || len(flaws()) > 0 {
		t.Errorf("it does not go on: %v %v", err, flaws())
	}
}
