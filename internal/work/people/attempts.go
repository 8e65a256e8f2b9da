package people

import (
	"context"
	"fmt"
	"net/netip"
	"time"

	"falda/internal/core/fault"
	"falda/internal/secret"
	"falda/internal/store"
)

// TooMany is an attempt at a secret that comes too soon after wrong ones.
type TooMany struct {
	Wait time.Duration
	Why  string // "requests" or "streams"; empty for wrong tries at a secret
}

// Error says how long to wait.
func (t TooMany) Error() string {
	return fmt.Sprintf("too many wrong tries; wait %s", t.Wait.Round(time.Second))
}

// How many wrong tries are free before one has to wait: at one account, from one address, at one PIN, on one screen.
const (
	freeAccount = 5
	freeAddress = 40
	freePin     = 3
	freeScreen  = 10
)

// try is what is counted when a secret is tried.
type try struct {
	what string
	free int
}

// attempt counts a try before the secret is checked, so that many at once count as many, and refuses it while one has
// to wait. Refused tries do not count.
func (s *Service) attempt(ctx context.Context, tries ...try) error {
	return s.store.Tx(ctx, func(tx *store.Store) error {
		now := s.now()
		rows := make([]store.Attempt, len(tries))
		for i, t := range tries {
			var err error
			if rows[i], err = tx.Attempt(ctx, secret.Digest(t.what)); err != nil {
				return err
			}
			if secret.Forgiven(rows[i].LastAt, now) {
				rows[i].Failures = 0
			}
			if left := secret.Wait(rows[i].Failures, t.free) - now.Sub(rows[i].LastAt); left > 0 {
				return TooMany{Wait: left}
			}
		}
		for _, row := range rows {
			row.Failures, row.LastAt = row.Failures+1, now
			if err := tx.SaveAttempt(ctx, row); err != nil {
				return err
			}
		}
		return nil
	})
}

// countTry counts a wrong try that was not held up by the others of its kind.
func (s *Service) countTry(ctx context.Context, t try) error {
	return s.store.Tx(ctx, func(tx *store.Store) error {
		row, err := tx.Attempt(ctx, secret.Digest(t.what))
		if err != nil {
			return err
		}
		if secret.Forgiven(row.LastAt, s.now()) {
			row.Failures = 0
		}
		row.Failures, row.LastAt = row.Failures+1, s.now()
		return tx.SaveAttempt(ctx, row)
	})
}

// succeeded takes back what a right try had counted, and forgets the wrong ones before it at the account itself.
func (s *Service) succeeded(ctx context.Context, account try, others ...try) error {
	return s.store.Tx(ctx, func(tx *store.Store) error {
		if err := tx.ForgetAttempts(ctx, secret.Digest(account.what)); err != nil {
			return err
		}
		for _, t := range others {
			row, err := tx.Attempt(ctx, secret.Digest(t.what))
			if err != nil {
				return err
			}
			if row.Failures > 0 {
				row.Failures--
				if err := tx.SaveAttempt(ctx, row); err != nil {
					return err
				}
			}
		}
		return nil
	})
}

// wrongSecret is the fault of a secret that does not fit; it does not say which half was wrong.
func wrongSecret(field, message, hint string) error {
	return fault.New(field, "wrong_secret", message, hint)
}

// accountKey is what wrong tries at an account are counted by: the person, however the address was written; in a
// browser that is known, that browser.
func accountKey(p store.Person, known string) string {
	if known != "" {
		return fmt.Sprintf("known:%d:%s", p.ID, known)
	}
	return fmt.Sprintf("account:%d", p.ID)
}

// Network is what wrong tries from an address are counted by: of IPv6 the /64, for whoever has one address has all of
// those.
func Network(address string) string {
	ip, err := netip.ParseAddr(address)
	if err != nil {
		return address
	}
	if ip = ip.Unmap().WithZone(""); ip.Is6() {
		if p, err := ip.Prefix(64); err == nil {
			return p.String()
		}
	}
	return ip.String()
}
