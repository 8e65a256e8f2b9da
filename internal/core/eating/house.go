package eating

import (
	"fmt"
	"math"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
)

// House are a house's settings for grades: how far to trust what, and how much each thing that is known of an animal
// moves an estimate. Points are of 100.
type House struct {
	Weights       string  // "current" or "older"
	PriorSD       float64 // of an estimate from the atlas, points
	ExternalSD    float64 // of a score that a supplier or programme gave, points
	AssessorSD    float64 // of one eater's score about the panel's, points
	BeefAgeing    float64 // points that ageing brings beef in all, by quick and dry methods
	LambAgeing    float64 // the same of lamb
	Hip           float64 // points for hip, loin and leg muscles of a carcass that hung by the hip bone
	Grain         float64 // points for cattle finished on grain
	MarblingStep  float64 // points for each step of a marbling score above MarblingUsual
	LambLeanStep  float64 // points for each per cent of lean-meat yield above 60, lamb; below zero
	LambFatStep   float64 // points for each per cent of intramuscular fat above 4, lamb
	BeefReference int     // days at which the atlas' estimates of beef hold
	LambReference int     // the same of lamb
	BeefHalfDays  float64 // days in which half of what ageing still brings has come, beef
	LambHalfDays  float64 // the same of lamb
	MarblingUsual float64
	WeekLossPct   float64 // weight that a piece loses in a week in its bag, per cent
	StorePerKgDay float64 // what a day in the cold store costs a kilogram, in the shop's currency
}

// Usual are the settings of a new house. The eater's and the prior's standard deviations are the brief's; how much
// ageing, hanging, feed and marbling bring, and what a week's waiting loses and costs, is common practice, no source,
// in the order of what is usually found; each house may set its own.
var Usual = House{Weights: "current", PriorSD: PriorSD, ExternalSD: 5, AssessorSD: 18, BeefAgeing: 10, LambAgeing: 6,
	Hip: 4, Grain: 2, MarblingStep: 1.5, LambLeanStep: -0.8, LambFatStep: 2, BeefReference: 14, LambReference: 5,
	BeefHalfDays: 6, LambHalfDays: 2.5, MarblingUsual: 1, WeekLossPct: 0.6, StorePerKgDay: 0.01}

// Facts are what is known of an animal; nil or empty where it is not.
type Facts struct {
	Species  string // "beef" or "lamb"
	AgeDays  int    // since slaughter, to the cut
	Hang     string // "hip", "achilles"
	Feed     string // "grain", "mixed", "grass"
	Marbling *float64
	LeanPct  *float64 // lean-meat yield, lamb
	FatPct   *float64 // intramuscular fat, lamb
	Hind     bool     // of the hindquarter, whose muscles hanging by the hip stretches
}

// Part is one step from the atlas' figure to an estimate.
type Part struct {
	Why    string
	Points float64
}

// slow methods gain nothing from ageing, hanging and feed: what makes them tender is the pot.
func dry(method string) bool {
	switch method {
	case "braise", "stew", "cure_cook", "mince", "smoke", "slow_roast":
		return false
	}
	return true
}

// Ageing is how many points lie between the reference day and a day after slaughter, towards a plateau: of what ageing
// still brings, half comes in every half-time. Below zero before the reference day.
func (h House) Ageing(species string, days int) float64 {
	total, half, reference := h.BeefAgeing, h.BeefHalfDays, h.BeefReference
	if species == "lamb" {
		total, half, reference = h.LambAgeing, h.LambHalfDays, h.LambReference
	}
	left := func(d int) float64 { return math.Exp2(-float64(max(0, d)) / half) }
	return total * (left(reference) - left(days))
}

