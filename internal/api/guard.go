package api

import (
	"context"
	"crypto/subtle"
	"errors"
	"net"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/labstack/echo/v5"

	"falda/internal/secret"
	"falda/internal/store"
	"falda/internal/work/audit"
)

// base is where the contract's routes begin.
const base = "/api/v1"

// The cookies, each HttpOnly and SameSite=Strict. Over TLS they carry the __Host- prefix, with which a browser takes
// them from this host alone (RFC 6265bis, section 4.1.3.2).
const (
	sessionCookie = "falda-session"
	screenCookie  = "falda-screen"
	knownCookie   = "falda-known" // says that somebody signed in in this browser before
	hostPrefix    = "__Host-"
	screenLasts   = 400 * 24 * time.Hour // the longest a browser keeps a cookie
)

var (
	errNobody    = errors.New("nobody is signed in")
	errForbidden = errors.New("not for this role")
)

// calendarRoutes are the routes that take a token in their address. Addresses are not logged.
var calendarRoutes = []string{"GET /readiness.ics", "GET /orders.ics"}

// bookRoute is the one route on which who asks may be known from memory: a weighing is one round trip.
const bookRoute = "POST /breakdowns/{breakdown_id}/events"

// requestInfo is what handlers need to know of the request beside its content.
type requestInfo struct {
	secure bool   // came over TLS
	screen string // token of a bench's screen
	origin string // under which the program was asked, such as https://cutting.example
	where  audit.Where
	again  func() bool // whether who asked may still: they are who they were, and have the right
}

type requestInfoKey struct{}

func requestInfoOf(ctx context.Context) requestInfo {
	v, _ := ctx.Value(requestInfoKey{}).(requestInfo)
	return v
}

// outside is where other devices find the program: where the shop says they do, else where the request found it.
func (h *handlers) outside(ctx context.Context) string {
	if v, err := h.work.Shop.Shop(ctx); err == nil && v.Shop.Address != "" {
		return v.Shop.Address
	}
	return requestInfoOf(ctx).origin
}

// routeOf is the route of a request as the table of rights names it; empty for what is not of the contract.
func routeOf(c *echo.Context) string {
	if name := c.RouteInfo().Name; name == echo.NotFoundRouteName || name == echo.MethodNotAllowedRouteName {
		return ""
	}
	path, found := strings.CutPrefix(c.Path(), base)
	if !found {
		return ""
	}
	parts := strings.Split(path, "/")
	for i, p := range parts {
		if name, is := strings.CutPrefix(p, ":"); is {
			parts[i] = "{" + name + "}"
		}
	}
	return c.Request().Method + " " + strings.Join(parts, "/")
}

// authorize finds out who asks and refuses what they may not do. It is the one place where rights are enforced.
func (o Options) authorize(next echo.HandlerFunc) echo.HandlerFunc {
	return func(c *echo.Context) error {
		route := routeOf(c)
		if route == "" {
			return next(c)
		}
		r := c.Request()
		v := requestInfo{secure: o.secure(r), screen: cookie(r, screenCookie),
			where: audit.Where{Request: c.Response().Header().Get(requestHeader), Address: o.address(r),
				About: browserName(r.UserAgent()), Known: cookie(r, knownCookie)}}
		v.origin = map[bool]string{true: "https://", false: "http://"}[v.secure] + r.Host
		ctx := context.WithValue(r.Context(), requestInfoKey{}, v)
		if slices.Contains(calendarRoutes, route) && r.Header.Get("Authorization") == "" && r.URL.Query().Has("token") {
			r.Header.Set("Authorization", "Bearer "+r.URL.Query().Get("token")) // calendars cannot send headers
		}
		who, remembered := audit.Caller{}, false
		if route == bookRoute {
			who, remembered = o.remembered(r, v)
		}
		if !remembered {
			var err error
			if who, err = o.caller(ctx, r, v); err != nil {
				return err
			}
		}
		row, known := rights[route]
		switch {
		case !known:
			return errForbidden
		case row.open == everybody, row.open == inDemo && o.Demo:
		case who.ShopID == 0:
			return errNobody
		case !row.allows(who.Role, who.Via, who.Scopes):
			return errForbidden
		}
		if who.ShopID != 0 {
			v.again = func() bool {
				now, err := o.caller(r.Context(), r, v)
				if err != nil && !errors.Is(err, errNobody) { // the database is away: nothing is known
					return r.Context().Err() == nil
				}
				return err == nil && now.ShopID == who.ShopID && now.MemberID == who.MemberID &&
					row.allows(now.Role, now.Via, now.Scopes)
			}
			who.Where = v.where
			ctx = audit.As(context.WithValue(ctx, requestInfoKey{}, v), who)
			c.Set("who", who)
		}
		c.SetRequest(r.WithContext(ctx))
		err := next(c)
		if err != nil && who.Unchecked {
			return o.mayKnow(r, v, row, err)
		}
		return err
	}
}

