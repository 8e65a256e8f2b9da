package main

import (
	"context"
	"fmt"
	"log/slog"
	"net"
	"strings"
	"sync"
	"time"

	"falda/internal/store"
)

// deviceBook finds the device of a bench by what was given on the command line: the bench's id, "Shop/Bench", or the
// bench's name alone where the installation has one shop.
type deviceBook[D any] struct {
	byName map[string]*D
	shops  func(ctx context.Context) ([]store.Shop, error)

	mu    sync.Mutex
	names map[int64]string // of shops
	read  time.Time
}

// connectDevices connects to what a flag names.
func connectDevices[D any](ctx context.Context, st *store.Store, flag string, given []string,
	connect func(context.Context, string) *D) (*deviceBook[D], error) {
	b := &deviceBook[D]{byName: map[string]*D{}, shops: st.Shops}
	for _, one := range given {
		bench, at, ok := strings.Cut(one, "=")
		if !ok {
			return nil, fmt.Errorf("--%s: %q is not BENCH=HOST:PORT", flag, one)
		}
		b.byName[bench] = connect(ctx, at)
	}
	return b, nil
}

func (b *deviceBook[D]) find(bench store.Bench) *D {
	if len(b.byName) == 0 {
		return nil
	}
	if d := b.byName[bench.PublicID]; d != nil {
		return d
	}
	names := b.shopNames()
	if d := b.byName[names[bench.ShopID]+"/"+bench.Name]; d != nil {
		return d
	}
	if len(names) == 1 { // with several, one shop's device must not show in another's
		return b.byName[bench.Name]
	}
	return nil
}

func (b *deviceBook[D]) shopNames() map[int64]string {
	b.mu.Lock()
	defer b.mu.Unlock()
	if time.Since(b.read) < 5*time.Second {
		return b.names
	}
	ctx, cancel := context.WithTimeout(context.Background(), 5*time.Second)
	defer cancel()
	shops, err := b.shops(ctx)
	if err != nil {
		slog.Warn("the names of the shops could not be read", "error", err)
		return b.names
	}
	b.names, b.read = map[int64]string{}, time.Now()
	for _, s := range shops {
		b.names[s.ID] = s.Name
	}
	return b.names
}

// simulator is a stand-in that serves until the context ends.
type simulator interface {
	Serve(context.Context, net.Listener) error
}

// simulated adds a stand-in for each of the named benches.
func (b *deviceBook[D]) simulated(ctx context.Context, benches []string, standIn func() simulator,
	connect func(context.Context, string) *D) error {
	for _, name := range benches {
		l, err := net.Listen("tcp", "127.0.0.1:0")
		if err != nil {
			return err
		}
		sim := standIn()
		go func() {
			if err := sim.Serve(ctx, l); err != nil {
				slog.Error("simulated device", "error", err)
			}
		}()
		b.byName[name] = connect(ctx, l.Addr().String())
	}
	return nil
}
