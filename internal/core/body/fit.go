package body

import (
	"errors"
	"fmt"
	"math"
	"slices"
)

// Fitted is a table whose rows and columns sum to what they should.
type Fitted struct {
	Cells         [][]float64
	Rounds        int
	LargestFactor float64 // by which a cell of the seed, scaled to the total, was corrected at most, up or down
	LargestAt     [2]int  // row and column of that cell
}

// Impossible says that a table cannot be fitted: what the row must hold is more than its columns can take.
type Impossible struct{ Row int }

func (e Impossible) Error() string {
	return fmt.Sprintf("row %d cannot be filled from the columns in which it has a cell above 0", e.Row)
}

// ErrSlow says that the fit did not come near enough in its rounds.
var ErrSlow = errors.New("the table does not settle")

// ErrMargins says that rows and columns are no margins of one table.
var ErrMargins = errors.New("rows and columns do not sum to the same")

// The fit ends when both margins are met to this part of the total, or after so many rounds.
const (
	marginPrecision = 1e-6
	maxFitRounds    = 10_000
)

// Fit scales the rows and columns of a seed by turns until they sum to the margins: iterative proportional fitting. A
// cell of 0 stays 0; the fitted table keeps the odds ratios of the seed. All figures are 0 or more, and the margins sum
// to the same within 1e-6 of the total; a margin of 0 makes zeros. Whether there is such a table is decided by a
// maximum flow through the cells above 0; where there is none, the error is Impossible with the first row of the least
// cut.
//
// Deming & Stephan 1940, Annals of Mathematical Statistics 11, 427–444.
func Fit(rows, columns []float64, seed [][]float64) (Fitted, error) {
	total := sum(rows)
	if math.Abs(total-sum(columns)) > marginPrecision*math.Max(total, sum(columns)) {
		return Fitted{}, ErrMargins
	}
	cells := make([][]float64, len(rows))
	whole := 0.0
	for i := range rows {
		cells[i] = make([]float64, len(columns))
		for j := range columns {
			if rows[i] > 0 && columns[j] > 0 {
				cells[i][j] = seed[i][j]
				whole += seed[i][j]
			}
		}
	}
	if total == 0 {
		return Fitted{Cells: cells, LargestFactor: 1}, nil
	}
	if err := possible(rows, columns, cells); err != nil {
		return Fitted{}, err
	}
	first := make([][]float64, len(rows))
	for i := range cells {
		first[i] = make([]float64, len(columns))
		for j := range cells[i] {
			cells[i][j] *= total / whole
			first[i][j] = cells[i][j]
		}
	}
	out := Fitted{Cells: cells, LargestFactor: 1}
	for off := math.Inf(1); off > marginPrecision*total/2; {
		if out.Rounds++; out.Rounds > maxFitRounds {
			return Fitted{}, ErrSlow
		}
		scaleColumns(columns, cells)
		off = scaleRows(rows, columns, cells)
	}
	for i := range cells {
		for j, f := range cells[i] {
			if s := first[i][j]; s > 0 && f > 0 {
				if x := math.Max(f/s, s/f); x > out.LargestFactor {
					out.LargestFactor, out.LargestAt = x, [2]int{i, j}
				}
			}
		}
	}
	return out, nil
}

func scaleColumns(columns []float64, cells [][]float64) {
	for j, want := range columns {
		have := 0.0
		for i := range cells {
			have += cells[i][j]
		}
		if have > 0 {
			for i := range cells {
				cells[i][j] *= want / have
			}
		}
	}
}

// scaleRows scales the rows, and gives how far the columns are off after it at most.
func scaleRows(rows, columns []float64, cells [][]float64) (off float64) {
	for i, want := range rows {
		if have := sum(cells[i]); have > 0 {
			for j := range cells[i] {
				cells[i][j] *= want / have
			}
		}
	}
	for j, want := range columns {
		have := 0.0
		for i := range cells {
			have += cells[i][j]
		}
		off = math.Max(off, math.Abs(have-want))
	}
	return off
}

