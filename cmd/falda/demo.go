package main

import (
	"cmp"
	"context"
	"fmt"
	"log/slog"
	"net"
	"path/filepath"
	"time"

	"github.com/spf13/cobra"

	"falda"
	"falda/internal/api"
	"falda/internal/demo"
	"falda/internal/device"
	"falda/internal/localdb"
	"falda/internal/store"
	"falda/internal/work"
)

func demoCommand() *cobra.Command {
	s := serving{}
	var data, on string
	c := &cobra.Command{
		Use:   "demo",
		Short: "Start a private database and the app with demo data, on loopback only",
		Args:  cobra.NoArgs,
		RunE:  func(c *cobra.Command, _ []string) error { return runDemo(c.Context(), s, data, on) },
	}
	c.Flags().StringVar(&s.addr, "addr", "127.0.0.1:8087", "address to serve on; port 0 takes any free port")
	c.Flags().StringVar(&data, "data", "demo-data", "folder of the private database")
	c.Flags().StringVar(&on, "on", "",
		"moment that it takes for now, such as 2026-11-20T10:00:00Z; its clock goes on from there")
	atlasFlag(c, &s.atlas)
	wordsFlag(c, &s.words)
	c.Flags().StringVar(&s.metricsAddr, "metrics-addr", "", "address for Prometheus' /metrics, such as 127.0.0.1:9187")
	return c
}

func runDemo(ctx context.Context, s serving, data, on string) error {
	if err := loopbackOnly(s.addr); err != nil {
		return err
	}
	clock, err := clockFrom(on)
	if err != nil {
		return err
	}
	lock, err := localdb.Take(data)
	if err != nil {
		return err
	}
	defer lock.Release()
	listener, err := net.Listen("tcp", s.addr)
	if err != nil {
		return fmt.Errorf("cannot serve on %s: %w", s.addr, err)
	}
	defer listener.Close()
	db, err := localdb.Start(ctx, filepath.Join(data, "database"))
	if err != nil {
		return err
	}
	defer db.Stop()
	st, w, err := openDemo(ctx, db.DSN, s.atlas, clock)
	if err != nil {
		return err
	}
	defer st.Close()
	words, err := s.dictionaries()
	if err != nil {
		return err
	}
	o := api.Options{Work: w, Build: falda.Build(), Demo: true, Limits: api.UsualLimits(), Words: words}
	if err := standIns(ctx, st, &o); err != nil {
		return err
	}
	where := "http://" + listener.Addr().String()
	if err := lock.Say(where); err != nil {
		return err
	}
	return s.untilDone(ctx, listener, st, o, func() { fmt.Println("ready " + where) })
}

// standIns connects the benches to stand-ins of their devices, and the prices to a stand-in of a market.
func standIns(ctx context.Context, st *store.Store, o *api.Options) error {
	scales, err := connectDevices(ctx, st, "scale", nil, device.Connect)
	if err != nil {
		return err
	}
	if err := scales.simulated(ctx, demo.Shop.Benches, func() simulator { return &device.SimScale{} },
		device.Connect); err != nil {
		return err
	}
	probes, err := connectDevices(ctx, st, "probe", nil, device.ConnectProbe)
	if err != nil {
		return err
	}
	if err := probes.simulated(ctx, demo.Shop.Benches, func() simulator { return &device.SimProbe{C: 4} },
		device.ConnectProbe); err != nil {
		return err
	}
	printers, err := connectDevices(ctx, st, "printer", nil, device.ConnectPrinter)
	if err != nil {
		return err
	}
	if err := printers.simulated(ctx, demo.Shop.Benches[:1], func() simulator { return &device.SimPrinter{} },
		device.ConnectPrinter); err != nil {
		return err
	}
	o.Scales, o.Probes, o.Printers = scales.find, probes.find, printers.find
	if o.Feed, err = simulatedFeed(ctx, &device.SimFeed{Rows: demo.FeedRows}, device.NewFeed); err != nil {
		return err
	}
	o.Till, err = simulatedFeed(ctx, &device.SimFeed{Path: "/sales.csv", Rows: demo.TillRows}, device.NewTill)
	return err
}

// simulatedFeed starts the stand-in for a market's file server, or for a till, and gives what reads it.
func simulatedFeed(ctx context.Context, sim *device.SimFeed,
	reads func(address string) (*device.Feed, error)) (*device.Feed, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return nil, err
	}
	go func() {
		if err := sim.Serve(ctx, l); err != nil {
			slog.Error("a stand-in stopped", "error", err)
		}
	}()
	return reads("http://" + l.Addr().String() + cmp.Or(sim.Path, "/prices.csv"))
}

// clockFrom gives a clock that goes on from a moment, or the machine's where none is given.
func clockFrom(on string) (func() time.Time, error) {
	if on == "" {
		return time.Now, nil
	}
	began, err := time.Parse(time.RFC3339, on)
	if err != nil {
		return nil, fmt.Errorf("--on: %q is no moment such as 2026-11-20T10:00:00Z", on)
	}
	start := time.Now()
	return func() time.Time { return began.Add(time.Since(start)) }, nil
}

// openDemo opens the database, migrates it, and enters the scenario once. A scenario that was cut short is begun anew.
func openDemo(ctx context.Context, dsn, ownAtlas string, clock func() time.Time) (*store.Store, *work.Rooms, error) {
	st, w, err := openWork(dsn, ownAtlas)
	if err != nil {
		return nil, nil, err
	}
	w = w.At(clock)
	for range 2 {
		if _, err := st.Migrate(ctx); err != nil {
			return nil, nil, err
		}
		if _, err := w.Stock.MovePlans(ctx); err != nil {
			return nil, nil, err
		}
		isNew, err := w.People.SetUp(ctx, demo.Shop, demo.Accounts...)
		if err != nil {
			return nil, nil, err
		}
		if seeded, err := w.Shop.Seeded(ctx); err != nil || seeded {
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
