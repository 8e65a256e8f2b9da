package api

import (
	"bytes"
	"context"
	"encoding/json"
	"image"
	"image/color"
	"image/png"
	"math"
	"net/http"
	"slices"
	"strings"
	"testing"

	"falda/internal/api/contract"
	"falda/internal/core/drill"
	"falda/internal/work/audit"
	"falda/internal/work/learn"
)

// photograph is a small PNG.
func photograph(t testing.TB) []byte {
	t.Helper()
	m := image.NewGray(image.Rect(0, 0, 60, 40))
	m.SetGray(3, 3, color.Gray{Y: 200})
	var b bytes.Buffer
	if err := png.Encode(&b, m); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

// learns gives a shop an owner who practises: a piece, a drill, and a note with a picture.
func (r *rig) learns(ctx context.Context, breakdown, mark string) map[string]string {
	r.t.Helper()
	must := func(err error) {
		r.t.Helper()
		if err != nil {
			r.t.Fatal(err)
		}
	}
	must(r.work.Learn.SetPractice(ctx, breakdown, "", learn.OnAsking))
	_, _, err := r.work.Learn.Answer(ctx, "beef.top_sirloin:name:cap", drill.Answer{Choices: []string{"cap"}}, "")
	must(err)
	id, err := r.work.Learn.AddNote(ctx, learn.NewNote{AtlasID: "beef.top_sirloin", Step: "cap", Words: mark + " says"})
	must(err)
	must(r.work.Learn.AddPicture(ctx, id, bytes.NewReader(photograph(r.t))))
	notes, err := r.work.Learn.Notes(ctx, "beef.top_sirloin")
	must(err)
	return map[string]string{"note_id": id, "picture_id": *notes[0].Picture}
}

// A sitting about a rump asks what is new, marks it in the atlas' words, and brings it back by the published rule:
// known after a day, then after six; what was wrong comes again in the same sitting.
func TestDrillsComeBack(t *testing.T) {
	r := newRig(t)
	r.signIn("apprentice")
	var s contract.Sitting
	r.ok("GET", base+"/learning/sitting?piece=beef.top_sirloin", nil, &s)
	if len(s.Questions) != 6 || s.Due != 0 || s.New < 30 {
		t.Fatalf("%d questions, %d due, %d new", len(s.Questions), s.Due, s.New)
	}
	groups := map[string]bool{}
	for _, q := range s.Questions {
		groups[q.Group] = true
		if q.Piece != "beef.top_sirloin" || q.Ask == "" {
			t.Errorf("%+v", q)
		}
	}
	if len(groups) != 5 {
		t.Errorf("drills of the first sitting: %v", groups)
	}
	answer := map[string]any{"card": "beef.top_sirloin:name:cap", "choices": []string{"cap"}}
	var v contract.DrillVerdict
	r.ok("POST", base+"/learning/check", answer, &v)
	if !v.Right || !v.Done || !strings.Contains(v.Says, "picanha") {
		t.Errorf("%+v", v)
	}
	var next contract.DrillNext
	r.ok("POST", base+"/learning/answers", answer, &next)
	if next.Days != 1 || next.Again || next.Due != day(today.AddDate(0, 0, 1)) {
		t.Errorf("%+v", next)
	}
	r.ok("POST", base+"/learning/answers", map[string]any{"card": "beef.top_sirloin:name:cap",
		"choices": []string{"cap"}, "felt": "guessed"}, &next)
	if next.Days != 6 || !next.Again {
		t.Errorf("%+v", next)
	}
	r.ok("POST", base+"/learning/answers", map[string]any{"card": "beef.top_sirloin:name:mouse",
		"choices": []string{"cap"}}, &next)
	if next.Days != 1 || !next.Again {
		t.Errorf("wrong: %+v", next)
	}
	var rec contract.LearningRecord
	r.ok("GET", base+"/learning", nil, &rec)
	i := slices.IndexFunc(rec.Pieces, func(p contract.LearnedPiece) bool { return p.Piece == "beef.top_sirloin" })
	p := rec.Pieces[i]
	if p.Asked != 2 || p.Known != 1 || p.Due != 0 || rec.Asked != 2 || *rec.NextDue != day(today.AddDate(0, 0, 1)) {
		t.Errorf("%+v, next %v", p, *rec.NextDue)
	}
	for _, bad := range []struct {
		field  string
		answer map[string]any
	}{
		{"card", map[string]any{"card": "beef.none:name:cap", "choices": []string{"cap"}}},
		{"choices", map[string]any{"card": "beef.top_sirloin:name:cap"}},
		{"felt", map[string]any{"card": "beef.top_sirloin:name:cap", "choices": []string{"cap"}, "felt": "fine"}},
		{"number", map[string]any{"card": "beef.top_sirloin:weight:cap", "number": -3}},
	} {
		if problem := r.fails("POST", base+"/learning/answers", bad.answer); !has(problem, bad.field, "") {
			t.Errorf("%s: %+v", bad.field, problem)
		}
	}
	if p := r.fails("GET", base+"/learning/sitting?piece=beef.none", nil); !has(p, "piece", "") {
		t.Errorf("%+v", p)
	}
}

// A plan of the shop's own is asked about like the atlas', each thing of it once.
func TestAShopsOwnPlanIsAskedOnce(t *testing.T) {
	r := newRig(t)
	var d contract.PlanDraft
	r.ok("GET", base+"/plans/beef.striploin/front_steaks/draft", nil, &d)
	d.Name = "Our way"
	r.ok("POST", base+"/plans/beef.striploin", d, nil)
	seen, own := map[string]bool{}, 0
	for range 12 { // sitting after sitting, until nothing is new
		var s contract.Sitting
		r.ok("GET", base+"/learning/sitting?piece=beef.striploin", nil, &s)
		for _, q := range s.Questions {
			if seen[q.Card] {
				t.Errorf("%s is asked twice", q.Card)
			}
			seen[q.Card] = true
			if strings.Contains(q.Ask, "Our way") {
				own++
			}
			a := map[string]any{"card": q.Card, "number": 1}
			if q.Number == nil {
				a["choices"] = []string{"none"}
			}
			if q.Things == nil {
				r.ok("POST", base+"/learning/answers", a, nil)
				continue
			}
			var v contract.DrillVerdict
			var off []string
			for range *q.Things { // each touch takes one thing off at least
				for _, x := range *q.Things {
					off = append(off, x.Id)
				}
			}
			r.ok("POST", base+"/learning/check", map[string]any{"card": q.Card, "choices": off}, &v)
			r.ok("POST", base+"/learning/answers", map[string]any{"card": q.Card, "choices": off}, nil)
		}
	}
	if own == 0 || len(seen) < 40 {
		t.Errorf("%d questions, %d of the own plan", len(seen), own)
	}
}

// What somebody learns is theirs: a cutter does not find an apprentice's record, a head cutter does.
func TestALearnersRecordIsTheirs(t *testing.T) {
	r := newRig(t)
	ids := map[string]string{}
	for _, role := range []string{"apprentice", "cutter"} {
		who, err := r.work.People.First(t.Context(), role)
		if err != nil {
			t.Fatal(err)
		}
		ids[role] = who.Member
	}
	board := r.onBench("MINE-1", "seamed")
	for _, x := range []struct {
		role, member string
		status       int
	}{{"apprentice", "apprentice", 200}, {"cutter", "apprentice", 404}, {"apprentice", "cutter", 404},
		{"yield_desk", "apprentice", 404}, {"head_cutter", "apprentice", 200}, {"owner", "cutter", 200}} {
		r.signIn(x.role)
		for _, path := range []string{"/learning?", "/learning/record.pdf?", "/learning/export?format=csv&"} {
			if status, _, _ := r.do("GET", base+path+"member="+ids[x.member], nil); status != x.status {
				t.Errorf("%s of %s as %s: %d", path, x.member, x.role, status)
			}
		}
	}
	var rec contract.LearningRecord
	r.signIn("apprentice")
	r.ok("GET", base+"/learning", nil, &rec)
	if !rec.Own || len(rec.Others) != 0 {
		t.Errorf("%+v", rec.Others)
	}
	practice := base + "/breakdowns/" + board.Id + "/practice"
	if p := r.fails("PUT", practice, map[string]any{"level": 2, "member": ids["cutter"]}); !has(p, "member", "") {
		t.Errorf("%+v", p)
	}
	r.ok("PUT", practice, map[string]any{"level": 2}, nil)
	r.signIn("cutter")
	if status, _, _ := r.do("GET", practice+"/review", nil); status != 404 {
		t.Errorf("a cutter sees the review: %d", status)
	}
	var mark contract.PracticeMark
	r.ok("GET", practice, nil, &mark)
	if !mark.Practice || *mark.Level != 2 || *mark.Member != ids["apprentice"] {
		t.Errorf("%+v", mark)
	}
}

// A practice piece lies beside the house step by step; a head cutter signs off, nobody their own; what was said last
// counts, and stands in the record, its page and its file.
func TestPracticeIsReviewedAndSignedOff(t *testing.T) {
	r := newRig(t)
	r.priced()
	for range 5 { // so that the house has a history
		r.cutHand(r.onBench(r.next("HOUSE"), "seamed"))
	}
	r.signIn("apprentice")
	board := r.onBenchAs("owner", "apprentice", "PRACTICE-1")
	practice := base + "/breakdowns/" + board.Id + "/practice"
	r.ok("PUT", practice, map[string]any{"level": 3}, nil)
	r.cutHand(board)
	var v contract.PracticeReview
	r.ok("GET", practice+"/review", nil, &v)
	at := slices.IndexFunc(v.Steps, func(s contract.PracticeStep) bool { return s.Step == "cap" })
	if !v.Closed || v.MaySign || v.Past != 5 || at < 0 || math.Abs(v.Steps[at].Pct-960.0/66) > 0.01 ||
		v.Steps[at].N != 5 || v.HouseMinutes != 17 || v.Steps[at].HouseTimed != 0 { // typed minutes say nothing of a step
		t.Fatalf("%+v", v)
	}
	if status, _, _ := r.do("POST", practice+"/sign-offs", map[string]any{"step": "cap", "signed": true}); status != 403 {
		t.Errorf("an apprentice signs: %d", status)
	}
	r.signIn("head_cutter")
	if p := r.fails("POST", practice+"/sign-offs", map[string]any{"step": "cap", "signed": false}); !has(p, "words", "") {
		t.Errorf("%+v", p)
	}
	if p := r.fails("POST", practice+"/sign-offs", map[string]any{"step": "tail", "signed": true}); !has(p, "step", "") {
		t.Errorf("%+v", p)
	}
	r.ok("POST", practice+"/sign-offs", map[string]any{"step": "cap", "signed": false, "words": "Shorter strokes"}, &v)
	r.ok("POST", practice+"/sign-offs", map[string]any{"step": "cap", "signed": true}, &v)
	if s := v.Steps[at].Signed; s == nil || !s.Signed {
		t.Errorf("%+v", v.Steps[at])
	}
	var rec contract.LearningRecord
	r.ok("GET", base+"/learning?member="+v.Member, nil, &rec)
	if len(rec.Pieces) != 1 || len(rec.Pieces[0].Signed) != 1 || rec.Pieces[0].Cut != 1 ||
		len(rec.Pieces[0].Practices) != 1 || rec.Pieces[0].Curve == nil || rec.Pieces[0].Curve.HouseN != 5 {
		t.Fatalf("%+v", rec)
	}
	// the rump weighs what a usual one does: the page of the piece and the record tell the same minutes of the others
	if c := rec.Pieces[0].Curve; c.HouseMinutes == nil || *c.HouseMinutes != v.HouseMinutes || v.Timed != c.HouseN {
		t.Errorf("the others took %v minutes there and %v here", c.HouseMinutes, v.HouseMinutes)
	}
	// cut alike, at the same prices: learning has cost nothing
	if c := rec.Pieces[0].Curve; c.Lost == nil || strings.Trim(*c.Lost, "-0.") != "" ||
		c.Cuts[0].MeatPct != *c.Cuts[0].HousePct {
		t.Errorf("%+v", c)
	}
	_, _, raw := r.do("GET", base+"/learning/record.pdf?member="+v.Member, nil)
	for _, want := range []string{"Rump cap", "Signed off", "Cut: 1"} {
		if !bytes.Contains(printed(raw), []byte(want)) {
			t.Errorf("the page does not say %q", want)
		}
	}
	_, _, raw = r.do("GET", base+"/learning/export?format=csv&member="+v.Member, nil)
	if !strings.Contains(string(raw), "signed off,beef.top_sirloin,Rump cap") {
		t.Errorf("%s", raw)
	}
	r.signIn("apprentice")
	_, _, raw = r.do("GET", base+"/me/data", nil)
	for _, want := range []string{`"kind":"practice"`, `"kind":"sign_off"`} {
		if !bytes.Contains(raw, []byte(want)) {
			t.Errorf("what is kept of oneself lacks %s", want)
		}
	}
	r.ok("DELETE", practice, nil, nil)
	if status, _, _ := r.do("GET", practice+"/review", nil); status != 404 {
		t.Errorf("an ordinary piece has a review: %d", status)
	}
}

// Two cutters took 2 and 4 minutes for each step of a rump; an apprentice takes 5. By hand the others take 3 for a step
// and 27 for the nine of it, and the apprentice's own piece does not count among them.
func TestStepsBesideTheOthers(t *testing.T) {
	r := newRig(t)
	for i, role := range []string{"cutter", "head_cutter", "apprentice"} {
		b := r.onBenchAs("owner", role, r.next("STEP"))
		if role == "apprentice" {
			r.ok("PUT", base+"/breakdowns/"+b.Id+"/practice", map[string]any{"level": 2}, nil)
		}
		each := []int{2, 4, 5}[i]
		r.book(b.Id, r.event("opened", 0, map[string]any{"net_g": 6600}))
		at := 0
		for _, w := range handWeights {
			at += each
			e := map[string]any{"part": w.part, "net_g": w.g}
			if w.kind == "discarded" {
				e["reason"] = "as usual"
			}
			r.book(b.Id, r.event(w.kind, at, e))
		}
		r.book(b.Id, r.event("closed", at, nil))
		if role != "apprentice" {
			continue
		}
		var v contract.PracticeReview
		r.ok("GET", base+"/breakdowns/"+b.Id+"/practice/review", nil, &v)
		if v.Minutes != 45 || v.HouseMinutes != 27 || v.Timed != 2 {
			t.Errorf("%v minutes, the others %v on %d pieces", v.Minutes, v.HouseMinutes, v.Timed)
		}
		for _, s := range v.Steps {
			if s.Kind != "loss" && (s.Minutes != 5 || s.HouseMinutes != 3 || s.HouseTimed != 2) {
				t.Errorf("%s: %v minutes, the others %v (%d)", s.Step, s.Minutes, s.HouseMinutes, s.HouseTimed)
			}
		}
	}
}

// Notes of the house stand at its steps with their picture, written anew; a picture of a practice piece is seen by
// whose it is and by leads; taken away, both are gone.
func TestNotesAndPictures(t *testing.T) {
	r := newRig(t)
	note := map[string]any{"piece": "beef.top_sirloin", "step": "cap", "words": "Two fingers from the vein."}
	r.signIn("apprentice")
	if p := r.fails("POST", base+"/notes", note); p.Status != 409 {
		t.Errorf("%+v", p)
	}
	r.signIn("head_cutter")
	var ref contract.NoteRef
	r.ok("POST", base+"/notes", note, &ref)
	if status, _, raw := r.do("POST", base+"/notes/"+ref.Id+"/picture", string(photograph(t))); status != 204 {
		t.Fatalf("%d %s", status, raw)
	}
	if p := r.fails("POST", base+"/notes/"+ref.Id+"/picture", "<svg/>"); !has(p, "picture", "") {
		t.Errorf("%+v", p)
	}
	var list []contract.HouseNote
	r.ok("GET", base+"/notes?piece=beef.top_sirloin", nil, &list)
	if len(list) != 1 || list[0].Picture == nil || !list[0].Mine {
		t.Fatalf("%+v", list)
	}
	status, header, raw := r.do("GET", base+"/pictures/"+*list[0].Picture, nil)
	if status != 200 || header.Get("Content-Type") != "image/jpeg" || http.DetectContentType(raw) != "image/jpeg" {
		t.Errorf("%d %v", status, header)
	}
	var v contract.DrillVerdict
	r.ok("POST", base+"/learning/check", map[string]any{"card": "beef.top_sirloin:touch:cap",
		"choices": []string{"mouse"}}, &v)
	if v.Right || !slices.Contains(v.Notes, "Two fingers from the vein.") {
		t.Errorf("%+v", v)
	}
	r.privatePicture()
	r.signIn("head_cutter")
	if p := r.fails("POST", base+"/notes",
		map[string]any{"piece": "beef.top_sirloin", "step": "none", "words": ""}); !has(p, "step", "") ||
		!has(p, "words", "") {
		t.Errorf("%+v", p)
	}
	r.ok("DELETE", base+"/notes/"+ref.Id, nil, nil)
	if status, _, _ := r.do("GET", base+"/pictures/"+*list[0].Picture, nil); status != 404 {
		t.Errorf("the picture is still there: %d", status)
	}
}

func (r *rig) privatePicture() {
	r.t.Helper()
	board := r.onBenchAs("owner", "apprentice", "PICTURE-1")
	practice := base + "/breakdowns/" + board.Id + "/practice"
	r.ok("PUT", practice, map[string]any{"level": 1}, nil)
	var ref contract.NoteRef
	r.ok("POST", base+"/notes", map[string]any{"breakdown_id": board.Id, "words": "My first."}, &ref)
	if status, _, raw := r.do("POST", base+"/notes/"+ref.Id+"/picture", string(photograph(r.t))); status != 204 {
		r.t.Fatalf("%d %s", status, raw)
	}
	var v contract.PracticeReview
	r.ok("GET", practice+"/review", nil, &v)
	for _, x := range []struct {
		role string
		want int
	}{{"apprentice", 200}, {"head_cutter", 200}, {"cutter", 404}} {
		r.signIn(x.role)
		if status, _, _ := r.do("GET", base+"/pictures/"+*v.Notes[0].Picture, nil); status != x.want {
			r.t.Errorf("the picture of a practice piece as %s: %d", x.role, status)
		}
	}
}

// onBenchAs puts a rump on the bench as one role and goes on as another.
func (r *rig) onBenchAs(first, then, lot string) contract.Board {
	r.t.Helper()
	r.signIn(first)
	b := r.onBench(lot, "seamed")
	r.signIn(then)
	return b
}

// next is a number that no lot has yet.
func (r *rig) next(name string) string {
	r.lots++
	return name + "-" + itoa(r.lots)
}

// Two screens of one person take turns: no answer is lost.
func TestTwoScreensOfOneLearner(t *testing.T) {
	r := newRig(t)
	ctx := asRole(t, r.work, "apprentice")
	errs := make(chan error, 6)
	for range 6 {
		go func() {
			_, _, err := r.work.Learn.Answer(ctx, "beef.top_sirloin:name:cap", drill.Answer{Choices: []string{"cap"}}, "")
			errs <- err
		}()
	}
	for range 6 {
		if err := <-errs; err != nil {
			t.Fatal(err)
		}
	}
	who, err := audit.Who(ctx)
	if err != nil {
		t.Fatal(err)
	}
	card, err := r.store.DrillCard(ctx, who.ShopID, who.MemberID, "beef.top_sirloin:name:cap")
	if raw, _ := json.Marshal(card); err != nil || card.Seen != 6 || card.Reps != 6 {
		t.Errorf("%s, %v", raw, err)
	}
}
