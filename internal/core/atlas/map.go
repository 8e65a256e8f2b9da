package atlas

import "falda/internal/core/seammap"

// outline is the outline of a section with its corners cut; without one, a rounded block that fills the section.
func (s Section) outline() []seammap.Point {
	if len(s.Outline) == 0 {
		return seammap.Block(s.W, s.H)
	}
	points := make([]seammap.Point, len(s.Outline))
	for i, p := range s.Outline {
		points[i] = seammap.Point{X: p[0], Y: p[1]}
	}
	return seammap.Smooth(points)
}

// Map draws the flat map of a piece with the given weight for each muscle and for the bones that have a place in the
// section; what has none is left out.
func (p Piece) Map(weight func(part string) float64) (seammap.Map, error) {
	var sites []seammap.Site
	add := func(id string, at [2]float64) {
		if w := weight(id); w > 0 {
			sites = append(sites, seammap.Site{ID: id, At: seammap.Point{X: at[0], Y: at[1]}, Weight: w})
		}
	}
	for _, m := range p.Muscles {
		add(m.ID, m.At)
	}
	for _, o := range p.Bones() {
		add(o.ID, o.At)
	}
	return seammap.Draw(p.Section.outline(), sites)
}

// MapByShare draws the flat map of a piece by the atlas' shares.
func (p Piece) MapByShare() (seammap.Map, error) {
	return p.Map(func(id string) float64 { part, _ := p.Part(id); return float64(part.Share) })
}
