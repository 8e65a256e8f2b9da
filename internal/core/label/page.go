package label

// Page is a label as it is drawn, whatever draws it: what stands where, in millimetres from its upper left corner.
type Page struct {
	Wide, High float64
	Items      []Item
}

// The kinds of what stands on a label.
const (
	KindText  = "text"  // X, Y of the baseline's beginning, or end where it stands at the right; Size its height
	KindLine  = "line"  // from X, Y, so wide and high: a filled bar
	KindGS1   = "gs1"   // a GS1-128 of a text with its identifiers in brackets
	KindEAN13 = "ean13" // of thirteen digits
	KindQR    = "qr"    // a square of side Wide
)

// Item is something on a label.
type Item struct {
	Kind       string
	X, Y       float64
	Wide, High float64
	Size       float64
	Bold       bool
	Right      bool
	Text       string
}
