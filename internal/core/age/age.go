// Package age says whether a piece is old enough. A muscle is ready for quick cooking its least age after slaughter; a
// block is ready when all its muscles that are sold for quick cooking are. The least ages are the atlas' (their basis
// stands there); the package has no clock, the caller says what day it is.
package age

import (
	"time"

	"falda/internal/core/atlas"
)

// Muscle is one muscle's readiness.
type Muscle struct {
	ID         string
	Name       string
	MinAgeDays int
	ReadyOn    time.Time
	Ready      bool
}

// Readiness is a block's.
type Readiness struct {
	Muscles []Muscle  // those that go to quick cooking, in the atlas' order
	Ready   bool      // all of them are
	ReadyOn time.Time // the day the last of them is
}

// Of works readiness out for the given plans: a muscle counts when at least half of it goes into products for quick
// cooking under one of them. Days are calendar days in UTC.
func Of(p atlas.Piece, plans []atlas.Plan, slaughtered, today time.Time) Readiness {
	r := Readiness{Ready: true, ReadyOn: Day(slaughtered)}
	for _, m := range p.Muscles {
		if !quick(m.ID, plans) {
			continue
		}
		on := Day(slaughtered).AddDate(0, 0, m.MinAgeDays)
		ready := !Day(today).Before(on)
		r.add(Muscle{m.ID, m.Name, m.MinAgeDays, on, ready})
	}
	return r
}

// add lets a block wait for one more muscle.
func (r *Readiness) add(m Muscle) {
	r.Muscles = append(r.Muscles, m)
	r.Ready = r.Ready && m.Ready
	if m.ReadyOn.After(r.ReadyOn) {
		r.ReadyOn = m.ReadyOn
	}
}

// OfCarcass works readiness out for a carcass: its pieces in their usual division stand where the muscles of a piece
// do, each as old as it must be for quick cooking under any of its plans; those of which nothing is for it are left
// out.
func OfCarcass(a *atlas.Atlas, c atlas.Carcass, market string, slaughtered, today time.Time) Readiness {
	r := Readiness{Ready: true, ReadyOn: Day(slaughtered)}
	for _, part := range c.Division(atlas.UsualDivision).Parts {
		p, _ := a.Find(part.Piece)
		of := Of(p, p.Plans, slaughtered, today)
		if len(of.Muscles) > 0 {
			r.add(Muscle{p.ID, p.NameIn(market), Days(slaughtered, of.ReadyOn), of.ReadyOn, of.Ready})
		}
	}
	return r
}

func quick(muscle string, plans []atlas.Plan) bool {
	for _, pl := range plans {
		pct := 0.0
		for _, pr := range pl.Products {
			if m, ok := atlas.FindMethod(pr.Cook); ok && m.Quick {
				pct += pr.From[muscle]
			}
		}
		if pct >= 50 {
			return true
		}
	}
	return false
}

// Days counts calendar days from a day to another; negative when it lies before.
func Days(from, to time.Time) int { return int(Day(to).Sub(Day(from)).Hours() / 24) }

// Day is the calendar day of a time, at midnight UTC.
func Day(t time.Time) time.Time {
	y, m, d := t.Date()
	return time.Date(y, m, d, 0, 0, 0, 0, time.UTC)
}

// How many days after slaughter meat may still be minced: chilled meat, and boned, vacuum-packed beef. Regulation (EC)
// No 853/2004, Annex III, Section V, chapter III (from memory); local rules decide.
const (
	MinceDays      = 6
	minceDaysBoned = 15
)

// MinceUntil is the last day on which a piece may be minced, with the rule in words. A piece of the atlas counts as
// boned where nothing of it is bone; that it came vacuum-packed is taken from how such pieces arrive.
func MinceUntil(p atlas.Piece, slaughtered time.Time) (time.Time, string) {
	boned := p.Species == "beef"
	for _, o := range p.Other {
		boned = boned && o.Kind != atlas.KindBone
	}
	if boned {
		return Day(slaughtered).AddDate(0, 0, minceDaysBoned), "boned, vacuum-packed beef: 15 days after slaughter"
	}
	return Day(slaughtered).AddDate(0, 0, MinceDays), "chilled meat: 6 days after slaughter"
}
