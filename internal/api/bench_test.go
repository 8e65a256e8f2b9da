package api

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"slices"
	"testing"
	"time"

	"falda/internal/core/measure"
	"falda/internal/store"
	"falda/internal/work/audit"
)

// asked is how many statements programs have sent to the database since it began, this one too.
func (r *rig) asked() (n int) {
	r.t.Helper()
	if err := r.store.DB().Raw("SELECT CAST(VARIABLE_VALUE AS INT) FROM information_schema.GLOBAL_STATUS WHERE " +
		"VARIABLE_NAME = 'QUESTIONS'").Scan(&n).Error; err != nil {
		r.t.Fatal(err)
	}
	return n
}

// BenchmarkBookWeighing books weighings through HTTP, durable: locked, checked, logged, folded, read tables written. It
// does so as benches do, on many boards by many people, so that what is remembered of somebody is as old as after the
// twenty seconds between two weighings. ratio-to-insert is to the bare insert of the same row, durable, in a
// transaction of its own, in the same run; the aim is 1.5 or less where a commit costs 2 ms, 3 where it costs 0.3 ms.
// statements is of one weighing; the aim is 1.
func BenchmarkBookWeighing(b *testing.B) {
	r := newRig(b)
	const boards, people = 100, 800
	var tokens, paths []string
	who, err := r.work.People.First(b.Context(), "owner")
	if err != nil {
		b.Fatal(err)
	}
	for range people {
		token, err := r.work.People.SignInDemo(b.Context(), who.Member, audit.Where{})
		if err != nil {
			b.Fatal(err)
		}
		tokens = append(tokens, token)
	}
	var last string
	for i := range boards {
		last = r.onBench(fmt.Sprint("B-", i), "seamed").Id
		r.book(last, r.event("opened", 0, map[string]any{"net_g": 6600}))
		paths = append(paths, "/api/v1/breakdowns/"+last+"/events")
	}
	shop, err := r.store.FirstShop(b.Context())
	if err != nil {
		b.Fatal(err)
	}
	row, err := r.store.Breakdown(b.Context(), shop.ID, last)
	if err != nil {
		b.Fatal(err)
	}
	book := func(i int) {
		r.token = tokens[i%people]
		raw, err := json.Marshal(r.event("trimmed", 1,
			map[string]any{"part": "trim", "net_g": 10, "source": "scale", "division_g": 5}))
		if err != nil {
			b.Fatal(err)
		}
		req, err := http.NewRequest("POST", r.url+paths[i%(boards-1)], bytes.NewReader(raw))
		if err != nil {
			b.Fatal(err)
		}
		req.Header.Set("Content-Type", "application/json")
		req.AddCookie(&http.Cookie{Name: sessionCookie, Value: r.token})
		resp, err := http.DefaultClient.Do(req)
		if err != nil {
			b.Fatal(err)
		}
		if _, err := io.Copy(io.Discard, resp.Body); err != nil || resp.StatusCode != 200 {
			b.Fatal(resp.StatusCode, err)
		}
		resp.Body.Close()
	}
	insert := func(i int) {
		e := store.Event{PublicID: store.NewID(), ShopID: shop.ID, BreakdownID: row.ID, Seq: i + 2, BenchID: row.BenchID,
			Kind: "trimmed", At: today, ReceivedAt: today, Role: "cutter", Part: "trim", NetMg: int64(10 * measure.Gram),
			Source: "scale", DivisionMg: int64(5 * measure.Gram)}
		if err := r.store.DB().WithContext(b.Context()).Create(&e).Error; err != nil {
			b.Fatal(err)
		}
	}
	for i := range people { // everybody has weighed before
		book(i)
	}
	var booked, plain time.Duration
	statements, n := 0, 0
	for b.Loop() {
		before := r.asked()
		start := time.Now()
		book(n)
		booked += time.Since(start)
		statements += r.asked() - before - 1
		start = time.Now()
		insert(n)
		plain += time.Since(start)
		n++
	}
	b.ReportMetric(float64(statements)/float64(n), "statements")
	b.ReportMetric(float64(booked.Microseconds())/float64(n)/1000, "booking-ms")
	b.ReportMetric(float64(plain.Microseconds())/float64(n)/1000, "insert-ms")
	b.ReportMetric(float64(booked)/float64(plain), "ratio-to-insert")
}

// BenchmarkBoardAmongTastings opens a board in a shop with 200 closed tastings of 19,200 sheets; ratio-to-none is to
// the same board before there were any. The aim is 1.2 or less.
func BenchmarkBoardAmongTastings(b *testing.B) {
	r := newRig(b)
	path := base + "/breakdowns/" + r.onBench("B-1", "seamed").Id
	without := r.timed(path)
	r.fillTastings()
	if err := r.work.Prepare(b.Context()); err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
	}
	b.ReportMetric(float64(r.timed(path))/float64(without), "ratio-to-none")
}

// BenchmarkFirstPages opens the audit and the log of breakdowns in a shop with 20,000 cut pieces; the ratios are to a
// shop with 200. The aim is 1.5 or less.
func BenchmarkFirstPages(b *testing.B) {
	paths := map[string]string{"audit": base + "/audit", "log": base + "/breakdowns"}
	few := map[string]time.Duration{}
	r := newRig(b)
	r.fillPieces(200, 20)
	for name, path := range paths {
		few[name] = r.timed(path)
	}
	r = newRig(b)
	r.fillPieces(manyPieces, manyWaiting)
	for b.Loop() {
	}
	for name, path := range paths {
		b.ReportMetric(float64(r.timed(path))/float64(few[name]), name+"-ratio-to-few")
	}
}

// timed is how long a page takes: the middle of a hundred times.
func (r *rig) timed(path string) time.Duration {
	r.t.Helper()
	var all []time.Duration
	for range 101 {
		start := time.Now()
		r.ok("GET", path, nil, nil)
		all = append(all, time.Since(start))
	}
	slices.Sort(all)
	return all[50]
}
