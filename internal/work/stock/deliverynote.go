package stock

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/store"
	"falda/internal/tabular"
	"falda/internal/work/audit"
	"falda/internal/work/shop"
)

// NoteColumns head a delivery note. Those after supplier may be left out; so may weight, where weights gives each
// piece's.
var NoteColumns = []string{"lot_number", "piece", "pieces", "weight", "unit", "price", "per", "slaughtered_on",
	"packed_on", "supplier", "weights", "bone", "feed", "sex", "age_class", "hang", "fat_class", "marbling",
	"supplier_grade", "ph", "temperature_c", "note", "invoiced", "fat_pct", "lean_yield_pct",
	"breed", "born_in", "reared_in", "slaughtered_in", "plant"}

// needed are the columns without which a delivery note says too little.
var needed = []string{"lot_number", "piece", "weight", "price", "slaughtered_on", "supplier"}

// maxNoteLines bounds a delivery note.
const maxNoteLines = 500

// NoteLine is one line of a delivery note: a lot, or what is wrong with it.
type NoteLine struct {
	Line    int // of the file, its heading counted
	Arrival Arrival
	Named   string // the piece as the line names it
	Piece   string // what that is in the atlas; empty where it is nothing
	Total   measure.Mass
	Cost    measure.Money
	Faults  fault.List
	LotID   string // once it is received
}

// ImportNote reads a delivery note, its heading first, and says what each line is. With save it receives the good
// lines, all or none, and leaves the bad ones out.
func (s *Service) ImportNote(ctx context.Context, rows [][]string, save bool) ([]NoteLine, error) {
	if len(rows) == 0 {
		return nil,
			fault.New("file", "empty", "has no lines", "The first line names the columns: "+strings.Join(NoteColumns, ", ")+".")
	}
	if len(rows) > maxNoteLines+1 {
		return nil, fault.New("file", "too_long", fmt.Sprintf("has more than %d lines", maxNoteLines), "Send it in parts.")
	}
	at := tabular.HeadingOf(rows[0])
	for _, column := range needed {
		if !at.Has(column) {
			return nil,
				fault.New("file", "no_heading", "does not name the column “"+column+"”",
					"The first line names the columns: "+strings.Join(NoteColumns, ", ")+".")
		}
	}
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return nil, err
	}
	var lines []NoteLine
	var read []CheckedArrival
	var numbers []string
	seen := map[string]int{}
	for i, row := range rows[1:] {
		l, a, err := s.readNoteLine(shop, at.Of(row))
		if err != nil {
			return nil, err
		}
		l.Line = i + 2
		number := strings.ToLower(l.Arrival.LotNumber)
		if before, twice := seen[number]; twice && number != "" {
			l.Faults.Add("lot_number",
				fault.New("", "twice", fmt.Sprintf("stands in line %d already", before), "Number each lot apart."))
		} else {
			seen[number] = l.Line
		}
		lines, read, numbers = append(lines, l), append(read, a), append(numbers, l.Arrival.LotNumber)
	}
	known, err := s.store.LotNumbers(ctx, shop.ID, numbers)
	if err != nil {
		return nil, err
	}
	for i := range lines {
		if slices.ContainsFunc(known, func(n string) bool { return strings.EqualFold(n, lines[i].Arrival.LotNumber) }) {
			lines[i].Faults.Add("lot_number", duplicateLot(lines[i].Arrival.LotNumber))
		}
	}
	if !save {
		return lines, nil
	}
	return lines, s.receiveNote(ctx, shop, lines, read)
}

// receiveNote receives the good lines in one transaction.
func (s *Service) receiveNote(ctx context.Context, shop shop.WithPlans, lines []NoteLine, read []CheckedArrival) error {
	who, err := audit.Who(ctx)
	if err != nil {
		return err
	}
	return s.store.Tx(ctx, func(tx *store.Store) error {
		for i := range lines {
			l := &lines[i]
			if len(l.Faults) > 0 {
				continue
			}
			lot, pieces, err := s.lotOf(shop, l.Arrival, read[i])
			if err != nil {
				return err
			}
			if err := tx.CreateLot(ctx, &lot, pieces); err != nil {
				return err
			}
			l.LotID = lot.PublicID
			facts := lotFacts(lot, pieces)
			facts["by"] = "delivery note"
			if err := s.audit.Write(ctx, tx, who,
				audit.Change{Action: "lot.received", Subject: lot.PublicID, SubjectName: lot.LotNumber,
					Became: facts}); err != nil {
				return err
			}
		}
		return nil
	})
}

