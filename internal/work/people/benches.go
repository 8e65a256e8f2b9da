package people

import (
	"context"
	"errors"
	"slices"
	"strings"
	"time"

	"falda/internal/core/fault"
	"falda/internal/core/scaleline"
	"falda/internal/core/words"
	"falda/internal/secret"
	"falda/internal/store"
	"falda/internal/work/audit"
)

// BenchScreens is a bench with the screens that are enrolled at it.
type BenchScreens struct {
	Bench   store.Bench
	Screens []store.Device
}

// Benches lists the benches of the caller's shop with their screens.
func (s *Service) Benches(ctx context.Context) ([]BenchScreens, error) {
	who, err := audit.Who(ctx)
	if err != nil {
		return nil, err
	}
	benches, err := s.store.Benches(ctx, who.ShopID)
	if err != nil {
		return nil, err
	}
	devices, err := s.store.Devices(ctx, who.ShopID)
	if err != nil {
		return nil, err
	}
	out := make([]BenchScreens, len(benches))
	for i, b := range benches {
		out[i].Bench = b
		for _, d := range devices {
			if d.BenchID == b.ID {
				out[i].Screens = append(out[i].Screens, d)
			}
		}
	}
	return out, nil
}

// benchName gives a name as it is kept, or says what is wrong with it.
func benchName(typed string) (string, error) {
	name := strings.TrimSpace(typed)
	var faults fault.List
	faults.Add("name", fault.Text(name, 60, true))
	return name, faults.Err()
}

func duplicateBench(err error) error {
	if errors.Is(err, store.ErrDuplicate) {
		return fault.NewConflict("name", "duplicate", "is the name of another bench", "Take another name.")
	}
	return err
}

// AddBench adds a bench to the caller's shop.
func (s *Service) AddBench(ctx context.Context, name string) (b store.Bench, err error) {
	who, err := audit.Who(ctx)
	if err != nil {
		return b, err
	}
	if name, err = benchName(name); err != nil {
		return b, err
	}
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		b = store.Bench{PublicID: store.NewID(), ShopID: who.ShopID, Name: name, Active: true, Version: 1}
		return audit.Change{Action: "bench.added", Subject: b.PublicID, SubjectName: name}, tx.CreateBench(ctx, &b)
	})
	return b, duplicateBench(err)
}

// ChangeBench renames a bench or takes it out of use; what was cut on it stays.
func (s *Service) ChangeBench(ctx context.Context, id, name string, active bool, version int) (b store.Bench,
	err error) {
	who, err := audit.Who(ctx)
	if err != nil {
		return b, err
	}
	if name, err = benchName(name); err != nil {
		return b, err
	}
	defer s.callers.forget()
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		was, err := tx.Bench(ctx, who.ShopID, id)
		if err != nil {
			return audit.Change{}, err
		}
		b = was
		b.Name, b.Active, b.Version = name, active, version
		c := audit.Change{Action: "bench.changed", Subject: b.PublicID, SubjectName: was.Name,
			Was: map[string]any{"name": was.Name, "active": was.Active}, Became: map[string]any{"name": name, "active": active}}
		return c, tx.SaveBench(ctx, b)
	})
	b.Version++
	return b, duplicateBench(err)
}

// SetScaleLines sets by which pattern the lines of a bench's scale are read; an empty one for the protocol.
func (s *Service) SetScaleLines(ctx context.Context, id, pattern, unit string, version int) (b store.Bench, err error) {
	who, err := audit.Who(ctx)
	if err != nil {
		return b, err
	}
	pattern = strings.TrimSpace(pattern)
	if pattern == "" {
		unit = ""
	} else if _, err := scaleline.New(pattern, unit); err != nil {
		return b, err
	}
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		was, err := tx.Bench(ctx, who.ShopID, id)
		if err != nil {
			return audit.Change{}, err
		}
		b = was
		b.ScalePattern, b.ScaleUnit, b.Version = pattern, unit, version
		return audit.Change{Action: "bench.scale_lines", Subject: b.PublicID, SubjectName: was.Name,
			Was: map[string]any{"pattern": was.ScalePattern}, Became: map[string]any{"pattern": pattern}}, tx.SaveBench(ctx, b)
	})
	b.Version++
	return b, err
}

