package bench

import (
	"context"
	"errors"
	"time"

	"falda/internal/core/fault"
	"falda/internal/core/seam"
	"falda/internal/store"
	"falda/internal/work/audit"
)

// authorsOnScreen is how long after their last sign-in on a bench's screen events may still come in for somebody else
// than who is signed in: what a screen had queued while it was away.
const authorsOnScreen = 7 * 24 * time.Hour

// author sets who did an event, and at which bench: the caller at the screen's bench, unless the screen sends what
// another cutter, who was signed in on it, had booked while it was away. It answers the key of the member, nil for a
// token.
func (s *Service) author(ctx context.Context, who audit.Caller, e *seam.Event) (*int64, error) {
	if who.DeviceID != 0 {
		e.Bench = who.Bench
	}
	if who.Via == audit.ViaToken {
		e.By, e.Role = "", who.Role
		return nil, nil
	}
	if e.By == "" || e.By == who.Member {
		e.By, e.Role = who.Member, who.Role
		return &who.MemberID, nil
	}
	if who.DeviceID != 0 {
		m, err := s.store.UsedDevice(ctx, who.ShopID, who.DeviceID, e.By, s.now().Add(-authorsOnScreen))
		if err == nil {
			e.Role = m.Role
			return &m.ID, nil
		}
		if !errors.Is(err, store.ErrNotFound) {
			return nil, err
		}
	}
	return nil,
		fault.New("by", "unknown", "is nobody who was signed in on this screen", "Leave it out; the event is then yours.")
}

// backoff waits a little longer each time before a booking is tried again; it answers whether there is still somebody
// waiting.
func backoff(ctx context.Context, try int) bool {
	select {
	case <-ctx.Done():
		return false
	case <-time.After(time.Duration(try+1) * 50 * time.Millisecond):
		return true
	}
}
