package judge

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"falda/internal/core/eating"
	"falda/internal/core/fault"
	"falda/internal/secret"
	"falda/internal/store"
	"falda/internal/work/audit"
)

// Sheet is what an eater gave a sample, named by its code.
type Sheet struct {
	Assessor int
	Code     string
	Ratings  eating.Ratings
}

// Enter writes sheets of an open tasting: all of them or none. Source is "paper" or "file".
func (s *Service) Enter(ctx context.Context, id string, sheets []Sheet, source string) (TastingView, error) {
	v, err := s.Tasting(ctx, id)
	if err != nil {
		return v, err
	}
	rows, err := s.sheetRows(v, sheets, source)
	if err != nil {
		return v, err
	}
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		return audit.Change{Action: "tasting.entered", Subject: id, SubjectName: v.Name,
			Became: map[string]any{"sheets": len(rows), "source": source}}, setSheets(ctx, tx, v.Tasting, rows)
	})
	if err != nil {
		return v, err
	}
	return s.Tasting(ctx, id)
}

// setSheets writes sheets of a tasting, as long as it is open.
func setSheets(ctx context.Context, tx *store.Store, t store.Tasting, rows []store.TastingSheet) error {
	t, err := tx.LockTasting(ctx, t.ShopID, t.ID)
	if err != nil {
		return err
	}
	if t.State != TastingOpen {
		return notOpen()
	}
	return tx.SetSheets(ctx, rows)
}

func notOpen() error {
	return fault.New("", "not_open", "This tasting is not open.", "Open it again first.")
}

func (s *Service) sheetRows(v TastingView, sheets []Sheet, source string) ([]store.TastingSheet, error) {
	if v.State != TastingOpen {
		return nil, notOpen()
	}
	if len(sheets) == 0 || len(sheets) > len(v.Samples)*len(v.Assessors) {
		return nil, fault.New("sheets", "out_of_range", "must hold at least one sheet, and no more than the tasting has", "")
	}
	var faults fault.List
	var rows []store.TastingSheet
	seen := map[string]bool{}
	for i, h := range sheets {
		at := fmt.Sprintf("sheets[%d].", i)
		p := slices.IndexFunc(v.Samples, func(p SampleView) bool { return p.Code == h.Code })
		if p < 0 {
			faults.Add(at+"code",
				fault.New("", "unknown", fault.Quote(h.Code)+" is not a code of this tasting",
					"Read the three digits on the sheet again."))
		}
		if h.Assessor < 1 || h.Assessor > len(v.Assessors) {
			faults.Add(at+"assessor",
				fault.New("", "out_of_range", fmt.Sprintf("must be from 1 to %d", len(v.Assessors)),
					"Read the eater's number on the sheet again."))
		}
		if key := fmt.Sprint(h.Assessor, h.Code); seen[key] {
			faults.Add(at+"code", fault.New("", "twice", "stands twice for this eater", "Leave one of the two."))
		} else {
			seen[key] = true
		}
		for _, m := range []struct {
			name string
			v    *float64
		}{{"tenderness", h.Ratings.Tenderness}, {"juiciness", h.Ratings.Juiciness}, {"flavour", h.Ratings.Flavour},
			{"overall", h.Ratings.Overall}} {
			if m.v != nil && (math.IsNaN(*m.v) || *m.v < 0 || *m.v > 100) {
				faults.Add(at+m.name, fault.New("", "out_of_range", "must be from 0 to 100", "Read the mark off the line anew."))
			}
		}
		if p >= 0 {
			rows = append(rows,
				store.TastingSheet{ShopID: v.ShopID, TastingID: v.ID, SampleID: v.Samples[p].ID, Assessor: h.Assessor,
					Tenderness: h.Ratings.Tenderness, Juiciness: h.Ratings.Juiciness, Flavour: h.Ratings.Flavour,
					Overall: h.Ratings.Overall, Source: source, At: s.now()})
		}
	}
	return rows, faults.Err()
}

// EnterCores writes the shear force of a sample, at least six cores in kgf; none takes it back.
func (s *Service) EnterCores(ctx context.Context, id, code string, cores []float64) (TastingView, error) {
	v, err := s.Tasting(ctx, id)
	if err != nil {
		return v, err
	}
	p := slices.IndexFunc(v.Samples, func(p SampleView) bool { return p.Code == code })
	if p < 0 {
		return v, store.ErrNotFound
	}
	if len(cores) > 0 {
		if _, err := eating.Shear(cores); err != nil {
			return v, err
		}
	}
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		return audit.Change{Action: "tasting.cores", Subject: id, SubjectName: v.Name + ", " + code,
			Became: map[string]any{"cores": cores}}, tx.SetCores(ctx, v.ShopID, v.Samples[p].ID, cores)
	})
	if err != nil {
		return v, err
	}
	return s.Tasting(ctx, id)
}

// Place is an eater's score page: blind, in the eater's own order. A tasting's name may say what is tasted, so it is
// called by its day.
type Place struct {
	Tasting  string
	Assessor int
	Open     bool
	Codes    []string
	Ratings  []eating.Ratings // by code
}

// BlindName is what eaters see a tasting called.
func BlindName(heldOn time.Time) string { return "Tasting of " + heldOn.Format("2 January 2006") }

// PlaceOf gives the score page behind a link. It asks for no account: the link is on the eater's sheet.
func (s *Service) PlaceOf(ctx context.Context, link string) (Place, error) {
	t, e, err := s.store.TastingByLink(ctx, secret.PlainCode(link))
	if err != nil {
		return Place{}, err
	}
	samples, _, sheets, err := s.store.TastingParts(ctx, t.ShopID, t.ID)
	if err != nil {
		return Place{}, err
	}
	out := Place{Tasting: BlindName(t.HeldOn), Assessor: e.Number, Open: t.State == TastingOpen}
	for _, n := range e.Orders {
		if n < 1 || n > len(samples) {
			continue
		}
		p := samples[n-1]
		var m eating.Ratings
		for _, h := range sheets {
			if h.SampleID == p.ID && h.Assessor == e.Number {
				m = RatingsOf(h)
			}
		}
		out.Codes, out.Ratings = append(out.Codes, p.Code), append(out.Ratings, m)
	}
	return out, nil
}

// Mark writes what the eater behind a link gave a sample.
func (s *Service) Mark(ctx context.Context, link, code string, m eating.Ratings) (Place, error) {
	t, e, err := s.store.TastingByLink(ctx, secret.PlainCode(link))
	if err != nil {
		return Place{}, err
	}
	samples, assessors, _, err := s.store.TastingParts(ctx, t.ShopID, t.ID)
	if err != nil {
		return Place{}, err
	}
	v := TastingView{Tasting: t, Assessors: assessors}
	for _, p := range samples {
		v.Samples = append(v.Samples, SampleView{TastingSample: p})
	}
	rows, err := s.sheetRows(v, []Sheet{{Assessor: e.Number, Code: code, Ratings: m}}, "phone")
	if err != nil {
		for i, f := range fault.Of(err) { // the eater sends one sheet only
			f.Field = strings.TrimPrefix(f.Field, "sheets[0].")
			fault.Of(err)[i] = f
		}
		return Place{}, err
	}
	if err := s.store.Tx(ctx, func(tx *store.Store) error { return setSheets(ctx, tx, t, rows) }); err != nil {
		return Place{}, err
	}
	return s.PlaceOf(ctx, link)
}
