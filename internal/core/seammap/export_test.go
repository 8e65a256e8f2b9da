package seammap

// Dist is the distance of two points.
func Dist(a, b Point) float64 { return dist(a, b) }

// Inside says whether a point lies in a polygon.
func Inside(p []Point, q Point) bool { return inside(p, q) }

// AreaOf is the area of a polygon.
func AreaOf(p []Point) float64 { return area(p) }