// Estimate is the atlas' figure for a muscle by a method, moved by what is known of the animal; the parts say why.
func (h House) Estimate(m atlas.Muscle, method string, f Facts) (Score, []Part, bool) {
	base, ok := m.Eating[method]
	if !ok {
		return Score{}, nil, false
	}
	parts := []Part{{"the atlas", base}}
	add := func(why string, points float64) {
		if math.Abs(points) >= 0.05 {
			parts = append(parts, Part{why, points})
		}
	}
	if dry(method) {
		if f.AgeDays > 0 {
			add(fmt.Sprintf("day %d of ageing", f.AgeDays), h.Ageing(f.Species, f.AgeDays))
		}
		if f.Hang == "hip" && f.Hind {
			add("hung by the hip bone", h.Hip)
		}
		if f.Species == "beef" && (f.Feed == "grain" || f.Feed == "mixed") {
			add("finished on grain", h.Grain)
		}
		if f.Species == "beef" && f.Marbling != nil {
			why := fmt.Sprintf("marbling %g", *f.Marbling)
			if m.MarblingFollows() < 1 {
				why += fmt.Sprintf(", which this muscle follows by %.0f %%", 100*m.MarblingFollows())
			}
			add(why, m.MarblingFollows()*h.MarblingStep*(*f.Marbling-h.MarblingUsual))
		}
	}
	if f.Species == "lamb" && f.Feed != "" {
		parts = append(parts, Part{"fed on " + f.Feed + ": recorded, and not counted; no sure effect is known for lamb", 0})
	}
	if f.Species == "lamb" {
		if f.LeanPct != nil {
			add(fmt.Sprintf("lean-meat yield %g %%", *f.LeanPct), h.LambLeanStep*(*f.LeanPct-60))
		}
		if f.FatPct != nil {
			add(fmt.Sprintf("intramuscular fat %g %%", *f.FatPct), h.LambFatStep*(*f.FatPct-4))
		}
	}
	mean := 0.0
	for _, p := range parts {
		mean += p.Points
	}
	return Score{Method: method, Mean: math.Min(100, math.Max(0, mean)), SD: h.PriorSD, Basis: "estimated"}, parts, true
}

// WithPanel updates a score by what a panel found: normal–normal shrinkage. The panel's mean of n eaters has the
// standard deviation EaterSD/√n; the two are weighed by their precisions.
func (h House) WithPanel(prior Score, panel float64, assessors int) Score {
	if assessors <= 0 {
		return prior
	}
	known, found := 1/(prior.SD*prior.SD), float64(assessors)/(h.AssessorSD*h.AssessorSD)
	return Score{Method: prior.Method, Mean: (prior.Mean*known + panel*found) / (known + found),
		SD: math.Sqrt(1 / (known + found)), Basis: "measured", Assessors: prior.Assessors + assessors}
}

// WithExternal updates a score by one that a supplier or programme gave, weighed by the precisions likewise.
func (h House) WithExternal(prior Score, given float64) Score {
	known, told := 1/(prior.SD*prior.SD), 1/(h.ExternalSD*h.ExternalSD)
	return Score{Method: prior.Method, Mean: (prior.Mean*known + given*told) / (known + told),
		SD: math.Sqrt(1 / (known + told)), Basis: "given", Assessors: prior.Assessors}
}

// Check says what is wrong with settings; fields are named as in the contract.
func (h House) Check() error {
	var faults fault.List
	if _, ok := FindWeights(h.Weights); !ok {
		faults.Add("weights", fault.New("", "unknown", "must be current or older", ""))
	}
	for _, f := range []struct {
		field     string
		v         float64
		low, high float64
	}{{"prior_sd", h.PriorSD, 1, 30}, {"given_sd", h.ExternalSD, 1, 30}, {"eater_sd", h.AssessorSD, 5, 40},
		{"beef_ageing", h.BeefAgeing, 0, 40}, {"lamb_ageing", h.LambAgeing, 0, 40}, {"hip", h.Hip, -20, 20},
		{"grain", h.Grain, -20, 20}, {"marbling_step", h.MarblingStep, -10, 10}, {"lamb_lean_step", h.LambLeanStep, -10, 10},
		{"lamb_fat_step", h.LambFatStep, -10, 10}, {"week_loss_pct", h.WeekLossPct, 0, 20},
		{"store_per_kg_day", h.StorePerKgDay, 0, 100}} {
		if math.IsNaN(f.v) || f.v < f.low || f.v > f.high {
			faults.Add(f.field, fault.New("", "out_of_range", fmt.Sprintf("must be from %g to %g", f.low, f.high), ""))
		}
	}
	return faults.Err()
}
