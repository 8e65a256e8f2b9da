package atlas

import (
	"errors"
	"fmt"
	"io/fs"
	"math"
	"slices"
	"strings"
)

// Carcass is a side or whole carcass, and one way of dividing it into pieces of the atlas.
type Carcass struct {
	ID       string              `yaml:"id"`
	Species  string              `yaml:"species"`
	Name     string              `yaml:"name"`
	Region   string              `yaml:"region"`
	Codes    map[string]string   `yaml:"codes"`
	Names    map[string][]string `yaml:"names"`
	Arrives  string              `yaml:"arrives"`
	Basis    string              `yaml:"basis"`
	WeightKg Range               `yaml:"weight_kg"`
	// OfSidePct is what part of a side it is, in percent, of a quarter; 0 for a side or a whole carcass.
	OfSidePct float64       `yaml:"of_side_pct"`
	Skill     int           `yaml:"skill"`
	Inspect   []Inspect     `yaml:"inspect"`
	Cautions  []string      `yaml:"cautions"`
	Divide    []string      `yaml:"divide"` // how, in words, in order
	Parts     []CarcassPart `yaml:"parts"`
	Instead   []Instead     `yaml:"instead"`
	Other     []Part        `yaml:"other"` // kidneys, fat, bone, trim, loss
	Section   Section       `yaml:"section"`
	Minutes   float64       `yaml:"break_minutes"` // of breaking it into the pieces of the division
	Season    []Season      `yaml:"season"`
	Plans     []CarcassPlan `yaml:"plans"`
}

// CarcassPart is a piece of the division. Share is of the cold carcass, 0–100, all of Count together; Findings are what
// is so found on the piece, such as that its chump is off.
type CarcassPart struct {
	Piece    string     `yaml:"piece"`
	SharePct float64    `yaml:"share_pct"`
	Count    int        `yaml:"count"`
	At       [2]float64 `yaml:"at"` // in the section
	Findings []string   `yaml:"findings"`
}

// Instead names pieces that can be taken in the place of others, and what of those is then left over; a carcass takes
// one division or the other, never both.
type Instead struct {
	ID     string        `yaml:"id"`
	Name   string        `yaml:"name"`
	Short  string        `yaml:"short"` // may be empty
	Pieces []CarcassPart `yaml:"pieces"`
	Of     []string      `yaml:"of"`
	// Takes is what of the carcass' other parts leaves with them, in percent of the carcass: the bone that stays in, suet.
	Takes map[string]float64 `yaml:"takes"`
	Rest  []Part             `yaml:"rest"`
	Note  string             `yaml:"note"`
}

// Season says what sells when.
type Season struct {
	When  string            `yaml:"when"`
	Sells []string          `yaml:"sells"`
	Slow  []string          `yaml:"slow"`
	Plans map[string]string `yaml:"plans"` // piece → plan
	Do    string            `yaml:"do"`
}

// CarcassPlan cuts every piece by a plan of its own. Minutes are those of the whole run, which are not the sum of the
// pieces'.
type CarcassPlan struct {
	ID      string            `yaml:"id"`
	School  string            `yaml:"school"`
	Name    string            `yaml:"name"`
	Why     string            `yaml:"why"`
	Minutes float64           `yaml:"minutes"`
	Pieces  map[string]string `yaml:"pieces"` // piece → plan
}

// kindOffal is a kind of part that only carcasses have.
const kindOffal = "offal"

// readCarcasses adds the carcasses of a folder, once the pieces are known.
func (a *Atlas) readCarcasses(fsys fs.FS, faults *[]error) error {
	files, err := decodeAll(fsys, "carcass/*.yaml", func(_ string, raw []byte) (list []Carcass, err error) {
		err = unmarshal(raw, &list)
		return list, err
	})
	if err != nil {
		return err
	}
	for _, f := range files {
		if f.err != nil {
			*faults = append(*faults, fmt.Errorf("%s: %w", f.name, f.err))
			continue
		}
		for _, c := range f.held {
			for _, fault := range a.validateCarcass(c) {
				*faults = append(*faults, fmt.Errorf("%s: %s: %w", f.name, c.ID, fault))
			}
			a.Carcasses = append(a.Carcasses, c)
		}
	}
	return nil
}

