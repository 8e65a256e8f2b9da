package sales

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/till"
	"falda/internal/store"
	"falda/internal/tabular"
	"falda/internal/work/audit"
	"falda/internal/work/goods"
	"falda/internal/work/labels"
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

// finder finds the product that a line means.
type finder struct {
	products map[string]goods.Product
	byItem   map[string]string
	byName   map[string]string
	said     map[string]string // by people; empty for what is not of the counter
	prefix   string
	labels   labels.Settings
}

func (s *Service) finder(ctx context.Context, sh shop.WithPlans) (finder, error) {
	f := finder{byItem: map[string]string{}, byName: map[string]string{}, said: map[string]string{}}
	var err error
	if f.products, err = s.goods.Products(ctx, sh); err != nil {
		return f, err
	}
	codes, err := s.store.ProductCodes(ctx, sh.ID)
	if err != nil {
		return f, err
	}
	for key, c := range codes {
		f.byItem[c.Item] = key
		if c.GTIN != "" {
			f.byName[strings.TrimLeft(c.GTIN, "0")] = key
		}
	}
	named := map[string]int{} // a name that two products share means neither
	for key, p := range f.products {
		f.byName[strings.ToLower(p.Name)] = key
		named[strings.ToLower(p.Name)]++
	}
	for name, n := range named {
		if n > 1 {
			delete(f.byName, name)
		}
	}
	menu, err := s.store.MenuNames(ctx, sh.ID)
	if err != nil {
		return f, err
	}
	for key, name := range menu {
		f.byName[strings.ToLower(name)] = key
	}
	said, err := s.store.SaleNames(ctx, sh.ID)
	if err != nil {
		return f, err
	}
	for _, n := range said {
		f.said[strings.ToLower(n.Said)] = n.ProductKey
	}
	f.labels, err = labels.SettingsOf(ctx, s.store, sh.Shop)
	f.prefix = f.labels.Prefix
	return f, err
}

// product finds it: by what somebody said of the till's words, by the name, and by the number last, for a till may
// number things in a way of its own.
func (f finder) product(l *Line) {
	key := ""
	for _, said := range []string{l.Name, l.Item} {
		if k, known := f.said[strings.ToLower(said)]; known && said != "" {
			if l.Skip = k == ""; l.Skip {
				return
			}
			key = k
			break
		}
	}
	if key == "" && l.Name != "" {
		key = f.byName[strings.ToLower(l.Name)]
	}
	if n, ok := till.ReadNumber(l.Item, f.prefix); ok {
		if own := f.byItem[n.Item]; key == "" {
			key = own
		} else if own != key {
			n.Coded = false
		}
		if n.Coded && f.labels.ByWeight && l.Mass == 0 && key != "" {
			l.Mass = measure.Mass(n.Inside) * measure.Gram
		}
	}
	for _, said := range []string{l.Item, strings.TrimLeft(l.Item, "0")} {
		if key == "" && said != "" {
			key = f.byName[strings.ToLower(said)]
		}
	}
	if _, ok := f.products[key]; ok {
		l.Key, l.Product = key, f.products[key].Name
	}
}

// guess is what a line weighs that says nothing of it: its amount by today's price; 0 where there is none.
func (f finder) guess(l Line) measure.Mass {
	price := f.products[l.Key].Price
	if price == nil || price.Amount.Sign() <= 0 {
		return 0
	}
	perKg := price.PerKilogram().Float()
	m, err := measure.FromGrams(l.Amount.Float() / perKg * 1000)
	if err != nil {
		return 0
	}
	return m
}

