package api

import (
	"bytes"
	"encoding/json"
	"io"
	"net/http"
	"testing"

	"falda/internal/core/measure"
	"falda/internal/store"
)

// BenchmarkBookWeighing books one weighing through HTTP, durable: locked, checked, logged, folded, read tables written.
// Compare it with BenchmarkBareInsert of the same run: the aim is a ratio of 2 or less. The board is the size of a real
// breakdown: a new one is begun every twelve weighings.
func BenchmarkBookWeighing(b *testing.B) {
	r := newRig(b)
	const boards = 12
	var path string
	n := 0
	for b.Loop() {
		if n%boards == 0 {
			b.StopTimer()
			board := r.onBench("B-"+store.NewID()[24:], "seamed")
			r.book(board.Id, r.event("opened", 0, map[string]any{"net_g": 6600}))
			path = "/api/v1/breakdowns/" + board.Id + "/events"
			b.StartTimer()
		}
		n++
		raw, err := json.Marshal(r.event("trimmed", 1,
			map[string]any{"part": "trim", "net_g": 10, "source": "scale", "division_g": 5}))
		if err != nil {
			b.Fatal(err)
		}
		req, err := http.NewRequest("POST", r.url+path, bytes.NewReader(raw))
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
}

// BenchmarkBareInsert writes the same row through GORM alone, durable, in a transaction of its own.
func BenchmarkBareInsert(b *testing.B) {
	r := newRig(b)
	board := r.onBench("B-1", "seamed")
	shop, err := r.store.FirstShop(b.Context())
	if err != nil {
		b.Fatal(err)
	}
	row, err := r.store.Breakdown(b.Context(), shop.ID, board.Id)
	if err != nil {
		b.Fatal(err)
	}
	seq := 0
	for b.Loop() {
		seq++
		e := store.Event{PublicID: store.NewID(), ShopID: shop.ID, BreakdownID: row.ID, Seq: seq, BenchID: row.BenchID,
			Kind: "trimmed", At: today, ReceivedAt: today, Role: "cutter", Part: "trim", NetMg: int64(10 * measure.Gram),
			Source: "scale", DivisionMg: int64(5 * measure.Gram)}
		if err := r.store.DB().WithContext(b.Context()).Create(&e).Error; err != nil {
			b.Fatal(err)
		}
	}
}
