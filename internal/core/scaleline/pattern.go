package scaleline

import (
	"errors"
	"regexp"
	"slices"
	"strings"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
)

// The states of a weight.
const (
	Stable = "stable"
	Moving = "moving"
	Over   = "over"
	Under  = "under"
)

// groups are the names that a pattern may use.
var groups = []string{"net", "gross", "tare", "sign", "unit", Stable, Moving, Over, Under}

// Pattern reads lines.
type Pattern struct {
	Text   string
	Unit   measure.Unit // of lines that name none
	re     *regexp.Regexp
	at     map[string]int
	states bool // it says itself what is stable
}

// MaxPattern bounds a pattern, in bytes.
const MaxPattern = 300

// New reads a pattern. Faults name pattern and unit.
func New(text, unit string) (*Pattern, error) {
	var faults fault.List
	p := &Pattern{Text: text, Unit: measure.Unit(unit), at: map[string]int{}}
	if !p.Unit.Valid() {
		faults.Add("unit", fault.New("", "unknown_unit", "must be g, kg, lb or oz", "Say in which unit the scale shows."))
	}
	faults.Add("pattern", p.compile())
	return p, faults.Err()
}

func (p *Pattern) compile() (err error) {
	if len(p.Text) == 0 || len(p.Text) > MaxPattern {
		return fault.New("", "out_of_range", "must be from 1 to 300 characters", "Write what a line looks like.")
	}
	if p.re, err = regexp.Compile(p.Text); err != nil {
		return fault.New("", "not_a_pattern", "is no regular expression: "+strings.TrimPrefix(err.Error(),
			"error parsing regexp: "), "Close its brackets, and put \\ before signs that stand for themselves.")
	}
	for i, name := range p.re.SubexpNames() {
		if name == "" {
			continue
		}
		if !slices.Contains(groups, name) {
			return fault.New("", "unknown_group", fault.Quote(name)+" is no group", "Use "+strings.Join(groups, ", ")+".")
		}
		p.at[name] = i
	}
	_, net := p.at["net"]
	_, gross := p.at["gross"]
	if !net && !gross {
		return fault.New("", "no_weight", "has no group for the weight", "Put (?P<net>[0-9.]+) where the weight stands.")
	}
	_, stable := p.at[Stable]
	_, moving := p.at[Moving]
	p.states = stable || moving
	return nil
}

// Weight is what a line says.
type Weight struct {
	Net, Gross, Tare measure.Mass
	Unit             measure.Unit
	State            string // empty where the pattern does not say what is stable
}

// ErrOther is a line that is not of the pattern: a heading, or the end of another.
var ErrOther = errors.New("the line is not of the pattern")

// Read reads a line. It is [ErrOther] where it does not match, and a fault where it matches and makes no sense.
func (p *Pattern) Read(line string) (Weight, error) {
	m := p.re.FindStringSubmatch(line)
	if m == nil {
		return Weight{}, ErrOther
	}
	has := func(name string) string {
		if i, ok := p.at[name]; ok {
			return strings.TrimSpace(m[i])
		}
		return ""
	}
	w := Weight{Unit: p.Unit}
	if u := strings.ToLower(has("unit")); u != "" {
		if w.Unit = measure.Unit(u); !w.Unit.Valid() {
			return w, fault.New("", "unknown_unit", fault.Quote(u)+" is not a unit", "")
		}
	}
	minus := has("sign") == "-" || has("sign") == "−"
	mass := func(name string) (measure.Mass, bool, error) {
		text := strings.ReplaceAll(strings.ReplaceAll(has(name), " ", ""), ",", ".")
		if text == "" {
			return 0, false, nil
		}
		v, err := measure.ParseMass(strings.TrimPrefix(text, "+"), w.Unit)
		if minus && name != "tare" {
			v = -v
		}
		return v, true, err
	}
	var err1, err2, err3 error
	var net, gross bool
	w.Net, net, err1 = mass("net")
	w.Gross, gross, err2 = mass("gross")
	w.Tare, _, err3 = mass("tare")
	if err := errors.Join(err1, err2, err3); err != nil {
		return w, fault.New("", "no_weight", "has no weight where the pattern looks for it", "")
	}
	switch {
	case net && !gross:
		w.Gross = w.Net + w.Tare
	case gross && !net:
		w.Net = w.Gross - w.Tare
	case w.Gross-w.Tare != w.Net:
		w.Tare = w.Gross - w.Net
	}
	for _, state := range []string{Over, Under, Moving, Stable} {
		if has(state) != "" {
			w.State = state
			return w, nil
		}
	}
	if p.states { // it would have said so
		w.State = Moving
		if _, ok := p.at[Stable]; !ok {
			w.State = Stable
		}
	}
	return w, nil
}

// calmLines is how many lines on end must say the same where a scale does not say itself what is stable.
const calmLines = 5

// Calm is told each weight and says whether it is stable.
type Calm struct {
	last measure.Mass
	n    int
}

// Settles takes a weight and says whether it is stable by now.
func (c *Calm) Settles(w Weight) bool {
	if w.Net != c.last {
		c.last, c.n = w.Net, 0
	}
	c.n++
	switch w.State {
	case "":
		return c.n >= calmLines
	case Stable:
		return true
	}
	return false
}
