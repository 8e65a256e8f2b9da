package api

import (
	"bytes"
	"context"
	"crypto/rand"
	"encoding/base64"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"log/slog"
	"mime"
	"net/http"
	"reflect"
	"regexp"
	"slices"
	"strings"
	"sync/atomic"
	"time"

	"github.com/google/uuid"
	"github.com/labstack/echo/v5"
	"github.com/labstack/echo/v5/middleware"

	contractfile "falda/api"
	"falda/internal/api/contract"
	"falda/internal/core/fault"
	"falda/internal/device"
	"falda/internal/store"
	"falda/internal/work"
	"falda/internal/work/audit"
)

type handlers struct {
	work     *work.Rooms
	scales   Scales
	probes   Probes
	printers Printers
	feed     *device.Feed
	till     *device.Feed
	demo     bool
	example  Example
	metrics  *Metrics
	log      *slog.Logger
	build    string
	streams  streams
}

var _ contract.StrictServerInterface = (*handlers)(nil)

func (h *handlers) GetContract(context.Context, contract.GetContractRequestObject) (contract.GetContractResponseObject,
	error) {
	return contract.GetContract200ApplicationyamlResponse{Body: bytes.NewReader(contractfile.Contract),
		ContentLength: int64(len(contractfile.Contract))}, nil
}

// Bounds of one request: its body in bytes, and how long its answer may take (a stream has no end).
const (
	maxBody       = 256 << 10
	maxAnswerTime = 30 * time.Second
)

// requestHeader carries the id of a request.
const requestHeader = "X-Request-Id"

// Scales finds the scale of a bench; nil where there is none.
type Scales func(b store.Bench) *device.Scale

// Probes finds the thermometer of a bench; nil where there is none.
type Probes func(b store.Bench) *device.Probe

// Printers finds the label printer of a bench; nil where there is none.
type Printers func(b store.Bench) *device.Printer

// Options are what the interface is served with.
type Options struct {
	Work        *work.Rooms
	Scales      Scales
	Probes      Probes        // nil where no bench has one
	Printers    Printers      // likewise
	Feed        *device.Feed  // a market's price list; nil where there is none
	Till        *device.Feed  // what the till sold; nil where there is none
	Web         fs.FS         // the built web app
	Words       *Dictionaries // languages besides English; the app's own where nil
	Log         *slog.Logger
	Metrics     *Metrics // made where nil
	Demo        bool     // offers its accounts with one touch, opens the calculators, and answers to loopback alone
	BehindProxy bool     // X-Forwarded-For and X-Forwarded-Proto are a proxy's and can be believed
	Access      bool     // one line in the log for each request
	Example     Example  // the example shop that an owner may look at; none where it has no scenario
	Draining    *atomic.Bool
	Build       string // which program this is
	Limits      Limits // of requests by caller; nil for none
}

// Handler serves the interface below /api/v1, /healthz, /readyz, and the web app for everything else.
func Handler(o Options) http.Handler {
	if o.Metrics == nil {
		o.Metrics = NewMetrics(nil)
	}
	if o.Draining == nil {
		o.Draining = &atomic.Bool{}
	}
	if o.Words == nil {
		o.Words, _ = ReadDictionaries(o.Web, nil, nil) // what was built in was checked when it was built
	}
	e := echo.New()
	e.Logger = o.Log
	e.JSONSerializer = strictJSON{}
	e.HTTPErrorHandler = problems(o.Log)
	e.Use(o.requestID, o.Metrics.count, o.logged, middleware.Recover(), headers(pageOf(o.Web)), deadline)
	e.Use(middleware.BodyLimitWithConfig(middleware.BodyLimitConfig{LimitBytes: maxBody, Skipper: isUpload}))
	e.Use(middleware.GzipWithConfig(middleware.GzipConfig{MinLength: 1024, Skipper: func(c *echo.Context) bool {
		// streams must not wait for a full buffer; a booking must not wait for the packing of its answer
		return c.Request().Method != http.MethodGet || isStream(c)
	}}))
	e.Use(jsonOnly, o.authorize, o.limited)
	h := &handlers{work: o.Work, scales: o.Scales, probes: o.Probes, printers: o.Printers, feed: o.Feed, till: o.Till,
		demo: o.Demo, example: o.Example, metrics: o.Metrics, log: o.Log, build: o.Build}
	contract.RegisterHandlersWithBaseURL(e, contract.NewStrictHandler(h, nil), base)
	e.GET("/healthz", func(c *echo.Context) error { return c.String(http.StatusOK, "ok\n"+o.Build+"\n") })
	e.GET("/readyz", o.ready)
	e.GET("/words/:file", o.Words.serve)
	e.GET("/*", app(o.Web, o.Words))
	handler := http.NewCrossOriginProtection().Handler(e)
	if o.Demo {
		return loopbackHost(handler)
	}
	return handler
}

