package api

import (
	"context"

	"falda/internal/api/contract"
	"falda/internal/core/fault"
	"falda/internal/core/learning"
)

// maxAhead bounds how far a curve is read.
const maxAhead = 100_000

// CalcLearning draws a curve of learning. Ahead counts from the last that was taken.
func (h *handlers) CalcLearning(_ context.Context,
	r contract.CalcLearningRequestObject) (contract.CalcLearningResponseObject, error) {
	ahead := 1
	if r.Body.Ahead != nil {
		ahead = *r.Body.Ahead
	}
	if ahead < 1 || ahead > maxAhead {
		return nil, fault.New("ahead", "out_of_range", "must be from 1 to 100,000", "Say how many further.")
	}
	c, err := learning.Fit(r.Body.Minutes)
	if err != nil {
		return nil, err
	}
	point := func(n int) contract.LearningPoint { return contract.LearningPoint{N: n, Minutes: c.At(n)} }
	return contract.CalcLearning200JSONResponse{First: c.First, Exponent: c.Exponent, R2: c.R2, ExponentLow: c.Low,
		ExponentHigh: c.High, Next: point(c.N + 1), Ahead: point(c.N + ahead)}, nil
}