// keep keeps the good lines.
func (s *Service) keep(ctx context.Context, sh shop.WithPlans, in Ask, out *File) error {
	who, err := audit.Who(ctx)
	if err != nil {
		return err
	}
	if out.Good == 0 {
		return fault.New("file", "empty", "holds nothing that can be kept", "Look at what is wrong with its lines.")
	}
	name := []rune(strings.TrimSpace(in.Name))
	f := store.SaleFile{PublicID: store.NewID(), ShopID: sh.ID, Till: out.Till, Name: string(name[:min(len(name), 120)]),
		FirstDay: out.First, LastDay: out.Last, MemberID: who.MemberKey(), ReadAt: s.now(), LinesRead: out.Good}
	var lines []store.Sale
	for _, l := range out.Lines {
		if l.out() {
			continue
		}
		lines = append(lines, store.Sale{Line: l.No, Day: l.Day, ProductKey: l.Key, Kind: l.Kind, Packs: l.Packs,
			MassMg: int64(l.Mass), Amount: l.Amount.Text(4), Reason: l.Reason})
	}
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		change := audit.Change{Action: "sales.read", Subject: f.PublicID, SubjectName: f.Name,
			Became: map[string]any{"till": f.Till, "lines": len(lines), "first": f.FirstDay.Format(time.DateOnly),
				"last": f.LastDay.Format(time.DateOnly), "out_of_stock": in.Stock}}
		if _, err := tx.LockShop(ctx, sh.ID); err != nil { // a day is read in once
			return change, err
		}
		covered, err := tx.SaleDays(ctx, sh.ID, out.Till, out.First, out.Last)
		if err != nil {
			return change, err
		}
		if slices.ContainsFunc(lines, func(l store.Sale) bool { return slices.ContainsFunc(covered, l.Day.Equal) }) {
			return change, store.ErrConflict
		}
		if in.Stock {
			if err := s.takeOut(ctx, tx, sh, out, &f); err != nil {
				return change, err
			}
		}
		if err := tx.AddSales(ctx, &f, lines); err != nil {
			return change, err
		}
		out.Read = &f
		settings, err := settingsOf(ctx, tx, sh.ID)
		if err != nil {
			return change, err
		}
		if settings.Ways[heading(out.Heading)] == out.Way {
			return change, nil
		}
		settings.Ways[heading(out.Heading)] = out.Way
		return change, save(ctx, tx, sh.ID, settings)
	})
}

// takeOut books what was sold out of stock, what must go first first.
func (s *Service) takeOut(ctx context.Context, tx *store.Store, sh shop.WithPlans, out *File, f *store.SaleFile) error {
	masses, names := map[string]measure.Mass{}, map[string]string{}
	for _, l := range out.Lines {
		if l.out() {
			continue
		}
		names[l.Key] = l.Product
		switch l.Kind {
		case till.Sold, till.Reduced:
			masses[l.Key] += l.Mass
		case till.Returned:
			masses[l.Key] -= l.Mass
		}
	}
	keys := make([]string, 0, len(masses))
	for key := range masses {
		keys = append(keys, key)
	}
	slices.Sort(keys)
	booked := []string{}
	out.Short = nil
	for _, key := range keys {
		if masses[key] <= 0 {
			continue
		}
		id := store.NewID()
		short, err := s.goods.TakeSold(ctx, tx, sh.ID, goods.Taking{ID: id, Key: key, Mass: masses[key],
			Note: fmt.Sprintf("%s, %s to %s", f.Till, f.FirstDay.Format(time.DateOnly), f.LastDay.Format(time.DateOnly))})
		if err != nil {
			return err
		}
		if short > 0 {
			out.Short = append(out.Short, Short{names[key], short})
		}
		if short < masses[key] {
			booked = append(booked, id)
		}
	}
	var err error
	f.Booked, err = json.Marshal(booked)
	return err
}

// Undo takes a file back: its lines count no more, and what was booked out of stock with it lies there again. Undone
// before, it changes nothing.
func (s *Service) Undo(ctx context.Context, file string) error {
	sh, err := s.shops.Current(ctx)
	if err != nil {
		return err
	}
	f, err := s.store.SaleFile(ctx, sh.ID, file)
	if err != nil || f.UndoneAt != nil {
		return err
	}
	var booked []string
	if f.Booked != nil {
		if err := json.Unmarshal(f.Booked, &booked); err != nil {
			return err
		}
	}
	for _, id := range booked { // twice changes nothing: what is cut short can be done again
		if err := s.goods.Undo(ctx, store.NewID(), id); err != nil {
			return err
		}
	}
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		return audit.Change{Action: "sales.undone", Subject: f.PublicID, SubjectName: f.Name},
			tx.UndoSales(ctx, f, s.now())
	})
}

// Means remembers what a till means by a name: a product, or with an empty key something that is not of the counter.
func (s *Service) Means(ctx context.Context, said, key string) error {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return err
	}
	said = strings.Join(strings.Fields(said), " ")
	var faults fault.List
	faults.Add("said", fault.Text(said, 80, true))
	products, err := s.goods.Products(ctx, sh)
	if err != nil {
		return err
	}
	if _, ok := products[key]; key != "" && !ok {
		faults.Add("product_key", fault.New("", "unknown", "is no product of this shop", "Choose one of the list."))
	}
	if err := faults.Err(); err != nil {
		return err
	}
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		return audit.Change{Action: "sales.named", Subject: key, SubjectName: products[key].Name,
				Became: map[string]any{"said": said}},
			tx.SetSaleName(ctx, store.SaleName{ShopID: sh.ID, Said: said, ProductKey: key})
	})
}
