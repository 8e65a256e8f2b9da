package api

import (
	"testing"
	"testing/fstest"
	"time"

	"falda/internal/api/contract"
	"falda/internal/demo"
	"falda/internal/device"
	"falda/internal/store"
	"falda/internal/testdb"
)

// An owner looks at an example shop: it is filled on its own, gone to, and taken away from within.
func TestAnExampleOverTheWire(t *testing.T) {
	st, w := testdb.Service(t, func() time.Time { return today })
	r := serve(t, st, w, Options{Web: fstest.MapFS{"index.html": {Data: []byte("x")}},
		Scales:  func(store.Bench) *device.Scale { return nil },
		Example: Example{demo.Shop, demo.Accounts, demo.SeedAs}})
	const at = base + "/shops/example"
	var e contract.ExampleShop
	if r.ok("GET", at, nil, &e); e.State != "none" {
		t.Fatalf("at first: %+v", e)
	}
	r.ok("POST", at, nil, &e)
	if p := r.fails("POST", at, nil); p.Status != 409 {
		t.Errorf("a second one: %+v", p)
	}
	for end := time.Now().Add(10 * time.Minute); e.State == "making" &&
		time.Now().Before(end); time.Sleep(100 * time.Millisecond) {
		r.ok("GET", at, nil, &e)
	}
	if e.State != "ready" || e.ShopId == nil {
		t.Fatalf("it became %+v\n%s", e, r.log)
	}
	r.ok("PUT", base+"/session/shop", map[string]any{"shop_id": *e.ShopId}, nil)
	var me contract.Me
	r.ok("GET", base+"/me", nil, &me)
	if len(me.Shops) != 2 || !me.Shops[1].Example || me.Shops[0].Example || *me.ShopId != *e.ShopId {
		t.Errorf("one is at %+v", me)
	}
	if len(r.queue()) < 10 {
		t.Error("nothing hangs on its rail")
	}
	r.ok("DELETE", at, nil, nil)
	if r.ok("GET", at, nil, &e); e.State != "none" {
		t.Errorf("after it went: %+v", e)
	}
	if len(r.queue()) != 0 {
		t.Error("one did not come home")
	}
	if p := r.fails("DELETE", at, nil); p.Status != 404 {
		t.Errorf("it goes twice: %+v", p)
	}
	r.signIn("cutter")
	if p := r.fails("POST", at, nil); p.Status != 403 {
		t.Errorf("a cutter makes one: %+v", p)
	}
}
