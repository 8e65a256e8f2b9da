package body

// Sketch is what is known of the inside of a piece: its cross-sections at a few places along its axis. Basis of all
// figures: from memory, as far as the piece says no other.
type Sketch struct {
	Axis     Axis      `yaml:"axis"`
	Half     bool      `yaml:"half"` // what is drawn is one of two mirrored halves; weights are of both
	Stations []Station `yaml:"stations"`
	Facts    []Fact    `yaml:"-"`
}

// Axis is the line along which a piece is cut straight.
type Axis struct {
	From     string  `yaml:"from"` // its ends, as a cutter names them
	To       string  `yaml:"to"`
	LengthMm float64 `yaml:"length_mm"`
	Lies     string  `yaml:"lies"` // how the piece lies on the board
}

// Station is the cross-section of a piece at a fraction of its length. Cells gives each part's place, across and up
// from −1 to 1 of half the width and height, and its rough percentage of the section; Bands what lies under the rim.
type Station struct {
	At       float64               `yaml:"at"`
	WidthMm  float64               `yaml:"width_mm"`
	HeightMm float64               `yaml:"height_mm"`
	Round    float64               `yaml:"round"` // exponent of the superellipse of the outline
	Flat     float64               `yaml:"flat"`  // fraction of the height that is cut off below
	Cells    map[string][3]float64 `yaml:"cells"`
	Bands    map[string]Rim        `yaml:"bands"`
}

// Rim is fat or skin under the rim, from one angle to another: 0° across, 90° up, the second may pass 360.
type Rim struct {
	Over [2]float64 `yaml:"over"`
	Pct  float64    `yaml:"pct"`
}

// Fact is something that is known of the inside of a piece, and where from.
type Fact struct {
	Text  string `yaml:"text"`
	Basis string `yaml:"basis"`
}
