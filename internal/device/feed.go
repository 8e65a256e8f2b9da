package device

import (
	"cmp"
	"context"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/url"
	"time"
)

// Feed is a list at an address: a market's prices, or what a till sold, as a CSV file. It is fetched when it is asked
// for, and only from this machine.
type Feed struct {
	url    string
	what   string
	client *http.Client
}

// mostFeed bounds what is read, in bytes, and feedWait how long it may take.
const (
	mostFeed = 2 << 20
	feedWait = 10 * time.Second
)

// NewFeed makes a feed of a market's prices, of an http address on loopback.
func NewFeed(address string) (*Feed, error) {
	return newFeed(address, "market feed", "http://127.0.0.1:7003/prices.csv")
}

// NewTill makes a feed of what a till sold likewise.
func NewTill(address string) (*Feed, error) {
	return newFeed(address, "till", "http://127.0.0.1:7005/sales.csv")
}

func newFeed(address, what, such string) (*Feed, error) {
	u, err := url.Parse(address)
	if err != nil || u.Scheme != "http" || u.Host == "" {
		return nil, fmt.Errorf("a %s is an http address such as %s", what, such)
	}
	if ip := net.ParseIP(u.Hostname()); ip == nil || !ip.IsLoopback() {
		return nil, fmt.Errorf("a %s must be on 127.0.0.1 or ::1", what)
	}
	client := &http.Client{Timeout: feedWait,
		CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	return &Feed{u.String(), what, client}, nil
}

// Read fetches the list.
func (f *Feed) Read(ctx context.Context) (io.ReadCloser, error) {
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, f.url, nil)
	if err != nil {
		return nil, err
	}
	answer, err := f.client.Do(req)
	if err != nil {
		return nil, err
	}
	if answer.StatusCode != http.StatusOK {
		answer.Body.Close()
		return nil, fmt.Errorf("the %s answers %s", f.what, answer.Status)
	}
	return struct {
		io.Reader
		io.Closer
	}{&bounded{answer.Body, mostFeed}, answer.Body}, nil
}

// ErrLongFeed is a feed that holds more than is read: nothing of it is taken, for it would end in the middle of a line.
var ErrLongFeed = errors.New("it holds more than 2 MiB")

// bounded reads up to a number of bytes; a reader that goes on after them is an error.
type bounded struct {
	r    io.Reader
	left int64
}

// Read fills p, and fails as soon as one byte more than the bound has come.
func (b *bounded) Read(p []byte) (int, error) {
	n, err := b.r.Read(p)
	if b.left -= int64(n); b.left < 0 {
		return 0, ErrLongFeed
	}
	return n, err
}

// SimFeed is a stand-in for a market's file server, or for a till: it serves the rows it is given for the day.
type SimFeed struct {
	Path string // /prices.csv where it is empty
	Rows func(day time.Time) [][]string
}

// Serve answers on a listener until the context ends.
func (s *SimFeed) Serve(ctx context.Context, l net.Listener) error {
	mux := http.NewServeMux()
	mux.HandleFunc("GET "+cmp.Or(s.Path, "/prices.csv"), func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set("Content-Type", "text/csv; charset=utf-8")
		_ = csv.NewWriter(w).WriteAll(s.Rows(time.Now().UTC()))
	})
	server := &http.Server{Handler: mux, ReadHeaderTimeout: 5 * time.Second}
	go func() {
		<-ctx.Done()
		server.Close()
	}()
	if err := server.Serve(l); !errors.Is(err, http.ErrServerClosed) {
		return err
	}
	return nil
}
