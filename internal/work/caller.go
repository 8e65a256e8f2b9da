package work

import (
	"context"
	"errors"
	"slices"
	"strings"
	"sync"
	"time"

	"falda/internal/secret"
	"falda/internal/store"
)

// How a caller came in.
const (
	ViaPassword = "password"
	ViaPin      = "pin"
	ViaDemo     = "demo"
	ViaToken    = "token"
	ViaProgram  = "program" // the program itself: the demo's scenario, a command
)

// Caller is who asks for something: the shop they work in, who they are there, and how they came in.
type Caller struct {
	ShopID     int64
	Shop       string // public id
	MemberID   int64
	Member     string // public id
	PersonID   int64
	Name       string
	Role       string
	Via        string
	SessionID  int64
	DeviceID   int64
	BenchID    int64 // of the screen, for a sign-in by PIN
	Bench      string
	BenchName  string
	ScreenHash string   // digest of the screen's own token
	Scopes     []string // of a token
	Where      Where
}

// Where says where a request came from.
type Where struct {
	Request string // its id
	Address string
	About   string // the browser, in a few words
	Known   string // by which the browser says that somebody signed in in it before
}

type callerKey struct{}

// As gives a context in which work is done for a caller.
func As(ctx context.Context, c Caller) context.Context { return context.WithValue(ctx, callerKey{}, c) }

// CallerOf gives who the work is done for.
func CallerOf(ctx context.Context) (Caller, bool) {
	c, ok := ctx.Value(callerKey{}).(Caller)
	return c, ok
}

// ErrNobody is work that was asked for by nobody.
var ErrNobody = errors.New("nobody is signed in")

func caller(ctx context.Context) (Caller, error) {
	c, ok := CallerOf(ctx)
	if !ok || c.ShopID == 0 {
		return c, ErrNobody
	}
	return c, nil
}

// keptCallers remembers who a token belongs to for a moment, so that a weighing costs no second round trip. What changes
// who may come in forgets all of it; another program on the same database learns of it when the moment is over.
type keptCallers struct {
	mu    sync.Mutex
	known map[string]keptCaller
}

type keptCaller struct {
	caller Caller
	at     time.Time
}

const (
	callerKeptFor = 2 * time.Second
	maxCallers    = 2000
)

func (k *keptCallers) get(hash string) (Caller, bool) {
	k.mu.Lock()
	defer k.mu.Unlock()
	c, ok := k.known[hash]
	return c.caller, ok && time.Since(c.at) < callerKeptFor
}

func (k *keptCallers) put(hash string, c Caller) {
	k.mu.Lock()
	defer k.mu.Unlock()
	if k.known == nil || len(k.known) >= maxCallers {
		k.known = map[string]keptCaller{}
	}
	k.known[hash] = keptCaller{c, time.Now()}
}

func (k *keptCallers) forget() {
	k.mu.Lock()
	defer k.mu.Unlock()
	k.known = nil
}

// How long a sign-in holds: so long without use, and so long at most.
const (
	sessionIdle  = 12 * time.Hour
	sessionLasts = 14 * 24 * time.Hour
	touchEvery   = time.Minute
)

// BySession gives the caller of a session's token; store.ErrNotFound where it does not hold.
func (s *Service) BySession(ctx context.Context, token string) (Caller, error) {
	hash := secret.Digest(token)
	if c, ok := s.callers.get(hash); ok {
		return c, nil
	}
	row, err := s.store.SignedIn(ctx, hash)
	if err != nil {
		return Caller{}, err
	}
	now := s.now()
	if !row.Active || row.DeviceGone || now.After(row.EndsAt) || now.Sub(row.SeenAt) > sessionIdle {
		return Caller{}, store.ErrNotFound
	}
	if now.Sub(row.SeenAt) > touchEvery {
		if err := s.store.Seen(ctx, row.ID, now); err != nil {
			return Caller{}, err
		}
	}
	c := callerOfRow(row)
	s.callers.put(hash, c)
	return c, nil
}

func callerOfRow(row store.SignedIn) Caller {
	c := Caller{ShopID: row.ShopID, Shop: row.ShopPublic, MemberID: row.MemberID, Member: row.MemberPublic, PersonID: row.PersonID, Name: row.Name,
		Role: row.Role, Via: row.Via, SessionID: row.Session.ID, Bench: row.BenchPublic, BenchName: row.BenchName, ScreenHash: row.ScreenHash}
	if row.DeviceID != nil && row.BenchID != nil {
		c.DeviceID, c.BenchID = *row.DeviceID, *row.BenchID
	}
	return c
}

// ByToken gives the caller of a script's token; store.ErrNotFound where it does not hold.
func (s *Service) ByToken(ctx context.Context, token string) (Caller, error) {
	hash := secret.Digest(token)
	if c, ok := s.callers.get(hash); ok {
		return c, nil
	}
	now := s.now()
	row, err := s.store.TokenByHash(ctx, hash, now)
	if err != nil {
		return Caller{}, err
	}
	shop, err := s.store.Shop(ctx, row.ShopID)
	if err != nil {
		return Caller{}, err
	}
	if row.UsedAt == nil || now.Sub(*row.UsedAt) > touchEvery {
		if err := s.store.UsedToken(ctx, row.ID, now); err != nil {
			return Caller{}, err
		}
	}
	c := Caller{ShopID: row.ShopID, Shop: shop.PublicID, MemberID: row.MemberID, Name: "Token " + row.Name, Role: "token", Via: ViaToken, Scopes: strings.Fields(row.Scopes)}
	s.callers.put(hash, c)
	return c, nil
}

// MemberCaller is a member as the program itself speaks for them: the demo's scenario is told so.
func (s *Service) MemberCaller(ctx context.Context, shopID int64, role string) (Caller, error) {
	shop, err := s.store.Shop(ctx, shopID)
	if err != nil {
		return Caller{}, err
	}
	members, err := s.store.Members(ctx, shopID)
	if err != nil {
		return Caller{}, err
	}
	i := slices.IndexFunc(members, func(m store.MemberRow) bool { return m.Role == role && m.Active })
	if i < 0 {
		return Caller{}, store.ErrNotFound
	}
	m := members[i]
	return Caller{ShopID: shopID, Shop: shop.PublicID, MemberID: m.ID, Member: m.PublicID, PersonID: m.PersonID, Name: m.Name, Role: m.Role, Via: ViaProgram}, nil
}
