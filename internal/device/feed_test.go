package device

import (
	"context"
	"errors"
	"io"
	"net"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"
)

// Rule: the feed is read from this machine alone, and what it answers is bounded.
func TestFeed(t *testing.T) {
	for _, bad := range []string{"", "ftp://127.0.0.1/x", "http://192.0.2.7/prices.csv", "http://feed.example/prices.csv",
		"https://127.0.0.1/x"} {
		if _, err := NewFeed(bad); err == nil {
			t.Errorf("%q is taken for a feed", bad)
		}
	}
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	ctx, cancel := context.WithCancel(t.Context())
	done := make(chan error, 1)
	sim := &SimFeed{Rows: func(day time.Time) [][]string {
		return [][]string{{"product", "price"}, {"A, quoted", day.Format("2006")}}
	}}
	go func() { done <- sim.Serve(ctx, l) }()
	f, err := NewFeed("http://" + l.Addr().String() + "/prices.csv")
	if err != nil {
		t.Fatal(err)
	}
	body, err := f.Read(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	raw, err := io.ReadAll(body)
	body.Close()
	if err != nil || !strings.HasPrefix(string(raw), "product,price\n\"A, quoted\",20") {
		t.Errorf("%q %v", raw, err)
	}
	cancel()
	if err := <-done; err != nil {
		t.Error(err)
	}
	if _, err := f.Read(t.Context()); err == nil {
		t.Error("a feed that is gone answers")
	}
	// one byte too many, and nothing of it is taken: it would end in the middle of a price
	for size, whole := range map[int]bool{mostFeed: true, mostFeed + 1: false} {
		long := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
			_, _ = io.WriteString(w, strings.Repeat("7", size))
		}))
		f, err := NewFeed(long.URL)
		if err != nil {
			t.Fatal(err)
		}
		body, err := f.Read(t.Context())
		if err != nil {
			t.Fatal(err)
		}
		raw, err := io.ReadAll(body)
		if (err == nil) != whole || whole && len(raw) != size || !whole && !errors.Is(err, ErrLongFeed) {
			t.Errorf("%d bytes: %d, %v", size, len(raw), err)
		}
		body.Close()
		long.Close()
	}
	wrong := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		http.Redirect(w, r, "http://192.0.2.7/", http.StatusFound)
	}))
	defer wrong.Close()
	if f, err = NewFeed(wrong.URL); err != nil {
		t.Fatal(err)
	}
	if _, err := f.Read(t.Context()); err == nil {
		t.Error("it follows where it is sent")
	}
}
