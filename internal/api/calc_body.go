package api

import (
	"context"
	"errors"
	"fmt"
	"math"
	"math/big"
	"strconv"

	"falda/internal/api/contract"
	"falda/internal/core/body"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/portion"
)

// How large a table or section the calculators take.
const (
	maxFitSide    = 200
	maxPlaces     = 120
	maxOutline    = 500
	maxProfile    = 3001
	areaPrecision = 1e-9
)

// tooMany refuses a list that is longer than it may be, or empty.
func tooMany(faults *fault.List, field string, n, most int) {
	if n < 1 || n > most {
		faults.Add(field, fault.New("", "out_of_range", fmt.Sprintf("must be from 1 to %d", most), "Send fewer, but some."))
	}
}

// notBelowZero refuses figures below zero, and those that are no numbers.
func notBelowZero(faults *fault.List, field string, list []float64) {
	for i, v := range list {
		if !(v >= 0) || v > 1e15 {
			faults.Add(fmt.Sprintf("%s[%d]", field, i), fault.New("", "out_of_range", "must be from 0 to 1e15", "Check it."))
		}
	}
}

func (h *handlers) CalcFit(_ context.Context, r contract.CalcFitRequestObject) (contract.CalcFitResponseObject, error) {
	b := r.Body
	var faults fault.List
	tooMany(&faults, "rows", len(b.Rows), maxFitSide)
	tooMany(&faults, "columns", len(b.Columns), maxFitSide)
	notBelowZero(&faults, "rows", b.Rows)
	notBelowZero(&faults, "columns", b.Columns)
	if len(b.Seed) != len(b.Rows) {
		faults.Add("seed", fault.New("", "not_a_table", "must have a row for each of rows", "Send as many."))
	}
	for i, row := range b.Seed {
		if len(row) != len(b.Columns) {
			faults.Add(fmt.Sprintf("seed[%d]", i),
				fault.New("", "not_a_table", "must have a figure for each column", "Send as many."))
		}
		notBelowZero(&faults, fmt.Sprintf("seed[%d]", i), row)
	}
	if err := faults.Err(); err != nil {
		return nil, err
	}
	f, err := body.Fit(b.Rows, b.Columns, b.Seed)
	var no body.Impossible
	switch {
	case errors.As(err, &no):
		return nil, fault.New(fmt.Sprintf("rows[%d]", no.Row), "cannot_be_filled",
			"cannot be filled from the columns in which it has a figure above 0", "Give it more columns, or less to hold.")
	case errors.Is(err, body.ErrMargins):
		return nil, fault.New("columns", "not_the_same", "do not sum to what the rows sum to", "Bring both to one total.")
	case errors.Is(err, body.ErrSlow):
		return nil,
			fault.New("seed", "does_not_settle", "does not settle within 10,000 rounds", "Check its smallest figures.")
	case err != nil:
		return nil, err
	}
	return contract.CalcFit200JSONResponse{Fitted: f.Cells, Rounds: f.Rounds, LargestFactor: f.LargestFactor}, nil
}

// pointsOf reads points; each must be two numbers.
func pointsOf(faults *fault.List, field string, list [][]float64) []body.Point {
	out := make([]body.Point, len(list))
	for i, p := range list {
		if len(p) != 2 || math.Abs(p[0]) > 1e9 || math.Abs(p[1]) > 1e9 {
			faults.Add(fmt.Sprintf("%s[%d]", field, i),
				fault.New("", "not_a_point", "must be two numbers within 1e9", "Send [x, y]."))
			continue
		}
		out[i] = body.Point{X: p[0], Y: p[1]}
	}
	return out
}

func (h *handlers) CalcSection(_ context.Context,
	r contract.CalcSectionRequestObject) (contract.CalcSectionResponseObject, error) {
	b := r.Body
	var faults fault.List
	tooMany(&faults, "outline", len(b.Outline), maxOutline)
	tooMany(&faults, "places", len(b.Places), maxPlaces)
	if len(b.Areas) != len(b.Places) {
		faults.Add("areas", fault.New("", "not_as_many", "must be one for each place", "Send as many."))
	}
	notBelowZero(&faults, "areas", b.Areas)
	outline, places := pointsOf(&faults, "outline", b.Outline), pointsOf(&faults, "places", b.Places)
	if err := faults.Err(); err != nil {
		return nil, err
	}
	outline = body.CounterClockwise(outline)
	cells, err := body.Divide(outline, places, b.Areas)
	var two body.TwoPlaces
	switch {
	case errors.As(err, &two):
		return nil, fault.New(fmt.Sprintf("places[%d]", two.Second), "twice",
			fmt.Sprintf("is the same as places[%d]", two.First), "Give each its own place.")
	case errors.Is(err, body.ErrOutline):
		return nil, fault.New("outline", "not_convex", "is not a convex polygon with an area", "Send its corners in order.")
	case errors.Is(err, body.ErrNothing):
		return nil, fault.New("areas", "nothing", "are all 0", "Give one of them an area.")
	case err != nil:
		return nil, fault.New("places", "do_not_settle", "lie too close together for these areas", "Draw them apart.")
	}
	return contract.CalcSection200JSONResponse(sectionOf(cells, b.Areas)), nil
}