// EnrolCode gives a code with which a screen is enrolled at a bench, once and soon.
func (s *Service) EnrolCode(ctx context.Context, benchID string) (code string, ends time.Time, err error) {
	who, err := audit.Who(ctx)
	if err != nil {
		return "", ends, err
	}
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		b, err := tx.Bench(ctx, who.ShopID, benchID)
		if err != nil {
			return audit.Change{}, err
		}
		if !b.Active {
			return audit.Change{}, fault.NewConflict("", "out_of_use", b.Name+" is out of use.", "Take it back into use first.")
		}
		if err := tx.DropOneTimeTokens(ctx, "bench", &who.ShopID, nil, &b.ID); err != nil {
			return audit.Change{}, err
		}
		code = secret.NewCode()
		ends = s.now().Add(codeHolds)
		return audit.Change{Action: "bench.code", Subject: b.PublicID, SubjectName: b.Name},
			tx.CreateOneTimeToken(ctx, &store.OneTimeToken{
				TokenHash: secret.Digest(secret.PlainCode(code)), Kind: "bench", ShopID: &who.ShopID, BenchID: &b.ID,
				CreatedAt: s.now(), EndsAt: ends})
	})
	return code, ends, err
}

// Enrol enrols the screen that sends a bench's code, and gives the token it keeps.
func (s *Service) Enrol(ctx context.Context, code string, where audit.Where) (token string, err error) {
	var faults fault.List
	if code = secret.PlainCode(code); code == "" {
		faults.Add("code", fault.Required("Type the code from the benches' page."))
		return "", faults.Err()
	}
	from := try{"enrol:" + where.Address, freeAccount}
	if err := s.attempt(ctx, from); err != nil {
		return "", err
	}
	o, err := s.store.OneTimeToken(ctx, "bench", secret.Digest(code), s.now())
	if errors.Is(err, store.ErrNotFound) || (err == nil && (o.BenchID == nil || o.ShopID == nil)) {
		return "",
			wrongSecret("code", "is not a code that holds",
				"A code counts once and for 15 minutes; make a new one on the benches' page.")
	}
	if err != nil {
		return "", err
	}
	if err := s.succeeded(ctx, from); err != nil {
		return "", err
	}
	err = s.store.Tx(ctx, func(tx *store.Store) error {
		if err := tx.UseOneTimeToken(ctx, o.ID, s.now()); err != nil {
			return usedUp(err)
		}
		benches, err := tx.Benches(ctx, *o.ShopID)
		if err != nil {
			return err
		}
		i := slices.IndexFunc(benches, func(b store.Bench) bool { return b.ID == *o.BenchID })
		if i < 0 {
			return store.ErrNotFound
		}
		token = secret.NewToken("fb_")
		d := store.Device{PublicID: store.NewID(), ShopID: *o.ShopID, BenchID: *o.BenchID, TokenHash: secret.Digest(token),
			About: words.Truncate(where.About, 120), EnrolledAt: s.now(), SeenAt: s.now()}
		if err := tx.CreateDevice(ctx, &d); err != nil {
			return err
		}
		who := audit.Caller{ShopID: d.ShopID, Name: "a screen with the code", Role: "bench", Via: "code",
			BenchName: benches[i].Name, Where: where}
		return s.audit.Write(ctx, tx, who,
			audit.Change{Action: "bench.enrolled", Subject: benches[i].PublicID, SubjectName: d.About})
	})
	return token, err
}

// RevokeScreen takes a screen off its bench; who is signed in on it is signed out.
func (s *Service) RevokeScreen(ctx context.Context, benchID, screenID string) error {
	who, err := audit.Who(ctx)
	if err != nil {
		return err
	}
	defer s.callers.forget()
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		b, err := tx.Bench(ctx, who.ShopID, benchID)
		if err != nil {
			return audit.Change{}, err
		}
		d, err := tx.RevokeDevice(ctx, who.ShopID, b.ID, screenID, s.now())
		return audit.Change{Action: "bench.revoked", Subject: b.PublicID, SubjectName: b.Name,
			Was: map[string]any{"screen": d.About}}, err
	})
}