// FindCarcass gives a carcass by id.
func (a *Atlas) FindCarcass(id string) (Carcass, bool) {
	for _, c := range a.Carcasses {
		if c.ID == id {
			return c, true
		}
	}
	return Carcass{}, false
}

// IsCarcass says whether an id is a carcass'.
func (a *Atlas) IsCarcass(id string) bool {
	_, ok := a.FindCarcass(id)
	return ok
}

// CarcassIDs lists the ids of the carcasses.
func (a *Atlas) CarcassIDs() []string {
	ids := make([]string, 0, len(a.Carcasses))
	for _, c := range a.Carcasses {
		ids = append(ids, c.ID)
	}
	return ids
}

// validateCarcass lists everything that is wrong with a carcass.
func (a *Atlas) validateCarcass(c Carcass) []error {
	var faults []error
	add := func(key, format string, args ...any) {
		faults = append(faults, fmt.Errorf("%s: %s", key, fmt.Sprintf(format, args...)))
	}
	if c.ID == "" || c.Species == "" || c.Name == "" || c.Basis == "" {
		add("id", "needs id, species, name and basis")
	}
	if w := c.WeightKg; w.Low <= 0 || w.Low > w.Typical || w.Typical > w.High {
		add("weight_kg", "must rise from low over typical to high, all above 0")
	}
	taken := map[string]bool{}
	a.checkParts(c, taken, add)
	if c.Minutes <= 0 || c.Section.W <= 0 || c.Section.H <= 0 || !simple(c.Section.Outline) {
		add("section", "needs break_minutes, and a section with a width, a height and an outline that does not cross itself")
	}
	for _, in := range c.Instead {
		for _, f := range a.checkInstead(c, in, taken) {
			faults = append(faults, fmt.Errorf("instead.%s: %w", in.ID, f))
		}
	}
	if err := a.checkCarcassPlans(c, taken); err != nil {
		faults = append(faults, err)
	}
	return faults
}

// checkParts checks what a carcass falls into, and notes the pieces in taken.
func (a *Atlas) checkParts(c Carcass, taken map[string]bool, add func(key, format string, args ...any)) {
	sum, losses := int64(0), 0
	for _, part := range c.Parts {
		key := "parts." + part.Piece
		p, ok := a.Find(part.Piece)
		switch {
		case !ok:
			add(key, "is not a piece of the atlas")
		case p.Species != c.Species:
			add(key, "is of another species")
		case taken[part.Piece]:
			add(key, "stands twice")
		case part.SharePct <= 0 || part.Count < 1:
			add(key, "needs a share and a count above 0")
		case math.Abs(c.shareOf(p)-part.SharePct) > c.tolerance():
			add(key, "has %g %% of the carcass here and side_share_pct %g in its own entry", part.SharePct, p.SideSharePct)
		}
		taken[part.Piece] = true
		sum += Thousandths(part.SharePct)
	}
	for _, o := range append(c.leftOver(), c.Other...) {
		if o.As != "" && a.sold(c, o).ID != o.As {
			add("other."+o.ID+".as", "“%s” is not a product of this species", o.As)
		}
	}
	for _, o := range c.Other {
		sum += Thousandths(o.SharePct)
		if o.Kind == KindLoss {
			losses++
		}
		if o.ID == "" || o.SharePct <= 0 || (o.Kind != kindOffal && !knownKind(o.Kind)) {
			add("other."+o.ID, "needs an id, a share above 0 and a kind")
		}
	}
	if sum != whole {
		add("share_pct", "the shares add to %.3f, not to 100", float64(sum)/1000)
	}
	if losses != 1 {
		add("other", "needs exactly one part of kind loss, has %d", losses)
	}
}

