package judge

import (
	"context"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"time"

	"falda/internal/core/age"
	"falda/internal/core/atlas"
	"falda/internal/core/eating"
	"falda/internal/core/fault"
	"falda/internal/core/page"
	"falda/internal/secret"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/shop"
	"falda/internal/work/stock"
)

// States of a tasting. Only what is closed counts for the house's grades.
const (
	TastingOpen   = "open"
	TastingClosed = "closed"
	TastingVoid   = "void"
)

const maxTastingName = 80

// NewTasting is a tasting that is planned.
type NewTasting struct {
	Name      string
	HeldOn    string
	Assessors int
	Seed      int64
	Samples   []NewSample
}

// NewSample is a muscle by a cooking method; of a recorded breakdown where it came from one.
type NewSample struct {
	AtlasID, Part, Method, Breakdown, Note string
}

// SampleView is a sample with what its eaters found.
type SampleView struct {
	store.TastingSample
	Piece      atlas.Piece
	Muscle     atlas.Muscle
	MethodName string
	From       string // lot and piece that it came from
	Result     *eating.PanelResult
	Shear      *eating.ShearResult
	Before     eating.Score // the house's score without this tasting
	After      eating.Score // with it
}

// TastingView is a tasting with everything in it.
type TastingView struct {
	store.Tasting
	Weights   string
	Samples   []SampleView
	Assessors []store.TastingAssessor
	Sheets    []store.TastingSheet
	Checked   []eating.Assessor // by eater
	Balanced  bool
	Next      int // so many eaters, or the next more, would be balanced
}

// Composites are the scores by eater and sample; NaN where a mark is missing.
func (v TastingView) composites(w eating.Weights) [][]float64 {
	out := make([][]float64, len(v.Assessors))
	for e := range out {
		out[e] = make([]float64, len(v.Samples))
		for i := range out[e] {
			out[e][i] = math.NaN()
		}
	}
	for _, h := range v.Sheets {
		i := slices.IndexFunc(v.Samples, func(p SampleView) bool { return p.ID == h.SampleID })
		if score, ok := w.Composite(RatingsOf(h)); ok && i >= 0 && h.Assessor >= 1 && h.Assessor <= len(out) {
			out[h.Assessor-1][i] = score
		}
	}
	return out
}

// RatingsOf are the marks on a sheet.
func RatingsOf(h store.TastingSheet) eating.Ratings {
	return eating.Ratings{Tenderness: h.Tenderness, Juiciness: h.Juiciness, Flavour: h.Flavour, Overall: h.Overall}
}

// tastingsAtOnce is how many tastings a page of their list holds.
const tastingsAtOnce = 50

// Tastings lists tastings, the latest first, page by page, with the mark at which the next one goes on; empty after the
// last.
func (s *Service) Tastings(ctx context.Context, after string) ([]store.Tasting, string, error) {
	mark, err := page.Read(after, 2)
	if err != nil {
		return nil, "", err
	}
	shop, err := s.shops.Current(ctx)
	if err != nil {
		return nil, "", err
	}
	var from *store.TastingMark
	if mark != nil {
		from = &store.TastingMark{HeldOn: time.Unix(mark[0], 0).UTC(), ID: mark[1]}
	}
	list, err := s.store.Tastings(ctx, shop.ID, from, tastingsAtOnce+1)
	if err != nil || len(list) <= tastingsAtOnce {
		return list, "", err
	}
	list = list[:tastingsAtOnce]
	last := list[tastingsAtOnce-1]
	return list, page.Mark(last.HeldOn.Unix(), last.ID), nil
}

