package main

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"os"
	"strings"
	"sync/atomic"
	"time"

	"github.com/spf13/cobra"

	"falda"
	"falda/internal/api"
	"falda/internal/backup"
	"falda/internal/core/atlas"
	"falda/internal/demo"
	"falda/internal/device"
	"falda/internal/store"
	"falda/internal/work"
	"falda/web"
)

// serving is how the app is served, whether as the demo or on a database of one's own.
type serving struct {
	addr, url, metricsAddr   string
	tlsCert, tlsKey          string
	behindProxy              bool
	drain                    time.Duration
	logFormat                string
	keeper                   backup.Keeper
	scales, probes, printers []string
	feed, till               string
	dsn                      string
	atlas                    string
	words                    string
}

func serveCommand() *cobra.Command {
	var s serving
	c := &cobra.Command{
		Use:   "serve",
		Short: "Serve on a database of one's own",
		Args:  cobra.NoArgs,
		RunE:  func(c *cobra.Command, _ []string) error { return runServe(c.Context(), s) },
	}
	f := c.Flags()
	f.StringVar(&s.addr, "addr", "127.0.0.1:8087", "address to serve on")
	f.StringVar(&s.url, "url", "",
		"address by which browsers reach it, for the links it prints; made from --addr when left out")
	dsnFlag(c, &s.dsn)
	atlasFlag(c, &s.atlas)
	wordsFlag(c, &s.words)
	f.StringVar(&s.till, "till", "",
		"what a till sold, as CSV at an address on this machine, such as http://127.0.0.1:7005/sales.csv")
	f.StringVar(&s.feed, "price-feed", "",
		"a market's price list on this machine, such as http://127.0.0.1:7003/prices.csv")
	f.StringArrayVar(&s.scales, "scale", nil,
		"scale of a bench, such as \"North=127.0.0.1:7001\"; with several shops \"Shop/North=…\"; may be given again")
	f.StringArrayVar(&s.printers, "printer", nil, "label printer of a bench, such as \"North=127.0.0.1:7004\"; likewise")
	f.StringArrayVar(&s.probes, "probe", nil, "thermometer of a bench, such as \"North=127.0.0.1:7002\"; likewise")
	f.StringVar(&s.tlsCert, "tls-cert", "", "certificate (PEM); with --tls-key it serves TLS")
	f.StringVar(&s.tlsKey, "tls-key", "", "key of the certificate (PEM)")
	f.BoolVar(&s.behindProxy, "behind-proxy", false,
		"a reverse proxy stands in front: believe its X-Forwarded-For, X-Forwarded-Proto and X-Request-Id")
	f.StringVar(&s.metricsAddr, "metrics-addr", "",
		"address for Prometheus' /metrics, such as 127.0.0.1:9187; it knows no sign-in")
	f.DurationVar(&s.drain, "drain", 2*time.Second,
		"how long /readyz says no before it stops, so that a proxy sends nobody any more")
	f.StringVar(&s.logFormat, "log", "text", "text or json")
	f.StringVar(&s.keeper.Dir, "backup-dir", "", "folder for scheduled backups; none are made when left out")
	f.DurationVar(&s.keeper.Every, "backup-every", 24*time.Hour, "how often")
	f.IntVar(&s.keeper.Keep, "backup-keep", 14, "how many of the latest are kept")
	f.IntVar(&s.keeper.Months, "backup-months", 12, "for how many months the first of the month is kept as well")
	return c
}

func wordsFlag(c *cobra.Command, words *string) {
	c.Flags().StringVar(words, "words", "", "folder of files of other languages, such as de.json (see docs/languages.md)")
}

func dsnFlag(c *cobra.Command, dsn *string) {
	c.Flags().StringVar(dsn, "dsn", os.Getenv("FALDA_DSN"),
		"database, such as falda:secret@tcp(127.0.0.1:3306)/falda; better in FALDA_DSN, where other users of the machine "+
			"do not see it")
	c.Flags().Lookup("dsn").DefValue = "" // the help must not show a password
}

// lists are what is fetched from other programs on this machine: a market's prices, and what a till sold; nil where it
// was started without.
func (s serving) lists() (feed, till *device.Feed, err error) {
	if s.feed != "" {
		if feed, err = device.NewFeed(s.feed); err != nil {
			return nil, nil, fmt.Errorf("--price-feed: %w", err)
		}
	}
	if s.till != "" {
		if till, err = device.NewTill(s.till); err != nil {
			return nil, nil, fmt.Errorf("--till: %w", err)
		}
	}
	return feed, till, nil
}

