package sales

import (
	"context"
	"slices"
	"strings"
	"time"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/till"
	"falda/internal/store"
	"falda/internal/tabular"
	"falda/internal/work/shop"
)

// Ask is how a file is read.
type Ask struct {
	Till  string   // which one it is of
	Name  string   // of the file
	Way   till.Way // names that are empty are what was remembered of such a heading, or guessed
	Given bool     // the way is as the reader says, empty names too
	Stock bool     // what was sold is taken out of stock
	Save  bool
}

// Line is a line of a file: what it says, or what is wrong with it.
type Line struct {
	till.Line
	No      int    // of the file, its heading counted
	Key     string // of the product; empty where it is not known, or not of the counter
	Product string // its name
	Skip    bool   // it is not of the counter
	Covered bool   // the day was read in before
	Today   bool   // the day is not over
	Faults  fault.List
}

// out says that a line is not kept. A day is read in once, when it is over.
func (l Line) out() bool { return len(l.Faults) > 0 || l.Skip || l.Covered || l.Today }

// Unknown is a name of a till that nobody has said the meaning of yet.
type Unknown struct {
	Said  string
	Lines int
}

// File is what a file says.
type File struct {
	Heading     []string
	Way         till.Way
	Till        string
	Lines       []Line
	Good, Bad   int
	Left        int // lines that are not of the counter, of days that were read in before, or of today
	Unknown     []Unknown
	Covered     []time.Time
	First, Last time.Time
	Takings     measure.Money
	Read        *store.SaleFile // once it is kept
	Short       []Short         // what was sold beyond what lay in stock
}

// Short is what was sold of a product beyond what lay in stock.
type Short struct {
	Name string
	By   measure.Mass
}

// The bounds of a file.
const (
	maxTill = 40
	oldest  = 800 // days
)

// Import reads a file of a till, its heading first, and says what each line is. With save it keeps the good lines of
// days that were not read in before, all or none, and remembers how such a file is read.
func (s *Service) Import(ctx context.Context, rows [][]string, in Ask) (File, error) {
	if len(rows) < 2 {
		return File{}, fault.New("file", "empty", "has no lines", "The first line names the columns, the rest are sales.")
	}
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return File{}, err
	}
	settings, err := settingsOf(ctx, s.store, sh.ID)
	if err != nil {
		return File{}, err
	}
	in.Till = strings.Join(strings.Fields(in.Till), " ")
	if in.Till == "" {
		in.Till = "Till"
	}
	var faults fault.List
	faults.Add("till", fault.Text(in.Till, maxTill, true))
	if in.Given && in.Way.Unit != "" && !in.Way.Unit.Valid() {
		faults.Add("unit", fault.New("", "unknown", "is no unit", "Use kg, g, lb or oz."))
	}
	if err := faults.Err(); err != nil {
		return File{}, err
	}
	out := File{Heading: rows[0], Till: in.Till, Way: wayOf(sh.Shop, settings, rows[0], in)}
	if out.Way.Missing() != nil {
		return out, nil // the columns must be said first
	}
	if err := s.readLines(ctx, sh, rows, &out); err != nil {
		return out, err
	}
	if !in.Save {
		return out, nil
	}
	return out, s.keep(ctx, sh, in, &out)
}

// heading is what a file is known again by.
func heading(row []string) string { return strings.ToLower(strings.Join(row, "\t")) }

// wayOf is how a file is read: as is said, else as it was before, else as its heading lets guess.
func wayOf(sh shop.Shop, settings Settings, row []string, in Ask) till.Way {
	way := in.Way
	if !in.Given {
		known, ok := settings.Ways[heading(row)]
		if way = known; !ok {
			way = till.Way{Columns: till.Guess(row)}
			if strings.Contains(strings.ToLower(way.Weight), "gram") || strings.EqualFold(way.Weight, "g") {
				way.Unit = measure.UnitGram
			}
		}
	}
	if way.Unit == "" {
		way.Unit = sh.Unit
	}
	return way
}

// readLines reads the lines and finds their products.
func (s *Service) readLines(ctx context.Context, sh shop.WithPlans, rows [][]string, out *File) error {
	find, err := s.finder(ctx, sh)
	if err != nil {
		return err
	}
	at := tabular.HeadingOf(rows[0])
	today := sh.Day(s.now())
	unknown := map[string]int{}
	for i, row := range rows[1:] {
		cell := at.Of(row)
		said, faults := out.Way.Read(func(c string) string { return cell(strings.ToLower(c)) })
		l := Line{Line: said, No: i + 2, Faults: faults}
		if d := said.Day; !d.IsZero() && (d.After(today) || d.Before(today.AddDate(0, 0, -oldest))) {
			l.Faults.Add("day", fault.New("", "out_of_range", "lies ahead, or too far back", "Look at how days are written."))
		}
		l.Today = said.Day.Equal(today)
		if said.Said() != "" {
			find.product(&l)
			if l.Key == "" && !l.Skip {
				unknown[said.Said()]++
				l.Faults.Add("item", fault.New("", "unknown", fault.Quote(said.Said())+" is no product that is known here",
					"Say below what it is."))
			}
		}
		if len(l.Faults) == 0 && l.Kind != till.Wasted && l.Mass == 0 && l.Key != "" {
			l.Mass = find.guess(l)
		}
		out.Lines = append(out.Lines, l)
	}
	for said, n := range unknown {
		out.Unknown = append(out.Unknown, Unknown{said, n})
	}
	slices.SortFunc(out.Unknown, func(a, b Unknown) int { return strings.Compare(a.Said, b.Said) })
	return s.count(ctx, sh.ID, out)
}

// count finds the days that were read in before, and counts what is good.
func (s *Service) count(ctx context.Context, shopID int64, out *File) error {
	out.span()
	var err error
	if !out.First.IsZero() {
		out.Covered, err = s.store.SaleDays(ctx, shopID, out.Till, out.First, out.Last)
	}
	sum := till.Sum{}
	for i := range out.Lines {
		l := &out.Lines[i]
		l.Covered = slices.ContainsFunc(out.Covered, l.Day.Equal)
		switch {
		case len(l.Faults) > 0:
			out.Bad++
		case l.out():
			out.Left++
		default:
			out.Good++
			sum.Add(l.Kind, l.Packs, l.Mass, l.Amount)
		}
	}
	out.Takings = sum.Takings
	if out.Good > 0 {
		out.span() // of what is kept
	}
	return err
}

// span finds the first and the last day of what is not left out.
func (f *File) span() {
	f.First, f.Last = time.Time{}, time.Time{}
	for _, l := range f.Lines {
		if l.out() {
			continue
		}
		if f.First.IsZero() || l.Day.Before(f.First) {
			f.First = l.Day
		}
		if l.Day.After(f.Last) {
			f.Last = l.Day
		}
	}
}