// mayKnow gives an error to somebody who was known from memory alone if they are still who they were; else what they
// may know.
func (o Options) mayKnow(r *http.Request, v requestInfo, row right, err error) error {
	now, unknown := o.caller(r.Context(), r, v)
	switch {
	case unknown != nil:
		return unknown
	case now.ShopID == 0:
		return errNobody
	case !row.allows(now.Role, now.Via, now.Scopes):
		return errForbidden
	case errors.Is(err, audit.ErrNobody): // signed in otherwise than was remembered: the next try goes by that
		return store.ErrUnavailable
	}
	return err
}

// remembered gives who asks as they were known some minutes ago, if they were. It is for booking alone, which asks the
// database about them in the round trip in which it writes.
func (o Options) remembered(r *http.Request, v requestInfo) (audit.Caller, bool) {
	token := cookie(r, sessionCookie)
	if token == "" || r.Header.Get("Authorization") != "" {
		return audit.Caller{}, false
	}
	who, ok := o.Work.People.Remembered(token)
	return who, ok && onItsScreen(who, v)
}

// onItsScreen says whether somebody may be who they say on this screen: a sign-in by PIN holds on the screen alone on
// which it was made.
func onItsScreen(who audit.Caller, v requestInfo) bool {
	return who.Via != audit.ViaPin ||
		subtle.ConstantTimeCompare([]byte(secret.Digest(v.screen)), []byte(who.ScreenHash)) == 1
}

// caller finds out who asks: by a token, which must hold, or by a session, without which one is nobody.
func (o Options) caller(ctx context.Context, r *http.Request, v requestInfo) (audit.Caller, error) {
	if header := r.Header.Get("Authorization"); header != "" {
		token, bearer := strings.CutPrefix(header, "Bearer ")
		who, err := o.Work.People.ByToken(ctx, strings.TrimSpace(token))
		if !bearer || errors.Is(err, store.ErrNotFound) {
			return audit.Caller{}, errNobody
		}
		return who, err
	}
	token := cookie(r, sessionCookie)
	if token == "" {
		return audit.Caller{}, nil
	}
	who, err := o.Work.People.BySession(ctx, token)
	if errors.Is(err, store.ErrNotFound) {
		return audit.Caller{}, nil
	}
	if err == nil && !onItsScreen(who, v) {
		return audit.Caller{}, nil
	}
	return who, err
}

// allowedRoutes lists the routes that somebody may call.
func allowedRoutes(who audit.Caller) []string {
	var out []string
	for route, row := range rights {
		if row.open == everybody || row.allows(who.Role, who.Via, who.Scopes) {
			out = append(out, route)
		}
	}
	slices.Sort(out)
	return out
}

func cookie(r *http.Request, name string) string {
	for _, n := range []string{hostPrefix + name, name} {
		if c, err := r.Cookie(n); err == nil && len(c.Value) <= 100 {
			return c.Value
		}
	}
	return ""
}

// newCookie makes a cookie; lasts 0 makes one that the browser forgets when it is closed, below 0 takes it away.
func (v requestInfo) newCookie(name, value string, lasts time.Duration) *http.Cookie {
	c := &http.Cookie{Name: name, Value: value, Path: "/", HttpOnly: true, SameSite: http.SameSiteStrictMode,
		Secure: v.secure, MaxAge: int(lasts / time.Second)}
	if v.secure {
		c.Name = hostPrefix + name
	}
	if lasts < 0 {
		c.MaxAge = -1
	}
	return c
}

// secure says whether the browser sees TLS.
func (o Options) secure(r *http.Request) bool {
	return r.TLS != nil || (o.BehindProxy && r.Header.Get("X-Forwarded-Proto") == "https")
}

// address is where the request came from: the last address the proxy added, where there is one.
func (o Options) address(r *http.Request) string {
	if o.BehindProxy {
		list := strings.Split(r.Header.Get("X-Forwarded-For"), ",")
		if ip := net.ParseIP(strings.TrimSpace(list[len(list)-1])); ip != nil {
			return ip.String()
		}
	}
	host, _, err := net.SplitHostPort(r.RemoteAddr)
	if err != nil {
		return r.RemoteAddr
	}
	return host
}

// browserName says in a word what kind of thing a browser runs on.
func browserName(agent string) string {
	switch {
	case !strings.HasPrefix(agent, "Mozilla/"):
		return "a script"
	case strings.Contains(agent, "iPad"), strings.Contains(agent, "Android") && !strings.Contains(agent, "Mobile"),
		strings.Contains(agent, "Tablet"):
		return "a tablet"
	case strings.Contains(agent, "Mobile"):
		return "a phone"
	}
	return "a computer"
}

// loopbackHost refuses requests by another name than loopback's: the demo has no passwords, and a page elsewhere could
// give its own name this address (DNS rebinding).
func loopbackHost(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		host := r.Host
		if h, _, err := net.SplitHostPort(host); err == nil {
			host = h
		}
		if ip := net.ParseIP(strings.Trim(host, "[]")); host != "localhost" && (ip == nil || !ip.IsLoopback()) {
			http.Error(w, "The demo answers to loopback only, such as http://127.0.0.1:8087.", http.StatusMisdirectedRequest)
			return
		}
		next.ServeHTTP(w, r)
	})
}