// ready says whether requests should be sent here: not while the program is stopping, nor while the database does not
// answer.
func (o Options) ready(c *echo.Context) error {
	ctx, cancel := context.WithTimeout(c.Request().Context(), 2*time.Second)
	defer cancel()
	switch err := o.Work.Ready(ctx); {
	case o.Draining.Load():
		return c.String(http.StatusServiceUnavailable, "stopping\n")
	case errors.Is(err, store.ErrFull):
		return c.String(http.StatusServiceUnavailable, "the disk of the database is full\n")
	case err != nil:
		return c.String(http.StatusServiceUnavailable, "the database does not answer\n")
	}
	return c.String(http.StatusOK, "ready\n")
}

var plainID = regexp.MustCompile(`^[A-Za-z0-9._-]{8,64}$`)

// requestID names each request in the log, the audit and the answer; a proxy may have named it already.
func (o Options) requestID(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		id := c.Request().Header.Get(requestHeader)
		if !o.BehindProxy || !plainID.MatchString(id) {
			id = uuid.NewString()
		}
		c.Response().Header().Set(requestHeader, id)
		return next(c)
	}
}

// logged writes a line for each request: its route and not its path, which may hold what somebody typed; never a
// header, a body or a query.
func (o Options) logged(next echo.HandlerFunc) echo.HandlerFunc {
	if !o.Access {
		return next
	}
	return func(c *echo.Context) error {
		began := time.Now()
		err := next(c)
		who, _ := c.Get("who").(audit.Caller)
		o.Log.Info("request", "method", c.Request().Method, "route", c.Path(), "status", statusOf(c, err), "ms",
			time.Since(began).Milliseconds(), "request", c.Response().Header().Get(requestHeader), "address",
			o.address(c.Request()), "shop", who.Shop, "member", who.Member, "via", who.Via)
		return err
	}
}

// statusOf is the status a request is answered with, once its handler has returned.
func statusOf(c *echo.Context, err error) int {
	if err != nil {
		return problemOf(err).Status
	}
	if r, uErr := echo.UnwrapResponse(c.Response()); uErr == nil && r.Status != 0 {
		return r.Status
	}
	return http.StatusOK
}

// uploads are the routes that take a file; what reads it has its own limit (tabular.Usual). A test holds them against
// the contract.
var uploads = []string{"POST /lots/import", "POST /breakdowns/import", "POST /prices/import",
	"POST /tastings/{tasting_id}/sheets", "POST /given/import", "POST /cooking/probe/import",
	"POST /plans/{atlas_id}/file", "POST /sales/import", "POST /notes/{note_id}/picture"}

// isUpload says whether a request brings a file.
func isUpload(c *echo.Context) bool { return slices.Contains(uploads, routeOf(c)) }

// jsonOnly refuses a body that says it is something else than JSON, where JSON is what the route takes: a form would be
// read as an object without fields.
func jsonOnly(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		r := c.Request()
		sent := r.Header.Get("Content-Type")
		if routeOf(c) == "" || isUpload(c) || r.Method == http.MethodGet || (sent == "" && r.ContentLength == 0) {
			return next(c)
		}
		if media, _, err := mime.ParseMediaType(sent); sent != "" && (err != nil || media != "application/json") {
			return echo.ErrUnsupportedMediaType
		}
		return next(c)
	}
}

func isStream(c *echo.Context) bool { return strings.HasSuffix(c.Request().URL.Path, "/stream") }

// deadline bounds how long an answer may take.
func deadline(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		if isStream(c) {
			return next(c)
		}
		ctx, cancel := context.WithTimeout(c.Request().Context(), maxAnswerTime)
		defer cancel()
		c.SetRequest(c.Request().WithContext(ctx))
		return next(c)
	}
}

// headers are the usual ones. Nothing but the app's own page may load anything, and that only from here.
func headers(page string) echo.MiddlewareFunc {
	return func(next echo.HandlerFunc) echo.HandlerFunc {
		return func(c *echo.Context) error { return withHeaders(c, page, next) }
	}
}

// pageScript finds the script that the built page begins with; its name changes with everything that is in it.
var pageScript = regexp.MustCompile(`src="/assets/(index-[^"/]+\.js)"`)