// dictionaries are the languages of the interface besides English, with those of a folder of one's own.
func (s serving) dictionaries() (*api.Dictionaries, error) {
	var own fs.FS
	if s.words != "" {
		own = os.DirFS(s.words)
		if _, err := fs.ReadDir(own, "."); err != nil {
			return nil, fmt.Errorf("--words: %w", err)
		}
	}
	d, err := api.ReadDictionaries(web.App(), own,
		func(said string) { slog.Info("words of another language", "file", said) })
	if err != nil {
		return nil, fmt.Errorf("--words: %w", err)
	}
	return d, nil
}

// check says what is wrong with the flags.
func (s *serving) check() error {
	if (s.tlsCert == "") != (s.tlsKey == "") {
		return errors.New("--tls-cert and --tls-key go together")
	}
	if s.keeper.Dir != "" && (s.keeper.Every < time.Minute || s.keeper.Keep < 1 || s.keeper.Months < 0) {
		return errors.New("--backup-every must be a minute or more, --backup-keep 1 or more, --backup-months 0 or more")
	}
	switch s.logFormat {
	case "text", "":
	case "json":
		slog.SetDefault(slog.New(slog.NewJSONHandler(os.Stderr, nil)))
	default:
		return fmt.Errorf("--log: %q is neither text nor json", s.logFormat)
	}
	return nil
}

func runServe(ctx context.Context, s serving) error {
	if err := s.check(); err != nil {
		return err
	}
	st, w, err := openWork(s.dsn, s.atlas)
	if err != nil {
		return err
	}
	defer st.Close()
	if err := st.CheckSchema(ctx); err != nil {
		return err
	}
	if _, err := w.Stock.MovePlans(ctx); err != nil {
		return err
	}
	scales, err := connectDevices(ctx, st, "scale", s.scales, device.Connect)
	if err != nil {
		return err
	}
	probes, err := connectDevices(ctx, st, "probe", s.probes, device.ConnectProbe)
	if err != nil {
		return err
	}
	printers, err := connectDevices(ctx, st, "printer", s.printers, device.ConnectPrinter)
	if err != nil {
		return err
	}
	if loopbackOnly(s.addr) != nil && s.tlsCert == "" && !s.behindProxy {
		slog.Warn("served without TLS: who can listen on the network reads passwords; give --tls-cert and --tls-key, or "+
			"put a proxy in front", "addr", s.addr)
	}
	listener, err := net.Listen("tcp", s.addr)
	if err != nil {
		return fmt.Errorf("cannot serve on %s: %w", s.addr, err)
	}
	if s.url == "" {
		s.url = map[bool]string{false: "http://", true: "https://"}[s.tlsCert != ""] + listener.Addr().String()
	}
	link, err := w.People.SetUpLink(ctx)
	if err != nil {
		return err
	}
	feed, till, err := s.lists()
	if err != nil {
		return err
	}
	words, err := s.dictionaries()
	if err != nil {
		return err
	}
	return s.untilDone(ctx, listener, st,
		api.Options{Work: w, Build: falda.Build(), Scales: scales.find, Probes: probes.find, Printers: printers.find,
			Feed: feed, Till: till, BehindProxy: s.behindProxy, Access: true, Limits: api.UsualLimits(), Example: example(),
			Words: words},
		func() {
			fmt.Println("ready " + s.url)
			if link != "" {
				// behind the #, so that it comes into no log on the way
				fmt.Println("set up once, within 24 hours: " + strings.TrimSuffix(s.url, "/") + "/set-up#" + link)
			}
		})
}

// example is what an example shop beside a real one is filled from: the demo's scenario.
func example() api.Example {
	shop := demo.Shop
	shop.Name = "Example: " + shop.Name
	return api.Example{Shop: shop, People: demo.Accounts, Seed: demo.SeedAs}
}

// openWork opens the database and the atlas, with the pieces of a folder of one's own where one is given.
func openWork(dsn, ownAtlas string) (*store.Store, *work.Rooms, error) {
	if dsn == "" {
		return nil, nil, errors.New("--dsn: say which database, such as falda:secret@tcp(127.0.0.1:3306)/falda")
	}
	a, err := loadAtlas(ownAtlas)
	if err != nil {
		return nil, nil, err
	}
	st, err := store.Open(dsn)
	if err != nil {
		return nil, nil, err
	}
	return st, work.New(st, a, time.Now), nil
}

func loadAtlas(own string) (*atlas.Atlas, error) {
	if own == "" {
		return atlas.Load()
	}
	a, err := atlas.LoadWith(os.DirFS(own))
	if err != nil {
		return nil, fmt.Errorf("--atlas %s:\n%w", own, err)
	}
	return a, nil
}

func atlasFlag(c *cobra.Command, dir *string) {
	c.Flags().StringVar(dir, "atlas", "",
		"folder with pieces of one's own (docs/atlas.md); they are added to the atlas, or replace pieces of the same id")
}

