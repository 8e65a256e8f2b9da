package body

// OutlineOf is the area of the outline of a slice at the sketch's size; AreasOf are those of its parts.
func (b *Body) OutlineOf(slice int) float64 { return areaOf(b.outline(middleOf(slice))) }

// AreasOf are the areas of the parts of a slice, in their order, at the sketch's size.
func (b *Body) AreasOf(slice int) []float64 { return b.areas[slice] }

// Section is the section of a slice.
func (b *Body) Section(slice int) (Section, error) { return b.section(slice) }

// AreaOf is the area of a polygon.
func AreaOf(ring []Point) float64 { return areaOf(ring) }