// PlanTasting plans a tasting: samples under blind codes, and for each eater an order by a Williams design and a link.
func (s *Service) PlanTasting(ctx context.Context, in NewTasting) (TastingView, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return TastingView{}, err
	}
	t := store.Tasting{PublicID: store.NewID(), ShopID: shop.ID, State: TastingOpen, Assessors: in.Assessors,
		Seed: in.Seed, Version: 1, CreatedAt: s.now()}
	var faults fault.List
	t.Name, t.HeldOn = s.readTasting(shop, in.Name, in.HeldOn, &faults)
	if in.Seed == 0 {
		t.Seed = s.now().UnixNano() % 1_000_000
	}
	plan, err := eating.Serve(len(in.Samples), in.Assessors, Seeded(uint64(t.Seed)))
	faults = append(faults, fault.Of(err)...)
	if err != nil && fault.Of(err) == nil {
		return TastingView{}, err
	}
	samples := make([]store.TastingSample, len(in.Samples))
	for i, n := range in.Samples {
		if samples[i], err = s.readSample(ctx, shop, n, t.HeldOn, fmt.Sprintf("samples[%d].", i), &faults); err != nil {
			return TastingView{}, err
		}
		samples[i].Number = i + 1
	}
	if err := faults.Err(); err != nil {
		return TastingView{}, err
	}
	for i := range samples {
		samples[i].Code = plan.Codes[i]
	}
	assessors := make([]store.TastingAssessor, in.Assessors)
	for i := range assessors {
		assessors[i] = store.TastingAssessor{Number: i + 1, Link: tastingLink(), Orders: plan.Orders[i]}
	}
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		return audit.Change{Action: "tasting.planned", Subject: t.PublicID, SubjectName: t.Name,
				Became: map[string]any{"samples": len(samples), "assessors": t.Assessors}},
			tx.CreateTasting(ctx, &t, samples, assessors)
	})
	if err != nil {
		return TastingView{}, err
	}
	return s.Tasting(ctx, t.PublicID)
}

// Seeded shuffles by a seed: the same seed, the same order.
func Seeded(seed uint64) eating.Shuffle { return rand.New(rand.NewPCG(seed, 0x66616c6461)).Perm }

// tastingLink is what is behind the code on a score sheet: as hard to guess as two codes of an enrolment.
func tastingLink() string {
	return (secret.PlainCode(secret.NewCode()) + secret.PlainCode(secret.NewCode()))[:12]
}

func (s *Service) readTasting(shop shop.WithPlans, name, heldOn string, faults *fault.List) (string, time.Time) {
	name = strings.TrimSpace(name)
	faults.Add("name", fault.Text(name, maxTastingName, true))
	day, err := time.Parse(time.DateOnly, heldOn)
	switch today := shop.Day(s.now()); {
	case err != nil:
		faults.Add("held_on", fault.New("", "not_a_date", "is no date", "Write it as 2026-11-25."))
	case day.Before(today.AddDate(-5, 0, 0)) || day.After(today.AddDate(1, 0, 0)):
		faults.Add("held_on",
			fault.New("", "out_of_range", "is more than five years ago, or more than one ahead", "Check the year."))
	}
	return name, day
}

func (s *Service) readSample(ctx context.Context, shop shop.WithPlans, n NewSample, heldOn time.Time, at string,
	faults *fault.List) (store.TastingSample, error) {
	out := store.TastingSample{AtlasID: n.AtlasID, Part: n.Part, Method: n.Method, Note: strings.TrimSpace(n.Note)}
	faults.Add(at+"note", fault.Text(out.Note, 200, false))
	p, ok := s.atlas.Find(n.AtlasID)
	if !ok {
		faults.Add(at+"atlas_id",
			fault.New("", "unknown", fault.Quote(n.AtlasID)+" is not a piece of the atlas", "Choose one of the list."))
		return out, nil
	}
	if _, ok := p.Muscle(n.Part); !ok {
		faults.Add(at+"part",
			fault.New("", "unknown", fault.Quote(n.Part)+" is not a muscle of this piece", "Choose one of the list."))
	}
	if _, ok := atlas.FindMethod(n.Method); !ok {
		faults.Add(at+"method",
			fault.New("", "unknown", fault.Quote(n.Method)+" is not a cooking method", "Choose one of the list."))
	}
	if n.Breakdown == "" {
		return out, nil
	}
	b, err := s.store.Breakdown(ctx, shop.ID, n.Breakdown)
	if err == nil {
		var h store.PieceRow
		if h, err = s.store.PieceRowByID(ctx, shop.ID, b.PieceID); err == nil && h.Lot.AtlasID == n.AtlasID {
			out.BreakdownID = &b.ID
			days := age.Days(h.Lot.SlaughteredOn, heldOn)
			out.AgeDays = &days
			return out, nil
		}
	}
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return out, err
	}
	faults.Add(at+"breakdown_id",
		fault.New("", "unknown", "is not a breakdown of such a piece", "Leave it out, or choose one from the log."))
	return out, nil
}

// Tasting gives a tasting with what its eaters found, and what that does to the house's scores.
func (s *Service) Tasting(ctx context.Context, id string) (TastingView, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return TastingView{}, err
	}
	t, err := s.store.Tasting(ctx, shop.ID, id)
	if err != nil {
		return TastingView{}, err
	}
	return s.tasting(ctx, shop, t)
}

