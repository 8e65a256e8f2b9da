package main

import (
	"context"
	"fmt"
	"log/slog"
	"net"
	"strings"
	"sync"
	"time"

	"falda/internal/device"
	"falda/internal/store"
)

// scaleBook finds the scale of a bench by what was given on the command line: the bench's id, "Shop/Bench", or the bench's
// name alone where the installation has one shop.
type scaleBook struct {
	byName map[string]*device.Scale
	shops  func(ctx context.Context) ([]store.Shop, error)

	mu    sync.Mutex
	names map[int64]string // of shops
	read  time.Time
}

// connectScales connects to what --scale names.
func connectScales(ctx context.Context, st *store.Store, flags []string) (*scaleBook, error) {
	b := &scaleBook{byName: map[string]*device.Scale{}, shops: st.Shops}
	for _, flag := range flags {
		bench, at, ok := strings.Cut(flag, "=")
		if !ok {
			return nil, fmt.Errorf("--scale: %q is not BENCH=HOST:PORT", flag)
		}
		b.byName[bench] = device.Connect(ctx, at)
	}
	return b, nil
}

func (b *scaleBook) find(bench store.Bench) *device.Scale {
	if len(b.byName) == 0 {
		return nil
	}
	if s := b.byName[bench.PublicID]; s != nil {
		return s
	}
	names := b.shopNames()
	if s := b.byName[names[bench.ShopID]+"/"+bench.Name]; s != nil {
		return s
	}
	if len(names) == 1 { // with several, one shop's scale must not show in another's
		return b.byName[bench.Name]
	}
	return nil
}

func (b *scaleBook) shopNames() map[int64]string {
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

// simulated adds a stand-in for each of the named benches.
func (b *scaleBook) simulated(ctx context.Context, benches []string) error {
	for _, name := range benches {
		l, err := net.Listen("tcp", "127.0.0.1:0")
		if err != nil {
			return err
		}
		sim := &device.SimScale{}
		go func() {
			if err := sim.Serve(ctx, l); err != nil {
				slog.Error("simulated scale", "error", err)
			}
		}()
		b.byName[name] = device.Connect(ctx, l.Addr().String())
	}
	return nil
}
