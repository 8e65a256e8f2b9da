package api

import (
	"database/sql"
	"net/http"
	"strconv"
	"time"

	"github.com/labstack/echo/v5"
	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/collectors"
	"github.com/prometheus/client_golang/prometheus/promhttp"

	"falda/internal/store"
)

// Metrics counts what happens, for Prometheus.
type Metrics struct {
	registry *prometheus.Registry
	requests *prometheus.CounterVec
	seconds  *prometheus.HistogramVec
	signIns  *prometheus.CounterVec
	streams  prometheus.Gauge

	// Backup is when the last scheduled backup was made, in seconds since 1970; BackupFailures how many failed.
	Backup         prometheus.Gauge
	BackupFailures prometheus.Counter
}

// NewMetrics makes the counters, with those of the program itself and of the database's connections.
func NewMetrics(pool *sql.DB) *Metrics {
	m := &Metrics{
		registry: prometheus.NewRegistry(),
		requests: prometheus.NewCounterVec(prometheus.CounterOpts{Name: "falda_requests_total",
			Help: "Requests answered, by route and status."}, []string{"route", "status"}),
		seconds: prometheus.NewHistogramVec(prometheus.HistogramOpts{Name: "falda_request_seconds",
			Help: "How long answers took, by route.", Buckets: prometheus.ExponentialBuckets(0.001, 2, 14)}, []string{"route"}),
		signIns: prometheus.NewCounterVec(prometheus.CounterOpts{Name: "falda_sign_ins_total",
			Help: "Sign-ins, by how they ended."}, []string{"result"}),
		streams: prometheus.NewGauge(prometheus.GaugeOpts{Name: "falda_scale_streams",
			Help: "Open streams of scale readings."}),
		Backup: prometheus.NewGauge(prometheus.GaugeOpts{Name: "falda_backup_last_seconds",
			Help: "When the last scheduled backup was made, in seconds since 1970."}),
		BackupFailures: prometheus.NewCounter(prometheus.CounterOpts{Name: "falda_backup_failures_total",
			Help: "Scheduled backups that failed."}),
	}
	m.registry.MustRegister(m.requests, m.seconds, m.signIns, m.streams, m.Backup, m.BackupFailures,
		prometheus.NewCounterFunc(prometheus.CounterOpts{Name: "falda_transactions_retried_total",
			Help: "Transactions run again after a deadlock, a lock wait or a lost connection."},
			func() float64 { return float64(store.Retried.Load()) }),
		collectors.NewGoCollector(), collectors.NewProcessCollector(collectors.ProcessCollectorOpts{}))
	if pool != nil {
		m.registry.MustRegister(collectors.NewDBStatsCollector(pool, "falda"))
	}
	return m
}

// Handler serves the counters.
func (m *Metrics) Handler() http.Handler {
	return promhttp.HandlerFor(m.registry, promhttp.HandlerOpts{})
}

func (m *Metrics) signIn(err error) {
	result := "accepted"
	if err != nil {
		result = "refused"
	}
	m.signIns.WithLabelValues(result).Inc()
}

// count counts each request by its route, never by its path: ids would make the counters endless.
func (m *Metrics) count(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		began := time.Now()
		err := next(c)
		route := c.Request().Method + " " + c.Path()
		m.requests.WithLabelValues(route, strconv.Itoa(statusOf(c, err))).Inc()
		m.seconds.WithLabelValues(route).Observe(time.Since(began).Seconds())
		return err
	}
}
