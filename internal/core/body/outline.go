package body

import (
	"math"

	"falda/internal/core/seammap"
)

// rim is how many corners the outline of a section has.
const rim = 96

// superellipse is the outline of a section around its middle, against the clock: round is the exponent (2 an ellipse,
// more for squarer), flat the fraction of the height that is cut off below. It is convex for round from 1 on.
func superellipse(width, height, round, flat float64) []Point {
	out := make([]Point, 0, rim)
	low := -height/2 + flat*height
	for i := range rim {
		s, c := math.Sincos(2 * math.Pi * (float64(i) + 0.5) / rim)
		out = append(out, Point{X: width / 2 * power(c, 2/round), Y: math.Max(low, height/2*power(s, 2/round))})
	}
	return out
}

func power(v, exponent float64) float64 { return math.Copysign(math.Pow(math.Abs(v), exponent), v) }

// Band is what lies under the rim in even thickness, from one angle to another: 0° to the right, 90° up, in a section
// drawn as wide as it is high.
type Band struct {
	ID       string
	From, To float64 // degrees; To is above From and may pass 360
	Area     float64
}

// fade is over how many degrees a band runs out at either end.
const fade = 14

// peel takes bands off an outline: what is left within, and the ring of each band. The thickness is found so that each
// has its area.
func peel(outline []Point, bands []Band) (inner []Point, rings [][]Point) {
	inner = append([]Point(nil), outline...)
	for _, b := range bands {
		before := append([]Point(nil), inner...)
		lo, hi := 0.0, math.Sqrt(areaOf(outline))
		for range 60 {
			mid := (lo + hi) / 2
			if seammap.SignedArea(before)-seammap.SignedArea(dent(before, b, mid)) < b.Area {
				lo = mid
			} else {
				hi = mid
			}
		}
		inner = dent(before, b, hi)
		rings = append(rings, between(before, inner))
	}
	return inner, rings
}

// dent moves the corners of an outline inward over a band's angles, by a thickness that runs out at its ends. What is
// left is convex, so that a section can be divided. Angles are those of the section drawn as wide as it is high.
func dent(p []Point, b Band, thick float64) []Point {
	w, h := halves(p)
	out := make([]Point, len(p))
	for i, q := range p {
		angle := math.Atan2(q.Y/h, q.X/w) * 180 / math.Pi
		for angle < b.From {
			angle += 360
		}
		part := 0.0
		if angle <= b.To {
			part = math.Min(1, math.Min(angle-b.From, b.To-angle)/fade)
		}
		out[i] = q
		if part <= 0 {
			continue
		}
		// inward is towards the line in the middle of a long section
		core := Point{X: math.Max(h-w, math.Min(w-h, q.X)), Y: math.Max(w-h, math.Min(h-w, q.Y))}
		if w >= h {
			core.Y = 0
		} else {
			core.X = 0
		}
		dx, dy := core.X-q.X, core.Y-q.Y
		if far := math.Hypot(dx, dy); far > 0 {
			move := math.Min(thick*part, 0.95*far) / far
			out[i] = Point{X: q.X + dx*move, Y: q.Y + dy*move}
		}
	}
	return filled(out)
}

// halves are half the width and half the height of an outline about its middle.
func halves(p []Point) (w, h float64) {
	for _, q := range p {
		w, h = math.Max(w, math.Abs(q.X)), math.Max(h, math.Abs(q.Y))
	}
	return w, h
}

// filled lays the corners of a polygon that lie behind its hull onto it: as many corners, and convex.
func filled(p []Point) []Point {
	n := len(p)
	start := 0 // the lowest corner lies on the hull
	for i, q := range p {
		if q.Y < p[start].Y || (q.Y == p[start].Y && q.X < p[start].X) {
			start = i
		}
	}
	hull := []int{start}
	for k := 1; k <= n; k++ {
		i := (start + k) % n
		for len(hull) > 1 && seammap.Turn(p[hull[len(hull)-2]], p[hull[len(hull)-1]], p[i]) < 0 {
			hull = hull[:len(hull)-1]
		}
		hull = append(hull, i)
	}
	out := append([]Point(nil), p...)
	for h := range len(hull) - 1 {
		a, b := hull[h], hull[h+1]
		steps := (b - a + n) % n
		for k := 1; k < steps; k++ {
			t := float64(k) / float64(steps)
			out[(a+k)%n] = Point{X: p[a].X + t*(p[b].X-p[a].X), Y: p[a].Y + t*(p[b].Y-p[a].Y)}
		}
	}
	return out
}

// between is the ring of what lies between two outlines of as many corners: the longest stretch in which they differ.
func between(outer, inner []Point) []Point {
	n := len(outer)
	w, h := halves(outer)
	apart := func(i int) bool {
		a, b := outer[(i+n)%n], inner[(i+n)%n]
		return math.Hypot(a.X-b.X, a.Y-b.Y) > 1e-6*(w+h)
	}
	first, length := 0, 0
	for i := range n {
		run := 0
		if apart(i) && (!apart(i-1) || i == 0) {
			for run < n && apart(i+run) {
				run++
			}
		}
		if run > length {
			first, length = i, run
		}
	}
	if length == 0 {
		return nil
	}
	var out []Point
	for k := -1; k <= length && length < n; k++ { // it begins and ends where they are one
		out = append(out, outer[(first+k+n)%n])
	}
	if length == n { // all round: cut open at one place
		out = append(append(out, outer...), outer[0], inner[0])
	}
	for k := length - 1; k >= 0; k-- {
		out = append(out, inner[(first+k)%n])
	}
	return out
}