func sectionOf(cells []body.Cell, areas []float64) contract.SectionResult {
	out := contract.SectionResult{Cells: [][][]float64{}}
	whole, total := 0.0, 0.0
	for i, c := range cells {
		whole += c.Area
		total += areas[i]
	}
	for i, c := range cells {
		ring := [][]float64{}
		for _, p := range c.Ring {
			ring = append(ring, []float64{p.X, p.Y})
		}
		out.Cells = append(out.Cells, ring)
		if off := math.Abs(c.Area/whole-areas[i]/total) * 100; off > areaPrecision {
			out.WorstPct = math.Max(out.WorstPct, off)
		}
	}
	return out
}

// exact is a number of JSON as the decimal that was written.
func exact(v float64) *big.Rat {
	r, ok := new(big.Rat).SetString(strconv.FormatFloat(v, 'f', -1, 64))
	if !ok {
		return new(big.Rat)
	}
	return r
}

func exactOf(v *float64) *big.Rat {
	if v == nil {
		return nil
	}
	return exact(*v)
}

func (h *handlers) CalcPortion(ctx context.Context,
	r contract.CalcPortionRequestObject) (contract.CalcPortionResponseObject, error) {
	p, err := readPortion(*r.Body)
	if err != nil {
		return nil, err
	}
	_, _, done, err := h.work.Compare.Solving(ctx)
	if err != nil {
		return nil, err
	}
	defer done()
	var l portion.Layout
	if r.Body.Equal != nil {
		l, err = portion.Equal(p, *r.Body.Equal)
	} else {
		l, err = portion.Best(p)
	}
	if err != nil {
		return nil, err
	}
	out := contract.PortionResult{Value: l.Value.FloatString(2), GiveAwayG: tenthOf(l.GiveAwayG), RestG: tenthOf(l.RestG),
		KerfG: tenthOf(l.CutG), Pieces: []contract.PortionPiece{}}
	for _, x := range l.Pieces {
		piece := contract.PortionPiece{FromMm: x.FromMm, ToMm: x.ToMm, G: tenthOf(x.G)}
		if x.Product >= 0 {
			piece.Product = &p.Products[x.Product].ID
		}
		out.Pieces = append(out.Pieces, piece)
	}
	return contract.CalcPortion200JSONResponse(out), nil
}

// tenthOf is an exact figure to one decimal.
func tenthOf(r *big.Rat) float64 {
	v, _ := strconv.ParseFloat(r.FloatString(1), 64)
	return v
}

func readPortion(b contract.PortionRequest) (portion.Problem, error) {
	var faults fault.List
	price := func(field string, text *string) *big.Rat {
		if text == nil {
			return new(big.Rat)
		}
		v, err := measure.ParseNumber(*text)
		faults.Add(field, err)
		return v
	}
	if len(b.Profile) > maxProfile {
		return portion.Problem{}, fault.New("profile", "too_long", fmt.Sprintf("has more than %d points", maxProfile),
			"One a millimetre is enough.")
	}
	p := portion.Problem{LengthMm: b.LengthMm, WeightG: exact(b.WeightG), KerfMm: from(b.KerfMm),
		RestPricePerKg: price("rest_price_per_kg", b.RestPricePerKg)}
	if !(math.Abs(b.WeightG) <= 1e7) {
		faults.Add("weight_g", fault.New("", "out_of_range", "must be above 0 and at most 10,000,000", "Enter grams."))
	}
	for i, q := range b.Profile {
		if len(q) != 2 || !(math.Abs(q[0]) <= 1e6) || !(math.Abs(q[1]) <= 1e9) {
			faults.Add(fmt.Sprintf("profile[%d]", i),
				fault.New("", "not_a_point", "must be a place and an area", "Send [mm, area]."))
			continue
		}
		p.Profile = append(p.Profile, portion.Point{Mm: exact(q[0]), Area: exact(q[1])})
	}
	for i, x := range b.Products {
		at := fmt.Sprintf("products[%d].", i)
		q := portion.Product{ID: x.Id, PricePerKg: price(at+"price_per_kg", &x.PricePerKg), Label: exactOf(x.LabelG),
			MinG: exactOf(x.MinG), MaxG: exactOf(x.MaxG), MinMm: from(x.MinMm), MaxMm: from(x.MaxMm), FromMm: from(x.FromMm),
			ToMm: from(x.ToMm), AtLeast: from(x.AtLeast), AtMost: from(x.AtMost)}
		if q.Label != nil && q.MinG == nil {
			q.MinG = q.Label
		}
		if x.AtMost != nil && *x.AtMost == 0 { // none of it
			q.MinMm = b.LengthMm + 1
		}
		p.Products = append(p.Products, q)
	}
	return p, faults.Err()
}
