package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"os"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"falda/internal/api"
	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/device"
	"falda/internal/store"
	"falda/internal/work"
	"falda/web"
)

func serveCommand() *cobra.Command {
	var addr, dsn string
	var scales []string
	shop := work.NewShop{LotPrefix: "L-", PackagingPerKg: "0"}
	c := &cobra.Command{
		Use:   "serve",
		Short: "Serve on a database of one's own",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			return runServe(c.Context(), addr, dsn, scales, shop)
		},
	}
	c.Flags().StringVar(&addr, "addr", "127.0.0.1:8087", "address to serve on")
	c.Flags().StringVar(&dsn, "dsn", os.Getenv("FALDA_DSN"), "database, such as falda:secret@tcp(127.0.0.1:3306)/falda; or FALDA_DSN")
	c.Flags().StringArrayVar(&scales, "scale", nil, "scale of a bench, such as \"North=127.0.0.1:7001\"; may be given again")
	c.Flags().StringVar(&shop.Name, "shop", "My shop", "name of the shop, taken when the database is new")
	c.Flags().StringVar(&shop.Currency, "currency", "EUR", "its currency (ISO 4217), taken when the database is new")
	c.Flags().StringVar(&shop.Unit, "unit", "kg", "its unit of weight, kg or lb, taken when the database is new")
	c.Flags().StringVar(&shop.LabourRate, "labour-rate", "0", "its labour rate per hour, taken when the database is new")
	c.Flags().StringArrayVar(&shop.Benches, "bench", []string{"Bench 1"}, "name of a bench, taken when the database is new; may be given again")
	return c
}

func runServe(ctx context.Context, addr, dsn string, scaleFlags []string, shop work.NewShop) error {
	if err := checkShop(shop); err != nil {
		return err
	}
	st, err := openStore(dsn)
	if err != nil {
		return err
	}
	defer st.Close()
	behind, err := st.Behind(ctx)
	if err != nil {
		return err
	}
	if behind {
		return errors.New("the database is new or older than this program: run 'falda migrate' on it first")
	}
	a, err := atlas.Load()
	if err != nil {
		return err
	}
	w := work.New(st, a, time.Now)
	if _, err := w.SetUp(ctx, shop); err != nil {
		return err
	}
	scales := map[string]*device.Scale{}
	for _, flag := range scaleFlags {
		bench, at, ok := strings.Cut(flag, "=")
		if !ok {
			return fmt.Errorf("--scale: %q is not BENCH=HOST:PORT", flag)
		}
		scales[bench] = device.Connect(ctx, at)
	}
	if loopbackOnly(addr) != nil {
		slog.Warn("there is no sign-in yet: everyone who can reach this address can read and change everything", "addr", addr)
	}
	listener, err := net.Listen("tcp", addr)
	if err != nil {
		return fmt.Errorf("cannot serve on %s: %w", addr, err)
	}
	return serveUntilDone(ctx, listener, w, scales, func() { fmt.Println("ready http://" + listener.Addr().String()) })
}

// checkShop checks the settings a new shop is made with.
func checkShop(s work.NewShop) error {
	var faults fault.List
	if s.Unit != "kg" && s.Unit != "lb" {
		faults.Add("--unit", errors.New("must be kg or lb"))
	}
	if len(s.Currency) != 3 || strings.ToUpper(s.Currency) != s.Currency {
		faults.Add("--currency", errors.New("must be three capital letters, such as EUR"))
	}
	if s.Name == "" || len(s.Name) > 120 {
		faults.Add("--shop", errors.New("must have 1 to 120 characters"))
	}
	rate, err := measure.ParseMoney(s.LabourRate)
	faults.Add("--labour-rate", err)
	if rate.Sign() < 0 {
		faults.Add("--labour-rate", errors.New("must not be below zero"))
	}
	return faults.Err()
}

func openStore(dsn string) (*store.Store, error) {
	if dsn == "" {
		return nil, errors.New("--dsn: say which database, such as falda:secret@tcp(127.0.0.1:3306)/falda")
	}
	return store.Open(dsn)
}

// serveUntilDone serves until the context ends, then lets running requests finish for ten seconds.
func serveUntilDone(ctx context.Context, l net.Listener, w *work.Service, scales map[string]*device.Scale, ready func()) error {
	find := func(bench string) *device.Scale { return scales[bench] }
	streams, endStreams := context.WithCancel(context.Background())
	defer endStreams()
	server := &http.Server{
		Handler: api.Handler(w, find, web.App(), slog.Default()), BaseContext: func(net.Listener) context.Context { return streams },
		ReadHeaderTimeout: 10 * time.Second, ReadTimeout: 60 * time.Second, IdleTimeout: 2 * time.Minute, MaxHeaderBytes: 64 << 10,
		ErrorLog: slog.NewLogLogger(slog.Default().Handler(), slog.LevelDebug),
	}
	failed := make(chan error, 1)
	go func() { failed <- server.Serve(l) }()
	ready()
	select {
	case err := <-failed:
		return err
	case <-ctx.Done():
	}
	slog.Info("stopping")
	// streams do not end by themselves; what writes has its own time to finish
	time.AfterFunc(time.Second, endStreams)
	grace, cancel := context.WithTimeout(context.Background(), 10*time.Second)
	defer cancel()
	return server.Shutdown(grace)
}

func migrateCommand() *cobra.Command {
	var dsn string
	c := &cobra.Command{
		Use:   "migrate",
		Short: "Bring a database's schema up to date",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			st, err := openStore(dsn)
			if err != nil {
				return err
			}
			defer st.Close()
			version, err := st.Migrate(c.Context())
			if err == nil {
				fmt.Println("schema version", version)
			}
			return err
		},
	}
	c.Flags().StringVar(&dsn, "dsn", os.Getenv("FALDA_DSN"), "database, such as falda:secret@tcp(127.0.0.1:3306)/falda; or FALDA_DSN")
	return c
}
