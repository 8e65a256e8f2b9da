package api

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"io"
	"io/fs"
	"log/slog"
	"net/http"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"
	"github.com/labstack/echo/v5/middleware"

	"falda/internal/api/contract"
	"falda/internal/device"
	"falda/internal/work"
)

// maxBody bounds a request's body, in bytes.
const maxBody = 256 << 10

// Scales finds the scale of a bench by the bench's name; nil where there is none.
type Scales func(bench string) *device.Scale

// Handler serves the interface below /api/v1, /healthz, /readyz, and the web app for everything else.
func Handler(w *work.Service, scales Scales, web fs.FS, log *slog.Logger) http.Handler {
	e := echo.New()
	e.Logger = log
	e.JSONSerializer = strictJSON{}
	e.HTTPErrorHandler = problems(log)
	e.Use(requestID, middleware.Recover(), headers)
	e.Use(middleware.BodyLimit(maxBody))
	e.Use(middleware.GzipWithConfig(middleware.GzipConfig{MinLength: 1024, Skipper: func(c *echo.Context) bool {
		// streams must not wait for a full buffer; a booking must not wait for the packing of its answer
		return c.Request().Method != http.MethodGet || strings.HasSuffix(c.Request().URL.Path, "/scale/stream")
	}}))
	h := &handlers{work: w, scales: scales}
	contract.RegisterHandlersWithBaseURL(e, contract.NewStrictHandler(h, nil), "/api/v1")
	e.GET("/healthz", func(c *echo.Context) error { return c.String(http.StatusOK, "ok\n") })
	e.GET("/readyz", func(c *echo.Context) error {
		ctx, cancel := context.WithTimeout(c.Request().Context(), 2*time.Second)
		defer cancel()
		if err := w.Ready(ctx); err != nil {
			return c.String(http.StatusServiceUnavailable, "the database does not answer\n")
		}
		return c.String(http.StatusOK, "ready\n")
	})
	e.GET("/*", app(web))
	return http.NewCrossOriginProtection().Handler(e)
}

// requestID names each request in the log and in the answer.
func requestID(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		c.Response().Header().Set("X-Request-Id", uuid.NewString())
		return next(c)
	}
}

func headers(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		h := c.Response().Header()
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("X-Frame-Options", "DENY")
		h.Set("Referrer-Policy", "same-origin")
		h.Set("Content-Security-Policy", "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; frame-ancestors 'none'; base-uri 'none'; form-action 'self'")
		if strings.HasPrefix(c.Request().URL.Path, "/api/") {
			h.Set("Cache-Control", "no-store")
		}
		return next(c)
	}
}

// app serves the built web app; paths that are no file get its page, so that its own addresses can be reloaded.
func app(web fs.FS) echo.HandlerFunc {
	files := http.FileServerFS(web)
	return func(c *echo.Context) error {
		path := strings.TrimPrefix(c.Request().URL.Path, "/")
		if info, err := fs.Stat(web, path); err == nil && !info.IsDir() {
			if strings.HasPrefix(path, "assets/") {
				c.Response().Header().Set("Cache-Control", "public, max-age=31536000, immutable")
			}
			files.ServeHTTP(c.Response(), c.Request())
			return nil
		}
		if strings.HasPrefix(path, "assets/") || strings.HasPrefix(path, "api/") {
			return echo.ErrNotFound
		}
		page, err := fs.ReadFile(web, "index.html")
		if err != nil {
			return errors.New("the web app was not built: run make build")
		}
		c.Response().Header().Set("Cache-Control", "no-cache")
		return c.HTMLBlob(http.StatusOK, page)
	}
}

// strictJSON refuses unknown fields and anything after the value.
type strictJSON struct{ echo.DefaultJSONSerializer }

// Deserialize reads one JSON value from the body.
func (strictJSON) Deserialize(c *echo.Context, target any) error {
	raw, err := io.ReadAll(c.Request().Body)
	if err != nil {
		return err
	}
	return decodeStrict(raw, target)
}

// decodeStrict reads one JSON value, with known fields only.
func decodeStrict(raw []byte, target any) error {
	d := json.NewDecoder(bytes.NewReader(raw))
	d.DisallowUnknownFields()
	if err := d.Decode(target); err != nil {
		return &malformed{err}
	}
	if _, err := d.Token(); !errors.Is(err, io.EOF) {
		return &malformed{errors.New("there is more after the JSON value")}
	}
	return nil
}

// malformed is a body that is not the JSON it should be.
type malformed struct{ err error }

func (m *malformed) Error() string { return m.err.Error() }
func (m *malformed) Unwrap() error { return m.err }
