package bestuse

import (
	"math"
)

// layout is a problem as a linear program: the whole variables first, how many of a piece are cut by a plan; then what
// is made of a product beyond its cap.
type layout struct {
	p           Problem
	piece, plan []int // by whole variable
	first       []int // by piece: its first whole variable
	whole, n    int
	kg          [][]float64   // by product and whole variable
	maximum     []float64     // by product: the most kilograms that can be made of it, or sold as it
	into        map[int][]int // product → those that are sold as it beyond their caps
	beyond      map[int]int   // product → its variable

	gain, high []float64 // by variable: what one brings, and how many there can be
	rows       [][]float64
	limit      []float64
	equal      []bool
}

func layOut(p Problem) *layout {
	l := &layout{p: p, first: make([]int, len(p.Pieces)), beyond: map[int]int{}}
	for i, x := range p.Pieces {
		l.first[i] = len(l.piece)
		for k := range x.Plans {
			l.piece, l.plan = append(l.piece, i), append(l.plan, k)
		}
	}
	l.whole = len(l.piece)
	l.yields()
	l.n, l.into = l.whole, map[int][]int{}
	at := p.places()
	for _, j := range p.falling() {
		pr := p.Products[j]
		to, falls := at[pr.FallsTo]
		if pr.Cap == nil || !falls && pr.Fallback.Cmp(pr.Price) >= 0 || l.maximum[j] <= pr.Cap.Grams()/1000 {
			continue
		}
		l.beyond[j] = l.n
		l.n++
		if falls {
			l.into[to] = append(l.into[to], j)
			l.maximum[to] += l.maximum[j] - pr.Cap.Grams()/1000
		}
	}
	l.gains()
	l.bounds()
	return l
}

// yields fills in what each plan makes of each product.
func (l *layout) yields() {
	p := l.p
	at := p.places()
	l.kg, l.maximum = make([][]float64, len(p.Products)), make([]float64, len(p.Products))
	for j := range l.kg {
		l.kg[j] = make([]float64, l.whole)
	}
	for v, i := range l.piece {
		for _, y := range p.Pieces[i].Plans[l.plan[v]].Yields {
			l.kg[at[y.Product]][v] += y.Mass.Grams() / 1000
		}
	}
	for i, x := range p.Pieces {
		for j := range p.Products {
			high := 0.0
			for k := range x.Plans {
				high = math.Max(high, l.kg[j][l.first[i]+k])
			}
			l.maximum[j] += high * float64(x.Count)
		}
	}
}

// gains fills in what one of each variable brings, and how many of it there can be.
func (l *layout) gains() {
	l.gain, l.high = make([]float64, l.n), make([]float64, l.n)
	for v, i := range l.piece {
		pl := l.p.Pieces[i].Plans[l.plan[v]]
		l.gain[v] = -pl.Cost.Float()
		for j, pr := range l.p.Products {
			if l.kg[j][v] != 0 {
				l.gain[v] += pr.Price.Float() * l.kg[j][v]
			}
		}
		l.high[v] = float64(l.p.Pieces[i].Count)
	}
	for j, e := range l.beyond {
		pr := l.p.Products[j]
		l.gain[e] = -pr.Price.Sub(l.p.fallback(pr)).Float()
		l.high[e] = l.maximum[j] - pr.Cap.Grams()/1000
	}
}

// bounds fills in the rows: the pieces there are, the minutes, and by product the cap and the order.
func (l *layout) bounds() {
	row := func(eq bool, to float64) []float64 {
		r := make([]float64, l.n)
		l.rows, l.limit, l.equal = append(l.rows, r), append(l.limit, to), append(l.equal, eq)
		return r
	}
	for i, x := range l.p.Pieces {
		r := row(!x.Waits, float64(x.Count))
		for k := range x.Plans {
			r[l.first[i]+k] = 1
		}
	}
	if l.p.Minutes != nil {
		r := row(false, float64(*l.p.Minutes)/100)
		for v, i := range l.piece {
			r[v] = float64(l.p.Pieces[i].Plans[l.plan[v]].Minutes) / 100
		}
	}
	if l.p.Saw != nil {
		r := row(false, float64(*l.p.Saw)/100)
		for v, i := range l.piece {
			r[v] = float64(l.p.Pieces[i].Plans[l.plan[v]].Saw) / 100
		}
	}
	for j, pr := range l.p.Products {
		if e, ok := l.beyond[j]; ok {
			r := row(false, pr.Cap.Grams()/1000)
			copy(r, l.kg[j])
			r[e] = -1
			for _, from := range l.into[j] {
				r[l.beyond[from]] = 1
			}
		}
		if pr.Order > 0 {
			r := row(false, -pr.Order.Grams()/1000)
			for v := range l.whole {
				r[v] = -l.kg[j][v]
			}
		}
	}
}
