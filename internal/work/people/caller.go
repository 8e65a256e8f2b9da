package people

import (
	"context"
	"slices"
	"strings"
	"sync"
	"time"

	"falda/internal/secret"
	"falda/internal/store"
	"falda/internal/work/audit"
)

// callerCache remembers who a token belongs to for a moment, so that a weighing costs no second round trip. What
// changes who may come in forgets all of it; another program on the same database learns of it when the moment is over.
type callerCache struct {
	mu    sync.Mutex
	known map[string]cachedCaller
}

type cachedCaller struct {
	caller audit.Caller
	at     time.Time
}

const (
	callerCachedFor     = 2 * time.Second
	callerRememberedFor = 5 * time.Minute // where the database is asked about them when something is written
	maxCallers          = 2000
)

func (k *callerCache) get(hash string, within time.Duration) (c audit.Caller, age time.Duration, ok bool) {
	k.mu.Lock()
	defer k.mu.Unlock()
	known, ok := k.known[hash]
	age = time.Since(known.at)
	return known.caller, age, ok && age < within
}

func (k *callerCache) put(hash string, c audit.Caller) {
	k.mu.Lock()
	defer k.mu.Unlock()
	if k.known == nil || len(k.known) >= maxCallers {
		k.known = map[string]cachedCaller{}
	}
	k.known[hash] = cachedCaller{c, time.Now()}
}

func (k *callerCache) forget() {
	k.mu.Lock()
	defer k.mu.Unlock()
	k.known = nil
}

// How long a sign-in holds: so long without use, and so long at most.
const (
	sessionIdle  = audit.SessionIdle
	sessionLasts = 14 * 24 * time.Hour
	touchEvery   = time.Minute
)

// BySession gives the caller of a session's token; store.ErrNotFound where it does not hold.
func (s *Service) BySession(ctx context.Context, token string) (audit.Caller, error) {
	hash := secret.Digest(token)
	if c, _, ok := s.callers.get(hash, callerCachedFor); ok {
		return c, nil
	}
	row, err := s.store.SignedIn(ctx, hash)
	if err != nil {
		return audit.Caller{}, err
	}
	now := s.now()
	if !row.Active || row.DeviceGone || now.After(row.EndsAt) || now.Sub(row.SeenAt) > sessionIdle {
		return audit.Caller{}, store.ErrNotFound
	}
	if now.Sub(row.SeenAt) > touchEvery {
		if err := s.store.Seen(ctx, row.ID, now); err != nil {
			return audit.Caller{}, err
		}
	}
	c := callerOfRow(row)
	s.callers.put(hash, c)
	return c, nil
}

// Remembered gives the caller of a session's token as they were known some minutes ago, unchecked, without asking the
// database; only for what asks it when it writes, as booking at a bench does.
func (s *Service) Remembered(token string) (audit.Caller, bool) {
	c, age, ok := s.callers.get(secret.Digest(token), callerRememberedFor)
	c.Unchecked = age >= callerCachedFor
	return c, ok
}

func callerOfRow(row store.SignedIn) audit.Caller {
	c := audit.Caller{ShopID: row.ShopID, Shop: row.ShopPublic, MemberID: row.MemberID, Member: row.MemberPublic,
		PersonID: row.PersonID, Name: row.Name, Role: row.Role, Via: row.Via, SessionID: row.Session.ID,
		Bench: row.BenchPublic, BenchName: row.BenchName, ScreenHash: row.ScreenHash}
	if row.DeviceID != nil && row.BenchID != nil {
		c.DeviceID, c.BenchID = *row.DeviceID, *row.BenchID
	}
	return c
}

// ByToken gives the caller of a script's token; store.ErrNotFound where it does not hold.
func (s *Service) ByToken(ctx context.Context, token string) (audit.Caller, error) {
	hash := secret.Digest(token)
	if c, _, ok := s.callers.get(hash, callerCachedFor); ok {
		return c, nil
	}
	now := s.now()
	row, err := s.store.TokenByHash(ctx, hash, now)
	if err != nil {
		return audit.Caller{}, err
	}
	shop, err := s.store.Shop(ctx, row.ShopID)
	if err != nil {
		return audit.Caller{}, err
	}
	if row.UsedAt == nil || now.Sub(*row.UsedAt) > touchEvery {
		if err := s.store.UsedToken(ctx, row.ID, now); err != nil {
			return audit.Caller{}, err
		}
	}
	c := audit.Caller{ShopID: row.ShopID, Shop: shop.PublicID, MemberID: row.MemberID, Name: "Token " + row.Name,
		Role: "token", Via: audit.ViaToken, Scopes: strings.Fields(row.Scopes)}
	s.callers.put(hash, c)
	return c, nil
}

// MemberCaller is a member as the program itself speaks for them: the demo's scenario is told so.
func (s *Service) MemberCaller(ctx context.Context, shopID int64, role string) (audit.Caller, error) {
	shop, err := s.store.Shop(ctx, shopID)
	if err != nil {
		return audit.Caller{}, err
	}
	members, err := s.store.Members(ctx, shopID)
	if err != nil {
		return audit.Caller{}, err
	}
	i := slices.IndexFunc(members, func(m store.MemberRow) bool { return m.Role == role && m.Active })
	if i < 0 {
		return audit.Caller{}, store.ErrNotFound
	}
	m := members[i]
	return audit.Caller{ShopID: shopID, Shop: shop.PublicID, MemberID: m.ID, Member: m.PublicID, PersonID: m.PersonID,
		Name: m.Name, Role: m.Role, Via: audit.ViaProgram}, nil
}
