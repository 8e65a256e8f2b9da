package work_test

import (
	"fmt"
	"testing"

	"falda/internal/core/eating"
	"falda/internal/work"
	"falda/internal/work/judge"
)

// tasting gives an open tasting of two samples with a sheet of each, by one of its four assessors.
func (r *arena) tasting() judge.TastingView {
	r.Helper()
	r.lots++
	v, err := r.two.Judge.PlanTasting(r.ctx, judge.NewTasting{Name: fmt.Sprintf("Rump %d", r.lots), HeldOn: "2026-03-19",
		Assessors: 4, Seed: 5, Samples: []judge.NewSample{{AtlasID: "beef.top_sirloin", Part: "cap", Method: "grill"},
			{AtlasID: "beef.top_sirloin", Part: "tri_tip", Method: "grill"}}})
	if err == nil {
		v, err = r.two.Judge.Enter(r.ctx, v.PublicID, r.sheets(v, 1, 60), "paper")
	}
	if err != nil {
		r.Fatal(err)
	}
	return v
}

// sheets are those of an assessor, who gives all the same marks.
func (r *arena) sheets(v judge.TastingView, assessor int, mark float64) (out []judge.Sheet) {
	for _, x := range v.Samples {
		out = append(out, judge.Sheet{Assessor: assessor, Code: x.Code,
			Ratings: eating.Ratings{Tenderness: &mark, Juiciness: &mark, Flavour: &mark, Overall: &mark}})
	}
	return out
}

func (r *arena) set(state string) func(w *work.Rooms, v judge.TastingView) error {
	return func(w *work.Rooms, v judge.TastingView) error {
		_, err := w.Judge.ChangeTasting(r.ctx, v.PublicID, judge.TastingChange{Name: v.Name, HeldOn: "2026-03-19",
			State: state, Reason: "a test", Version: v.Version})
		return err
	}
}

// standing says whether what is written of a tasting's panel is what its sheets say; nothing, where it does not count.
func (r *arena) standing(v judge.TastingView) string {
	var state string
	if err := r.db.QueryRow("SELECT state FROM tastings WHERE public_id = ?", v.PublicID).Scan(&state); err != nil {
		return err.Error()
	}
	rows, err := r.db.Query(`SELECT s.id, (SELECT COUNT(*) FROM tasting_sheets h WHERE h.sample_id = s.id),
		(SELECT COUNT(*) FROM panel_results p WHERE p.sample_id = s.id),
		(SELECT COALESCE(MAX(p.assessors), 0) FROM panel_results p WHERE p.sample_id = s.id)
		FROM tasting_samples s JOIN tastings t ON t.id = s.tasting_id WHERE t.public_id = ?`, v.PublicID)
	if err != nil {
		return err.Error()
	}
	defer rows.Close()
	for rows.Next() {
		var id int64
		var sheets, results, counted int
		if err := rows.Scan(&id, &sheets, &results, &counted); err != nil {
			return err.Error()
		}
		switch {
		case state != judge.TastingClosed && results != 0:
			return fmt.Sprintf("a tasting that is %s has results", state)
		case state == judge.TastingClosed && (results == 0 || counted != sheets):
			return fmt.Sprintf("%d sheets, and the results count %d", sheets, counted)
		}
	}
	if err := rows.Err(); err != nil {
		return err.Error()
	}
	return ""
}

// Rule: what is written of the panel of a closed tasting is what its sheets say, and of another nothing is, whatever
// two do at once.
func TestTwoAtOnceOnATasting(t *testing.T) {
	r := newArena(t)
	check := func(v judge.TastingView, _, _ error) string { return r.standing(v) }
	enter := func(w *work.Rooms, v judge.TastingView) error {
		_, err := w.Judge.Enter(r.ctx, v.PublicID, r.sheets(v, 2, 40), "paper")
		return err
	}
	mark := func(w *work.Rooms, v judge.TastingView) error {
		given := 30.0
		_, err := w.Judge.Mark(t.Context(), v.Assessors[2].Link, v.Samples[0].Code,
			eating.Ratings{Tenderness: &given, Juiciness: &given, Flavour: &given, Overall: &given})
		return err
	}
	shut := func(w *work.Rooms, v judge.TastingView) error { return r.set(judge.TastingClosed)(w, v) }
	both(r, contest[judge.TastingView]{name: "close a tasting, enter sheets", make: r.tasting, a: shut, b: enter,
		check: check})
	both(r, contest[judge.TastingView]{name: "close a tasting, mark by phone", make: r.tasting, a: shut, b: mark,
		check: check})
	both(r, contest[judge.TastingView]{name: "void a closed tasting, write the results that it lacks",
		make: func() judge.TastingView {
			v := r.tasting()
			if err := shut(r.two, v); err != nil {
				t.Fatal(err)
			}
			v, err := r.two.Judge.Tasting(r.ctx, v.PublicID)
			if err != nil {
				t.Fatal(err)
			}
			if _, err := r.db.Exec("DELETE FROM panel_results WHERE tasting_id = ?", v.ID); err != nil {
				t.Fatal(err)
			}
			return v
		},
		a: func(w *work.Rooms, v judge.TastingView) error { return r.set(judge.TastingVoid)(w, v) },
		b: func(w *work.Rooms, _ judge.TastingView) error { return w.Judge.Upkeep(t.Context()) }, check: check})
	if r.forced < 20 {
		t.Errorf("only %d interleavings were forced", r.forced)
	}
}

// Rule: a tasting counts from the moment it is closed until it is opened again; the shop's grades follow at once, in
// every program.
func TestGradesFollowATasting(t *testing.T) {
	r := newArena(t)
	known := func(w *work.Rooms) int {
		t.Helper()
		sh, err := w.Shop.WithPlans(r.ctx)
		if err != nil {
			t.Fatal(err)
		}
		g, err := w.Judge.HouseGrades(r.ctx, sh)
		if err != nil {
			t.Fatal(err)
		}
		p, ok := w.Atlas().Find("beef.top_sirloin")
		if !ok {
			t.Fatal("no rump")
		}
		return len(g.Of(p, "cap", "grill", "").Panels)
	}
	v := r.tasting()
	for _, x := range []struct {
		state string
		known int
	}{{judge.TastingClosed, 1}, {judge.TastingOpen, 0}, {judge.TastingClosed, 1}, {judge.TastingVoid, 0}} {
		if known(r.one) != 1-x.known || known(r.two) != 1-x.known {
			t.Fatalf("before it is %s: %d and %d panels", x.state, known(r.one), known(r.two))
		}
		if err := r.set(x.state)(r.two, v); err != nil {
			t.Fatal(err)
		}
		if known(r.one) != x.known || known(r.two) != x.known {
			t.Errorf("%s: %d and %d panels, expected %d", x.state, known(r.one), known(r.two), x.known)
		}
		v.Version++
	}
}
