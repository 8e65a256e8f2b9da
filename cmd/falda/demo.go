package main

import (
	"context"
	"fmt"
	"log/slog"
	"net"
	"path/filepath"
	"time"

	"github.com/spf13/cobra"

	"falda/internal/core/atlas"
	"falda/internal/demo"
	"falda/internal/device"
	"falda/internal/localdb"
	"falda/internal/store"
	"falda/internal/work"
)

func demoCommand() *cobra.Command {
	var addr, data string
	c := &cobra.Command{
		Use:   "demo",
		Short: "Start a private database and the app with demo data, on loopback only",
		Args:  cobra.NoArgs,
		RunE:  func(c *cobra.Command, _ []string) error { return runDemo(c.Context(), addr, data) },
	}
	c.Flags().StringVar(&addr, "addr", "127.0.0.1:8087", "address to serve on; port 0 takes any free port")
	c.Flags().StringVar(&data, "data", "demo-data", "folder of the private database")
	return c
}

func runDemo(ctx context.Context, addr, data string) error {
	if err := loopbackOnly(addr); err != nil {
		return err
	}
	lock, err := localdb.Take(data)
	if err != nil {
		return err
	}
	defer lock.Release()
	listener, err := net.Listen("tcp", addr)
	if err != nil {
		return fmt.Errorf("cannot serve on %s: %w", addr, err)
	}
	defer listener.Close()
	db, err := localdb.Start(ctx, filepath.Join(data, "database"))
	if err != nil {
		return err
	}
	defer db.Stop()
	st, w, err := openDemo(ctx, db.DSN)
	if err != nil {
		return err
	}
	defer st.Close()
	scales, err := simulatedScales(ctx, demo.Shop.Benches)
	if err != nil {
		return err
	}
	where := "http://" + listener.Addr().String()
	if err := lock.Say(where); err != nil {
		return err
	}
	return serveUntilDone(ctx, listener, w, scales, func() { fmt.Println("ready " + where) })
}

// openDemo opens the database, migrates it, and enters the scenario once. A scenario that was cut short is begun anew.
func openDemo(ctx context.Context, dsn string) (*store.Store, *work.Service, error) {
	st, err := store.Open(dsn)
	if err != nil {
		return nil, nil, err
	}
	a, err := atlas.Load()
	if err != nil {
		return nil, nil, err
	}
	w := work.New(st, a, time.Now)
	for range 2 {
		if _, err := st.Migrate(ctx); err != nil {
			return nil, nil, err
		}
		isNew, err := w.SetUp(ctx, demo.Shop)
		if err != nil {
			return nil, nil, err
		}
		if seeded, err := w.Seeded(ctx); err != nil || seeded {
			return st, w, err
		}
		if isNew {
			slog.Info("entering the demo scenario")
			return st, w, demo.Seed(ctx, w)
		}
		if err := st.Empty(ctx); err != nil {
			return nil, nil, err
		}
	}
	return nil, nil, fmt.Errorf("the demo database is in use by something else")
}

func loopbackOnly(addr string) error {
	host, _, err := net.SplitHostPort(addr)
	if err != nil {
		return fmt.Errorf("--addr: %w", err)
	}
	if ip := net.ParseIP(host); host != "localhost" && (ip == nil || !ip.IsLoopback()) {
		return fmt.Errorf("--addr: the demo has no passwords and serves on loopback only, such as 127.0.0.1:8087")
	}
	return nil
}

// simulatedScales starts a stand-in for each bench and connects to it.
func simulatedScales(ctx context.Context, benches []string) (map[string]*device.Scale, error) {
	out := map[string]*device.Scale{}
	for _, b := range benches {
		l, err := net.Listen("tcp", "127.0.0.1:0")
		if err != nil {
			return nil, err
		}
		sim := &device.SimScale{}
		go func() {
			if err := sim.Serve(ctx, l); err != nil {
				slog.Error("simulated scale", "error", err)
			}
		}()
		out[b] = device.Connect(ctx, l.Addr().String())
	}
	return out, nil
}
