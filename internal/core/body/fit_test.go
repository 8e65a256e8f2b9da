package body

import (
	"errors"
	"math"
	"math/rand/v2"
	"testing"
)

// By hand: the seed [[1,2],[3,4]] with rows 50, 50 and columns 40, 60. The fitted table keeps the odds ratio
// 1·4/(2·3) = 2/3, so that x·(10+x) = 2/3·(50−x)·(40−x) for its first cell.
func TestFitByHand(t *testing.T) {
	f, err := Fit([]float64{50, 50}, []float64{40, 60}, [][]float64{{1, 2}, {3, 4}})
	if err != nil {
		t.Fatal(err)
	}
	x := (-210 + math.Sqrt(210*210+4*4000)) / 2 // x² + 210 x = 4000
	for i, row := range [][]float64{{x, 50 - x}, {40 - x, 10 + x}} {
		for j, want := range row {
			if math.Abs(f.Cells[i][j]-want) > 1e-4 {
				t.Errorf("cell %d, %d is %.6f, want %.6f", i, j, f.Cells[i][j], want)
			}
		}
	}
}

// Rules: both margins are met to 1e-6 of the total, zeros stay, and the odds ratios of the seed are kept.
func TestFitKeepsMarginsAndOddsRatios(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 5))
	for range 200 {
		n, m := 2+rng.IntN(6), 2+rng.IntN(6)
		truth, seed := make([][]float64, n), make([][]float64, n)
		rows, columns, total := make([]float64, n), make([]float64, m), 0.0
		for i := range n {
			truth[i], seed[i] = make([]float64, m), make([]float64, m)
			for j := range m {
				if rng.IntN(4) > 0 || i == 0 || j == 0 {
					truth[i][j], seed[i][j] = rng.Float64()*10, 0.1+rng.Float64()*10
				}
				rows[i] += truth[i][j]
				columns[j] += truth[i][j]
				total += truth[i][j]
			}
		}
		f, err := Fit(rows, columns, seed)
		if err != nil {
			t.Fatal(err)
		}
		for i := range n {
			if math.Abs(sum(f.Cells[i])-rows[i]) > 1e-6*total {
				t.Errorf("row %d sums to %g, want %g", i, sum(f.Cells[i]), rows[i])
			}
			for j := range m {
				if (seed[i][j] == 0) != (f.Cells[i][j] == 0) {
					t.Errorf("cell %d, %d of %g became %g", i, j, seed[i][j], f.Cells[i][j])
				}
				if i > 0 && j > 0 && seed[i][j] > 0 {
					odds := func(c [][]float64) float64 { return c[i][j] * c[0][0] / (c[i][0] * c[0][j]) }
					if a, b := odds(seed), odds(f.Cells); math.Abs(a/b-1) > 1e-9 {
						t.Errorf("the odds ratio %g became %g", a, b)
					}
				}
			}
		}
	}
}

// Rule: what cannot be is found by a flow, and the row is named; a margin of 0 makes zeros, also where the only tables
// have a zero in a cell that the seed has not.
func TestFitImpossibleAndZeros(t *testing.T) {
	_, err := Fit([]float64{5, 10, 5}, []float64{8, 12}, [][]float64{{1, 1}, {1, 0}, {1, 1}})
	var no Impossible
	if !errors.As(err, &no) || no.Row != 1 {
		t.Errorf("10 into a column of 8: %v", err)
	}
	if _, err := Fit([]float64{1}, []float64{2}, [][]float64{{1}}); !errors.Is(err, ErrMargins) {
		t.Errorf("1 = 2: %v", err)
	}
	f, err := Fit([]float64{0, 10}, []float64{4, 6}, [][]float64{{1, 1}, {1, 1}})
	if err != nil || f.Cells[0][0] != 0 || f.Cells[1][0] != 4 || f.LargestFactor > 1.3 {
		t.Errorf("%+v, %v", f, err)
	}
	// the first row must fill the first column whole, so the second row has nothing there
	f, err = Fit([]float64{4, 6}, []float64{4, 6}, [][]float64{{1, 0}, {1, 1}})
	if err != nil || f.Rounds > 5 || f.Cells[1][0] != 0 || math.Abs(f.Cells[1][1]-6) > 1e-6 {
		t.Errorf("%+v, %v", f, err)
	}
}