// pageOf names the page that is served; empty where the app was not built. An open page that began with another one
// says that the program was upgraded.
func pageOf(web fs.FS) string {
	if web == nil {
		return ""
	}
	page, err := fs.ReadFile(web, "index.html")
	if err != nil {
		return ""
	}
	if found := pageScript.FindSubmatch(page); found != nil {
		return string(found[1])
	}
	return ""
}

func withHeaders(c *echo.Context, page string, next echo.HandlerFunc) error {
	h := c.Response().Header()
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("X-Frame-Options", "DENY")
	h.Set("Referrer-Policy", "same-origin")
	h.Set("Cross-Origin-Opener-Policy", "same-origin")
	h.Set("Cross-Origin-Resource-Policy", "same-origin")
	h.Set("Permissions-Policy", "camera=(), geolocation=(), microphone=(), payment=(), usb=()")
	h.Set("Content-Security-Policy", "default-src 'none'; frame-ancestors 'none'")
	if c.Request().TLS != nil {
		h.Set("Strict-Transport-Security", "max-age=31536000")
	}
	if strings.HasPrefix(c.Request().URL.Path, "/api/") {
		h.Set("Cache-Control", "no-store")
		if page != "" {
			h.Set("Falda-Page", page)
		}
	}
	return next(c)
}

// nonceMark stands in the built page for the nonce of each answer (web/vite.config.ts).
const nonceMark = "FALDA_NONCE"

// policy is the page's: scripts and styles from here alone, styles also with the answer's nonce, for PrimeVue adds its
// own.
func policy(nonce string) string {
	return "default-src 'none'; script-src 'self'; style-src 'self' 'nonce-" + nonce +
		"'; img-src 'self' data:; font-src 'self'; connect-src 'self'; " +
		"manifest-src 'self'; worker-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
}

// app serves the built web app; paths that are no file get its page, so that its own addresses can be reloaded.
func app(web fs.FS, words *Dictionaries) echo.HandlerFunc {
	files := http.FileServerFS(web)
	return func(c *echo.Context) error {
		path := strings.TrimPrefix(c.Request().URL.Path, "/")
		if info, err := fs.Stat(web, path); err == nil && !info.IsDir() && path != "index.html" {
			if path == "sw.js" { // it may fetch what the app is made of, and nothing else; a browser asks for it anew each time
				c.Response().Header().Set("Content-Security-Policy", "default-src 'none'; connect-src 'self'")
				c.Response().Header().Set("Cache-Control", "no-cache")
			}
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
		raw := make([]byte, 18)
		if _, err := rand.Read(raw); err != nil {
			return err
		}
		nonce := base64.StdEncoding.EncodeToString(raw)
		h := c.Response().Header()
		h.Set("Content-Security-Policy", policy(nonce))
		h.Set("Cache-Control", "no-store") // the nonce is good for one answer
		return c.HTMLBlob(http.StatusOK, bytes.ReplaceAll(words.marked(page), []byte(nonceMark), []byte(nonce)))
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
	if err := decodeStrict(raw, target); err != nil {
		return err
	}
	return missing(reflect.TypeOf(target).Elem(), raw, "").Err()
}

// missing lists what a body lacks of what the contract requires: the fields that its types hold themselves, not behind
// a pointer.
func missing(t reflect.Type, raw json.RawMessage, at string) fault.List {
	var out fault.List
	switch t.Kind() {
	case reflect.Slice:
		var list []json.RawMessage
		if json.Unmarshal(raw, &list) == nil {
			for i, one := range list {
				out = append(out, missing(t.Elem(), one, fmt.Sprintf("%s[%d]", at, i))...)
			}
		}
	case reflect.Struct:
		var sent map[string]json.RawMessage
		if json.Unmarshal(raw, &sent) != nil {
			return nil // it reads itself, as times do
		}
		for i := range t.NumField() {
			name, options, _ := strings.Cut(t.Field(i).Tag.Get("json"), ",")
			if name == "" || name == "-" {
				continue
			}
			field, kind := strings.TrimPrefix(at+"."+name, "."), t.Field(i).Type
			value, is := sent[name]
			optional := strings.Contains(options, "omitempty") || kind.Kind() == reflect.Pointer
			if is && kind.Kind() == reflect.Pointer {
				kind = kind.Elem()
			}
			switch {
			case is && string(value) != "null":
				out = append(out, missing(kind, value, field)...)
			case !optional:
				out = append(out, fault.New(field, "required", "is missing", "Send it; see /api/v1/openapi.yaml."))
			}
		}
	}
	return out
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