func (s *Service) tasting(ctx context.Context, shop shop.WithPlans, t store.Tasting) (TastingView, error) {
	samples, assessors, sheets, err := s.store.TastingParts(ctx, shop.ID, t.ID)
	if err != nil {
		return TastingView{}, err
	}
	grades, err := s.HouseGrades(ctx, shop)
	if err != nil {
		return TastingView{}, err
	}
	v := TastingView{Tasting: t, Assessors: assessors, Sheets: sheets, Weights: grades.House.Weights}
	w, _ := eating.FindWeights(v.Weights)
	for _, p := range samples {
		x := SampleView{TastingSample: p}
		x.Piece, _ = s.atlas.Find(p.AtlasID)
		x.Muscle, _ = x.Piece.Muscle(p.Part)
		m, _ := atlas.FindMethod(p.Method)
		x.MethodName = m.Name
		var ratings []eating.Ratings
		for _, h := range sheets {
			if h.SampleID == p.ID {
				ratings = append(ratings, RatingsOf(h))
			}
		}
		if r, err := eating.Panel(ratings, w); err == nil {
			x.Result = &r
			x.Before = grades.Of(x.Piece, p.Part, p.Method, t.PublicID).Score
			x.After = grades.House.WithPanel(x.Before, r.Score, r.Complete)
		}
		if len(p.Cores) > 0 {
			if r, err := eating.Shear(p.Cores); err == nil {
				x.Shear = &r
			}
		}
		if p.BreakdownID != nil {
			if x.From, err = s.sampleFrom(ctx, shop, *p.BreakdownID); err != nil {
				return v, err
			}
		}
		v.Samples = append(v.Samples, x)
	}
	v.Checked = eating.Consistency(v.composites(w))
	v.Balanced, v.Next = eating.Balance(len(samples), t.Assessors)
	return v, nil
}

func (s *Service) sampleFrom(ctx context.Context, shop shop.WithPlans, breakdown int64) (string, error) {
	id, err := s.store.PieceOfBreakdown(ctx, shop.ID, breakdown)
	if err != nil {
		return "", err
	}
	h, err := s.store.PieceRowByID(ctx, shop.ID, id)
	return stock.PieceName(h), err
}

// TastingChange changes a tasting's name, day or state. Voiding needs a reason.
type TastingChange struct {
	Name, HeldOn, State, Reason string
	Version                     int
}

// ChangeTasting changes what can change of a tasting. The samples and the orders stand: sheets may have been handed
// out.
func (s *Service) ChangeTasting(ctx context.Context, id string, in TastingChange) (TastingView, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return TastingView{}, err
	}
	v, err := s.Tasting(ctx, id)
	if err != nil {
		return v, err
	}
	t := v.Tasting
	var faults fault.List
	t.Name, t.HeldOn = s.readTasting(shop, in.Name, in.HeldOn, &faults)
	t.Reason = strings.TrimSpace(in.Reason)
	faults.Add("reason", fault.Text(t.Reason, 200, in.State == TastingVoid))
	switch {
	case !slices.Contains([]string{TastingOpen, TastingClosed, TastingVoid}, in.State):
		faults.Add("state", fault.New("", "unknown", "must be open, closed or void", ""))
	case in.State == TastingClosed && t.State != TastingClosed:
		for _, p := range v.Samples {
			if p.Result == nil {
				faults.Add("", noSheets(p.Code))
				break
			}
		}
		now := s.now()
		t.ClosedAt = &now
	case in.State != TastingClosed:
		t.ClosedAt = nil
	}
	if err := faults.Err(); err != nil {
		return v, err
	}
	was := map[string]any{"name": v.Name, "held_on": v.HeldOn.Format(time.DateOnly), "state": v.State}
	became := map[string]any{"name": t.Name, "held_on": t.HeldOn.Format(time.DateOnly), "state": in.State}
	if t.Reason != "" {
		became["reason"] = t.Reason
	}
	t.State, t.Version = in.State, in.Version
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		made := audit.Change{Action: "tasting.changed", Subject: id, SubjectName: t.Name, Was: was, Became: became}
		if _, err := tx.LockTasting(ctx, t.ShopID, t.ID); err != nil { // no sheet comes in meanwhile
			return made, err
		}
		if err := tx.ChangeTasting(ctx, t); err != nil {
			return made, err
		}
		return made, writePanelResults(ctx, tx, t)
	})
	if err != nil {
		return v, err
	}
	return s.Tasting(ctx, id)
}

func noSheets(code string) error {
	return fault.New("state", "no_sheets", "cannot be closed: sample "+code+" has no complete sheet",
		"Enter its sheets, or void the tasting.")
}
