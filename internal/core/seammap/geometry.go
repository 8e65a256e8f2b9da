package seammap

import "math"

// Smooth cuts the corners of a polygon three times over, so that it looks smooth.
func Smooth(points []Point) []Point {
	for range 3 {
		points = cutCorners(points)
	}
	return points
}

// Block is a rounded block that fills w × h: a superellipse of exponent 3.5, 72 corners.
func Block(w, h float64) []Point {
	const corners, exponent = 72, 2 / 3.5
	out := make([]Point, corners)
	for i := range out {
		s, c := math.Sincos(2 * math.Pi * float64(i) / corners)
		out[i] = Point{
			w/2 + w/2*math.Copysign(math.Pow(math.Abs(c), exponent), c),
			h/2 + h/2*math.Copysign(math.Pow(math.Abs(s), exponent), s),
		}
	}
	return out
}

// cutCorners replaces each corner by two, a quarter along its edges (Chaikin); a convex polygon stays
// convex, and one that does not cross itself does not begin to.
func cutCorners(p []Point) []Point {
	out := make([]Point, 0, 2*len(p))
	for i, a := range p {
		b := p[(i+1)%len(p)]
		out = append(out, Point{a.X*0.75 + b.X*0.25, a.Y*0.75 + b.Y*0.25}, Point{a.X*0.25 + b.X*0.75, a.Y*0.25 + b.Y*0.75})
	}
	return out
}

// Turn is above 0 where three points turn left, with y upward, and below it where they turn right: twice the area that
// they span.
func Turn(a, b, c Point) float64 { return (b.X-a.X)*(c.Y-a.Y) - (b.Y-a.Y)*(c.X-a.X) }

func dist(a, b Point) float64 { return math.Hypot(a.X-b.X, a.Y-b.Y) }

// SignedArea is the area of a polygon, below 0 where it runs clockwise with y upward.
func SignedArea(p []Point) float64 {
	sum := 0.0
	for i, a := range p {
		b := p[(i+1)%len(p)]
		sum += a.X*b.Y - a.Y*b.X
	}
	return sum / 2
}

// area is that of a polygon, whichever way it runs.
func area(p []Point) float64 { return math.Abs(SignedArea(p)) }

// Centroid is the centre of gravity of a polygon that has an area.
func Centroid(p []Point) Point {
	var c Point
	sum := 0.0
	for i, a := range p {
		b := p[(i+1)%len(p)]
		w := a.X*b.Y - a.Y*b.X
		sum += w
		c.X += (a.X + b.X) * w
		c.Y += (a.Y + b.Y) * w
	}
	if sum == 0 {
		return c
	}
	return Point{c.X / (3 * sum), c.Y / (3 * sum)}
}

// inside says whether a point lies in a polygon, by how often a ray from it crosses the edges; a point on an edge
// counts as inside.
func inside(p []Point, q Point) bool {
	in := false
	for i, a := range p {
		b := p[(i+1)%len(p)]
		if Turn(a, b, q) == 0 && min(a.X, b.X) <= q.X && q.X <= max(a.X, b.X) &&
			min(a.Y, b.Y) <= q.Y && q.Y <= max(a.Y, b.Y) {
			return true
		}
		if (a.Y > q.Y) != (b.Y > q.Y) && q.X < a.X+(q.Y-a.Y)/(b.Y-a.Y)*(b.X-a.X) {
			in = !in
		}
	}
	return in
}

// room is the distance from a point to the nearest line through an edge of a polygon.
func room(p []Point, q Point) float64 {
	least := math.Inf(1)
	for i, a := range p {
		b := p[(i+1)%len(p)]
		if l := dist(a, b); l > 0 {
			least = math.Min(least, math.Abs(Turn(a, b, q))/l)
		}
	}
	return least
}

func smallest(cells []cell) float64 {
	least := math.Inf(1)
	for _, c := range cells {
		least = math.Min(least, c.area)
	}
	return least
}