func sum(list []float64) float64 {
	total := 0.0
	for _, x := range list {
		total += x
	}
	return total
}

// possible looks for a table with the margins, by a maximum flow from the rows through the cells above 0 to the columns
// (shortest augmenting paths: Edmonds & Karp 1972). Cells that are 0 in every such table are set to 0: the fit would
// only come near to it, and slowly.
func possible(rows, columns []float64, cells [][]float64) error {
	n, m := len(rows), len(columns)
	flow := make([][]float64, n)
	for i := range flow {
		flow[i] = make([]float64, m)
	}
	left, room := append([]float64(nil), rows...), append([]float64(nil), columns...)
	tiny := marginPrecision * sum(rows) / 4 / float64(n+m+1)
	for {
		from := search(left, room, cells, flow, tiny)
		if from.end < 0 {
			if i := slices.Index(from.seen, true); i >= 0 { // the first row of the cut
				return Impossible{i}
			}
			break
		}
		from.push(left, room, flow)
	}
	settle(cells, flow, tiny)
	return nil
}

// path leads from a row with something left to a column with room: columns by rows, and rows back by flows.
type path struct {
	byRow []int  // of each column: the row it was reached from; below 0 where it was not
	byCol []int  // of each row: the column it was reached back from; below 0 where it begins
	seen  []bool // rows that were reached
	end   int    // the column it ends in; below 0 where there is none
}

func search(left, room []float64, cells, flow [][]float64, tiny float64) path {
	p := path{byRow: make([]int, len(room)), byCol: make([]int, len(left)), seen: make([]bool, len(left)), end: -1}
	for j := range p.byRow {
		p.byRow[j] = -1
	}
	var queue []int
	for i := range left {
		p.byCol[i] = -1
		if left[i] > tiny {
			p.seen[i], queue = true, append(queue, i)
		}
	}
	for len(queue) > 0 {
		i := queue[0]
		queue = queue[1:]
		for j := range room {
			if cells[i][j] == 0 || p.byRow[j] >= 0 {
				continue
			}
			p.byRow[j] = i
			if room[j] > tiny {
				p.end = j
				return p
			}
			for k := range left {
				if flow[k][j] > 0 && !p.seen[k] {
					p.seen[k], p.byCol[k], queue = true, j, append(queue, k)
				}
			}
		}
	}
	return p
}

func (p path) push(left, room []float64, flow [][]float64) {
	most := room[p.end]
	start := 0
	for j := p.end; ; {
		i := p.byRow[j]
		if p.byCol[i] < 0 {
			start = i
			most = math.Min(most, left[i])
			break
		}
		j = p.byCol[i]
		most = math.Min(most, flow[i][j])
	}
	left[start] -= most
	room[p.end] -= most
	for j := p.end; ; {
		i := p.byRow[j]
		flow[i][j] += most
		if p.byCol[i] < 0 {
			return
		}
		j = p.byCol[i]
		flow[i][j] -= most
	}
}

// settle sets cells to 0 that are 0 in every table with the margins: those without flow whose column does not lead back
// to their row.
func settle(cells, flow [][]float64, tiny float64) {
	n := len(cells)
	m := len(cells[0])
	for j := range m {
		rows := make([]bool, n) // that a column leads to, along flows back and cells on
		cols := make([]bool, m)
		queue := []int{j}
		cols[j] = true
		for len(queue) > 0 {
			c := queue[0]
			queue = queue[1:]
			for i := range n {
				if flow[i][c] <= tiny || rows[i] {
					continue
				}
				rows[i] = true
				for k := range m {
					if cells[i][k] > 0 && !cols[k] {
						cols[k], queue = true, append(queue, k)
					}
				}
			}
		}
		for i := range n {
			if cells[i][j] > 0 && flow[i][j] <= tiny && !rows[i] {
				cells[i][j] = 0
			}
		}
	}
}