// checkInstead checks another division: what is pulled and what is left over weigh what they are taken from.
func (a *Atlas) checkInstead(c Carcass, in Instead, taken map[string]bool) []error {
	var faults []error
	add := func(format string, args ...any) { faults = append(faults, fmt.Errorf(format, args...)) }
	if in.ID == "" || in.Name == "" || strings.Contains(in.ID, "+") || in.ID == UsualDivision {
		add("needs an id and a name")
	}
	if len([]rune(in.Short)) > ShortLength {
		add("short: is longer than %d letters", ShortLength)
	}
	sum := int64(0)
	for _, part := range in.Pieces {
		p, ok := a.Find(part.Piece)
		switch {
		case !ok:
			add("“%s” is not a piece of the atlas", part.Piece)
		case taken[part.Piece] && !slices.Contains(in.Of, part.Piece):
			add("%s is taken already: a carcass takes one division", part.Piece)
		case part.SharePct <= 0 || part.Count < 1 || p.Species != c.Species:
			add("%s needs a share and a count above 0, and to be of this species", part.Piece)
		case len(part.Findings) == 0 && math.Abs(c.shareOf(p)-part.SharePct) > c.tolerance():
			add("%s has %g %% of the carcass here and side_share_pct %g in its own entry", part.Piece, part.SharePct,
				p.SideSharePct)
		}
		for _, f := range part.Findings {
			if !slices.ContainsFunc(p.Inspect, func(i Inspect) bool { return i.ID == f }) {
				add("“%s” is not an inspection point of %s", f, part.Piece)
			}
		}
		sum += Thousandths(part.SharePct)
	}
	for _, o := range in.Rest {
		if o.ID == "" || o.Name == "" || o.SharePct <= 0 || !knownKind(o.Kind) || o.Kind == KindLoss {
			add("what is left over needs id, name, kind and a share above 0")
		}
		sum += Thousandths(o.SharePct)
	}
	for _, id := range sortedKeys(in.Takes) {
		i := slices.IndexFunc(c.Other, func(o Part) bool { return o.ID == id })
		if i < 0 || in.Takes[id] <= 0 || in.Takes[id] >= c.Other[i].SharePct || c.Other[i].Kind == KindLoss {
			add("takes.%s: must be a part beside the pieces, above 0 and less than there is of it", id)
		}
		sum -= Thousandths(in.Takes[id])
	}
	for _, id := range in.Of {
		if !taken[id] {
			add("%s is not taken", id)
		}
		for _, part := range c.Parts {
			if part.Piece == id {
				sum -= Thousandths(part.SharePct)
			}
		}
	}
	if sum != 0 {
		add("share_pct: its pieces and what is left over are %.3f %% more than what they are taken from", float64(sum)/1000)
	}
	return faults
}

// shareOf is a piece's share of the carcass, by its own share of the side.
func (c Carcass) shareOf(p Piece) float64 {
	if c.OfSidePct > 0 {
		return p.SideSharePct * 100 / c.OfSidePct
	}
	return p.SideSharePct
}

// tolerance is by how much the share of a piece may differ from its share of the side: of a quarter, by its rounding.
func (c Carcass) tolerance() float64 {
	if c.OfSidePct > 0 {
		return 0.05
	}
	return 0
}

// leftOver lists what its other divisions leave over.
func (c Carcass) leftOver() []Part {
	var out []Part
	for _, in := range c.Instead {
		out = append(out, in.Rest...)
	}
	return out
}

func knownKind(kind string) bool {
	for _, k := range partKinds {
		if k == kind {
			return true
		}
	}
	return false
}

// checkCarcassPlans checks that each plan cuts each piece of the division by a plan that the piece has.
func (a *Atlas) checkCarcassPlans(c Carcass, taken map[string]bool) error {
	var faults []error
	check := func(key string, pieces map[string]string) {
		for _, id := range sortedKeys(pieces) {
			p, _ := a.Find(id)
			if _, ok := p.Plan(pieces[id]); !ok || !taken[id] {
				faults = append(faults,
					fmt.Errorf("%s.pieces.%s: “%s” is not a plan of a piece of this division", key, id, pieces[id]))
			}
		}
	}
	traditional := false
	for _, pl := range c.Plans {
		key := "plans." + pl.ID
		if pl.ID == "" || pl.Name == "" || pl.Why == "" || pl.Minutes <= 0 {
			faults = append(faults, fmt.Errorf("%s: needs id, name, why and minutes", key))
		}
		check(key, pl.Pieces)
		if len(pl.Pieces) != len(taken) {
			faults = append(faults, fmt.Errorf("%s.pieces: cuts %d of the %d pieces", key, len(pl.Pieces), len(taken)))
		}
		traditional = traditional || pl.School == "traditional"
	}
	if !traditional {
		faults = append(faults, errors.New("plans: has no plan of the traditional school to compare with"))
	}
	for _, s := range c.Season {
		check("season."+s.When, s.Plans)
	}
	return errors.Join(faults...)
}
