package atlas

import (
	"fmt"
	"io/fs"
	"slices"
)

// Body is what lies where inside a piece: its cross-sections at a few places along its axis. Basis of all figures: from
// memory, as far as the piece says no other.
type Body struct {
	Axis     Axis       `yaml:"axis"`
	Half     bool       `yaml:"half"` // what is drawn is one of two mirrored halves; shares are of both
	Stations []Station  `yaml:"stations"`
	Facts    []BodyFact `yaml:"-"`
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
	Bands    map[string]Band       `yaml:"bands"`
}

// Band is fat or skin under the rim, from one angle to another: 0° across, 90° up, the second may pass 360.
type Band struct {
	Over [2]float64 `yaml:"over"`
	Pct  float64    `yaml:"pct"`
}

// BodyFact is something that is known of the inside of a piece, and where from.
type BodyFact struct {
	Text  string `yaml:"text"`
	Basis string `yaml:"basis"`
}

// bodyFile is what a file of the folder body holds.
type bodyFile struct {
	Piece string     `yaml:"piece"`
	Body  Body       `yaml:"body"`
	Facts []BodyFact `yaml:"facts"`
}

// readBodies adds the insides of pieces, a file each, decoded side by side.
func (a *Atlas) readBodies(fsys fs.FS, passed func(piece string) bool, faults *[]error) error {
	files, err := decodeAll(fsys, "body/*.yaml", func(_ string, raw []byte) (f bodyFile, err error) {
		err = unmarshal(raw, &f)
		return f, err
	})
	if err != nil {
		return err
	}
	for _, f := range files {
		piece := f.held.Piece
		at, known := a.byID[piece]
		switch {
		case f.err != nil:
			*faults = append(*faults, fmt.Errorf("%s: %w", f.name, f.err))
		case !known:
			*faults = append(*faults, fmt.Errorf("%s: piece: there is no %q", f.name, piece))
		case !passed(piece):
			b := f.held.Body
			b.Facts = f.held.Facts
			for _, fault := range b.check(a.Pieces[at]) {
				*faults = append(*faults, fmt.Errorf("%s: %s: %s", f.name, piece, fault))
			}
			a.Pieces[at].Body = &b
		}
	}
	return nil
}

// check says what is wrong with the inside of a piece, a line each.
func (b Body) check(p Piece) (faults []string) {
	add := func(format string, args ...any) { faults = append(faults, fmt.Sprintf(format, args...)) }
	if b.Axis.From == "" || b.Axis.To == "" || b.Axis.Lies == "" || !(b.Axis.LengthMm > 0) {
		add("body.axis: must have both ends, a length and how the piece lies")
	}
	if n := len(b.Stations); n < 2 || n > 16 || b.Stations[0].At < 0 || b.Stations[n-1].At > 1 {
		add("body.stations: must be from 2 to 16, at fractions of the length")
	}
	seen := map[string]bool{}
	for i, s := range b.Stations {
		at := fmt.Sprintf("body.stations[%d]", i)
		if i > 0 && s.At <= b.Stations[i-1].At {
			add("%s.at: does not lie behind the one before", at)
		}
		if !(s.WidthMm > 0 && s.HeightMm > 0 && s.Round >= 1 && s.Round <= 8 && s.Flat >= 0 && s.Flat < 0.9) {
			add("%s: width, height and round must be above 0, flat from 0 to below 0.9", at)
		}
		for id, c := range s.Cells {
			seen[id] = true
			if part, ok := p.Part(id); !ok || part.Kind == KindLoss {
				add("%s.cells.%s: is no part of the piece", at, id)
			}
			if _, twice := s.Bands[id]; twice || !(c[2] >= 0) || max(c[0], -c[0], c[1], -c[1]) > 3 {
				add("%s.cells.%s: needs a place within 3, a percentage from 0 on, and no band beside it", at, id)
			}
		}
		for id, band := range s.Bands {
			seen[id] = true
			if part, ok := p.Part(id); !ok || part.Kind == KindLoss || part.Kind == KindMuscle {
				add("%s.bands.%s: is no fat or skin of the piece", at, id)
			}
			if !(band.Pct > 0) || band.Over[1] <= band.Over[0] || band.Over[1]-band.Over[0] > 360 {
				add("%s.bands.%s: needs a percentage above 0 and angles that rise by no more than 360", at, id)
			}
		}
	}
	for _, m := range p.Muscles {
		if !seen[m.ID] {
			add("body: %s lies nowhere", m.ID)
		}
	}
	slices.Sort(faults)
	return faults
}