func (s *Service) readNoteLine(shop shop.WithPlans, cell func(string) string) (NoteLine, CheckedArrival, error) {
	l := NoteLine{Named: cell("piece")}
	id, err := s.named(l.Named)
	l.Faults.Add("piece", err)
	unit, per := strings.ToLower(cell("unit")), strings.ToLower(cell("per"))
	if unit == "" {
		unit = shop.WeightUnit
	}
	if per == "" {
		per = "kg"
	}
	l.Arrival = Arrival{AtlasID: id, Pieces: 1, Weight: cell("weight"), WeightUnit: unit, Price: cell("price"),
		PricePer: per, SlaughteredOn: noteDay(cell("slaughtered_on")), PackedOn: noteDay(cell("packed_on")),
		Supplier: cell("supplier"), LotNumber: cell("lot_number"), Note: cell("note"), Invoiced: cell("invoiced"),
		Weights: strings.Fields(strings.ReplaceAll(cell("weights"), ";", " ")), Bone: word("bone", cell("bone")),
		Feed: word("feed", cell("feed")), Sex: word("sex", cell("sex")), AgeClass: word("age_class", cell("age_class")),
		Hang: word("hang", cell("hang")), FatClass: cell("fat_class"), Marbling: cell("marbling"),
		SupplierGrade: cell("supplier_grade"), Ph: cell("ph"), TemperatureC: cell("temperature_c"),
		FatPct: cell("fat_pct"), LeanYieldPct: cell("lean_yield_pct"), Breed: cell("breed"),
		BornIn: cell("born_in"), RearedIn: cell("reared_in"), SlaughteredIn: cell("slaughtered_in"), Plant: cell("plant"),
		Findings: []string{}}
	if n := cell("pieces"); n != "" {
		l.Arrival.Pieces, err = strconv.Atoi(n)
		if err != nil {
			l.Faults.Add("pieces",
				fault.New("", "not_a_number", fault.Quote(n)+" is not a number of pieces", "Write a whole number."))
		}
	} else if len(l.Arrival.Weights) > 0 {
		l.Arrival.Pieces = len(l.Arrival.Weights)
	}
	a, found, err := s.readWhole(shop, &l.Arrival)
	if err != nil {
		return l, a, err
	}
	for _, f := range found {
		if f.Field != "atlas_id" { // said above, by the column's name
			l.Faults = append(l.Faults, f)
		}
	}
	if p, ok := s.atlas.Find(id); ok {
		l.Piece = p.NameIn(shop.Market)
	}
	if len(l.Faults) == 0 {
		l.Total, l.Cost = a.Total, a.Price.Of(a.Total)
	}
	return l, a, nil
}

// named finds the piece that a delivery note means: by its id, or by a name that is spelt right and means one thing.
func (s *Service) named(name string) (string, error) {
	if name == "" {
		return "", fault.Required("Name the piece.")
	}
	if _, ok := s.atlas.Find(name); ok {
		return name, nil
	}
	var same, other []atlas.Hit
	for _, h := range s.atlas.Search(name) {
		if h.Piece.Called(name) {
			same = append(same, h)
		} else {
			other = append(other, h)
		}
	}
	switch {
	case len(same) == 1:
		return same[0].Piece.ID, nil
	case len(same) > 1:
		return "",
			fault.New("", "ambiguous", fault.Quote(name)+" means "+same[0].Piece.Name+" or "+same[1].Piece.Name,
				"Name it by its id, such as "+same[0].Piece.ID+".")
	case len(other) > 0:
		return "",
			fault.New("", "unknown", fault.Quote(name)+" is no piece by that name",
				"Do you mean "+other[0].Piece.Name+"? Its id is "+other[0].Piece.ID+".")
	}
	return "",
		fault.New("", "unknown", fault.Quote(name)+" is not a piece of the atlas",
			"Name it as the atlas does, by any market's name or by its id.")
}

// noteDay reads a day as delivery notes write it: 2026-11-25 or 25.11.2026. What is no such day stays as it is.
func noteDay(text string) string {
	if d, err := time.Parse("2.1.2006", text); err == nil {
		return d.Format(time.DateOnly)
	}
	return text
}

// word reads one of Words by its id or its name.
func word(field, text string) string {
	for _, w := range Words[field] {
		if strings.EqualFold(w.Name, text) ||
			strings.EqualFold(strings.ReplaceAll(w.ID, "_", " "), strings.ReplaceAll(text, "_", " ")) {
			return w.ID
		}
	}
	return text
}