// sweepEvery is how often what has ended is removed, and how long it is kept before.
const (
	sweepEvery = time.Hour
	sweepAfter = 30 * 24 * time.Hour
)

// untilDone serves until the context ends. Then /readyz says no for a while, and what is running may finish.
func (s serving) untilDone(ctx context.Context, l net.Listener, st *store.Store, o api.Options, ready func()) error {
	pool, err := st.DB().DB()
	if err != nil {
		return err
	}
	o.Web, o.Log, o.Metrics, o.Draining = web.App(), slog.Default(), api.NewMetrics(pool), &atomic.Bool{}
	streams, endStreams := context.WithCancel(context.Background())
	defer endStreams()
	server := &http.Server{
		Handler: api.Handler(o), BaseContext: func(net.Listener) context.Context { return streams },
		ReadHeaderTimeout: 10 * time.Second, ReadTimeout: 30 * time.Second, WriteTimeout: 2 * time.Minute,
		IdleTimeout: 2 * time.Minute, MaxHeaderBytes: 32 << 10,
		ErrorLog: slog.NewLogLogger(slog.Default().Handler(), slog.LevelDebug),
	}
	if err := o.Work.Prepare(ctx); err != nil {
		return err
	}
	failed := make(chan error, 2)
	go func() {
		if s.tlsCert != "" {
			failed <- server.ServeTLS(l, s.tlsCert, s.tlsKey)
			return
		}
		failed <- server.Serve(l)
	}()
	if s.metricsAddr != "" {
		closeMetrics, err := serveMetrics(s.metricsAddr, o.Metrics, failed)
		if err != nil {
			return err
		}
		defer closeMetrics()
	}
	go o.Work.Run(ctx, slog.Default())
	go every(ctx, sweepEvery, func() {
		if _, err := st.PurgeExpired(ctx, time.Now().UTC().Add(-sweepAfter)); err != nil && ctx.Err() == nil {
			slog.Warn("what has ended could not be removed", "error", err)
		}
	})
	if err := s.keepBackups(ctx, o.Metrics); err != nil {
		return err
	}
	ready()
	select {
	case err := <-failed:
		return err
	case <-ctx.Done():
	}
	slog.Info("stopping")
	o.Draining.Store(true)
	time.Sleep(s.drain)
	// streams do not end by themselves; what writes has its own time to finish
	time.AfterFunc(time.Second, endStreams)
	grace, cancel := context.WithTimeout(context.Background(), 10*time.Second)
	defer cancel()
	return server.Shutdown(grace)
}

// keepBackups starts writing backups by the clock, where a folder for them is given.
func (s serving) keepBackups(ctx context.Context, m *api.Metrics) error {
	if s.keeper.Dir == "" {
		return nil
	}
	if err := os.MkdirAll(s.keeper.Dir, 0o700); err != nil {
		return fmt.Errorf("--backup-dir: %w", err)
	}
	s.keeper.DSN, s.keeper.Log = s.dsn, slog.Default()
	s.keeper.Done = func(at time.Time, err error) {
		if err != nil {
			m.BackupFailures.Inc()
			return
		}
		m.Backup.Set(float64(at.Unix()))
	}
	go s.keeper.Run(ctx)
	return nil
}

func every(ctx context.Context, d time.Duration, f func()) {
	for {
		select {
		case <-ctx.Done():
			return
		case <-time.After(d):
			f()
		}
	}
}

// serveMetrics serves the counters at an address of their own.
func serveMetrics(addr string, m *api.Metrics, failed chan<- error) (closeIt func(), err error) {
	l, err := net.Listen("tcp", addr)
	if err != nil {
		return nil, fmt.Errorf("--metrics-addr: %w", err)
	}
	mux := http.NewServeMux()
	mux.Handle("GET /metrics", m.Handler())
	server := &http.Server{Handler: mux, ReadTimeout: 10 * time.Second, WriteTimeout: 30 * time.Second,
		MaxHeaderBytes: 16 << 10}
	go func() {
		if err := server.Serve(l); !errors.Is(err, http.ErrServerClosed) {
			failed <- err
		}
	}()
	return func() { _ = server.Close() }, nil
}

func migrateCommand() *cobra.Command {
	var dsn, backupDir string
	c := &cobra.Command{
		Use:   "migrate",
		Short: "Bring a database's schema and its plans up to date, and say what changed",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			st, w, err := openWork(dsn, "")
			if err != nil {
				return err
			}
			defer st.Close()
			if err := backupBefore(c.Context(), st, dsn, backupDir, os.Stdout); err != nil {
				return err
			}
			return migrate(c.Context(), st, w, os.Stdout)
		},
	}
	dsnFlag(c, &dsn)
	c.Flags().StringVar(&backupDir, "backup-dir", "",
		"folder for a backup that is written first, where anything is to be done; none is when left out")
	return c
}
