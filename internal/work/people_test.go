package work_test

import (
	"context"
	"fmt"
	"testing"

	"falda/internal/store"
	"falda/internal/work"
	"falda/internal/work/audit"
	"falda/internal/work/people"
)

// Rules: a shop keeps an owner, a link lets in once, and a bench's code enrols one screen, whatever two do at once.
func TestTwoAtOnceAtTheDoor(t *testing.T) {
	r := newArena(t)
	r.owners()
	r.link()
	r.code()
	if r.forced < 20 {
		t.Errorf("only %d interleavings were forced", r.forced)
	}
}

// owners lets two owners take each other's place away.
func (r *arena) owners() {
	r.Helper()
	first, err := r.two.People.People(r.ctx)
	if err != nil {
		r.Fatal(err)
	}
	if _, _, err := r.two.People.AddPerson(r.ctx, people.Account{Email: "second@test.example", Name: "Second",
		Role: "owner"}); err != nil {
		r.Fatal(err)
	}
	if _, err := r.db.Exec("UPDATE members SET joined_at = created_at"); err != nil {
		r.Fatal(err)
	}
	type pair struct{ one, two store.MemberRow }
	demote := func(w *work.Rooms, m store.MemberRow) error {
		_, err := w.People.ChangePerson(r.ctx, m.PublicID, people.PersonChange{Name: m.Name, Role: "cutter", Active: true,
			Version: m.Version})
		return err
	}
	both(r, contest[pair]{name: "two owners demote each other",
		make: func() (p pair) {
			if _, err := r.db.Exec("UPDATE members SET role = 'owner' WHERE name IN ('Owner', 'Second')"); err != nil {
				r.Fatal(err)
			}
			list, err := r.two.People.People(r.ctx)
			if err != nil || len(list) != len(first)+1 {
				r.Fatal(err, len(list))
			}
			for _, m := range list {
				switch m.Name {
				case "Owner":
					p.one = m
				case "Second":
					p.two = m
				}
			}
			return p
		},
		a: func(w *work.Rooms, p pair) error { return demote(w, p.one) },
		b: func(w *work.Rooms, p pair) error { return demote(w, p.two) },
		check: func(_ pair, a, b error) string {
			var owners int
			if err := r.db.QueryRow("SELECT COUNT(*) FROM members WHERE role = 'owner' AND active").Scan(&owners); err != nil {
				return err.Error()
			}
			if owners == 0 || (owners == 2) != (a != nil && b != nil) {
				return fmt.Sprintf("%d owners are left", owners)
			}
			return ""
		}})
	if _, err := r.db.Exec("UPDATE members SET role = 'owner' WHERE name = 'Owner'"); err != nil {
		r.Fatal(err)
	}
}

// link lets two come in by one link.
func (r *arena) link() {
	r.Helper()
	n := 0
	come := func(password string) func(w *work.Rooms, link string) error {
		return func(w *work.Rooms, link string) error {
			_, err := w.People.ChoosePassword(context.Background(), link, password, audit.Where{})
			return err
		}
	}
	interleave(r, contest[string]{name: "two come in by one link",
		make: func() string {
			n++
			_, link, err := r.two.People.AddPerson(r.ctx, people.Account{Email: fmt.Sprintf("new%d@test.example", n),
				Name: "New", Role: "cutter"})
			if err != nil {
				r.Fatal(err)
			}
			return link
		},
		a: come("a sharp knife and a steel"), b: come("a cold room and a hook"),
		check: func(_ string, a, b error) string {
			var sessions int
			if err := r.db.QueryRow("SELECT COUNT(*) FROM sessions s JOIN people p ON p.id = s.person_id WHERE p.email = ?",
				fmt.Sprintf("new%d@test.example", n)).Scan(&sessions); err != nil {
				return err.Error()
			}
			if sessions != 1 || (a == nil) == (b == nil) {
				return fmt.Sprintf("%d sessions", sessions)
			}
			return ""
		}})
}

// code lets two screens send one code.
func (r *arena) code() {
	r.Helper()
	enrol := func(w *work.Rooms, code string) error {
		_, err := w.People.Enrol(context.Background(), code, audit.Where{Address: "127.0.0.1", About: "a screen"})
		return err
	}
	screens := 0
	interleave(r, contest[string]{name: "two screens send one code",
		make: func() string {
			if err := r.db.QueryRow("SELECT COUNT(*) FROM devices").Scan(&screens); err != nil {
				r.Fatal(err)
			}
			code, _, err := r.two.People.EnrolCode(r.ctx, r.bench)
			if err != nil {
				r.Fatal(err)
			}
			return code
		},
		a: enrol, b: enrol,
		check: func(_ string, a, b error) string {
			var now int
			if err := r.db.QueryRow("SELECT COUNT(*) FROM devices").Scan(&now); err != nil {
				return err.Error()
			}
			if now != screens+1 || (a == nil) == (b == nil) {
				return fmt.Sprintf("%d screens came", now-screens)
			}
			return ""
		}})
}

// Rules: what a member may no longer do counts at once in every program; and nobody who is not signed in may do
// anything.
func TestWhoAsks(t *testing.T) {
	r := newArena(t)
	list, err := r.two.People.People(r.ctx)
	if err != nil {
		t.Fatal(err)
	}
	for _, m := range list {
		if m.Name != "Cutter" {
			continue
		}
		token, err := r.two.People.SignInDemo(t.Context(), m.PublicID, audit.Where{})
		if err != nil {
			t.Fatal(err)
		}
		if who, err := r.two.People.BySession(t.Context(), token); err != nil || who.Role != "cutter" {
			t.Fatalf("%+v, %v", who, err)
		}
		if _, err := r.two.People.ChangePerson(r.ctx, m.PublicID, people.PersonChange{Name: m.Name, Role: "apprentice",
			Active: true, Version: m.Version}); err != nil {
			t.Fatal(err)
		}
		if _, err := r.two.People.BySession(t.Context(), token); err == nil {
			t.Error("who may do less than before is still signed in")
		}
	}
	for name, ask := range map[string]func(context.Context) error{
		"people": func(ctx context.Context) error { _, err := r.two.People.People(ctx); return err },
		"shop":   func(ctx context.Context) error { _, err := r.two.Shop.Shop(ctx); return err },
		"queue":  func(ctx context.Context) error { _, err := r.two.Stock.Queue(ctx, ""); return err },
		"boards": func(ctx context.Context) error {
			_, err := r.two.Bench.StartBreakdown(ctx, store.NewID(), r.bench)
			return err
		},
		"tastings": func(ctx context.Context) error { _, _, err := r.two.Judge.Tastings(ctx, ""); return err },
	} {
		if err := ask(context.Background()); err == nil {
			t.Errorf("%s: answered nobody", name)
		}
	}
}
