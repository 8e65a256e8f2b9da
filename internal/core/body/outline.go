package body

import "math"

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

// Band is what lies under the rim in even thickness, from one angle to another: 0° to the right, 90° up.
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
			if signed(before)-signed(dent(before, b, mid)) < b.Area {
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

// dent moves the corners of an outline inward over a band's angles, by a thickness that runs out at its ends.
func dent(p []Point, b Band, thick float64) []Point {
	out := make([]Point, len(p))
	for i, q := range p {
		angle := math.Atan2(q.Y, q.X) * 180 / math.Pi
		for angle < b.From {
			angle += 360
		}
		part := 0.0
		if angle <= b.To {
			part = math.Min(1, math.Min(angle-b.From, b.To-angle)/fade)
		}
		out[i] = q
		if part > 0 {
			before, after := p[(i+len(p)-1)%len(p)], p[(i+1)%len(p)]
			dx, dy := after.X-before.X, after.Y-before.Y
			if l := math.Hypot(dx, dy); l > 0 { // inward is to the left of the way round
				out[i] = Point{X: q.X - dy/l*thick*part, Y: q.Y + dx/l*thick*part}
			}
		}
	}
	return out
}

// between is the ring of what lies between two outlines of as many corners: where they differ.
func between(outer, inner []Point) []Point {
	n := len(outer)
	first := -1
	for i := range n {
		if outer[i] != inner[i] && outer[(i+n-1)%n] == inner[(i+n-1)%n] {
			first = i
			break
		}
	}
	if first < 0 { // all round, or nowhere
		if outer[0] == inner[0] {
			return nil
		}
		first = 0
	}
	var out, back []Point
	for k := range n {
		i := (first + k) % n
		if outer[i] == inner[i] {
			break
		}
		out = append(out, outer[i])
		back = append(back, inner[i])
	}
	for k := len(back) - 1; k >= 0; k-- {
		out = append(out, back[k])
	}
	return out
}
