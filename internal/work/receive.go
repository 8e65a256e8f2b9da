package work

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"falda/internal/core/age"
	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/value"
	"falda/internal/store"
)

// Bounds of what may be received at once.
const (
	maxPieces     = 500
	maxAgeDays    = 365
	maxLotNumber  = 40
	maxSupplier   = 80
	maxNote       = 500
	lotsListed    = 100
	closedOnRail  = 12
	usualStretch  = 3 // a piece three times as heavy as the heaviest, or a third of the lightest, is refused
	moneyDecimals = 4 // of prices as they are kept
	dayLayout     = time.DateOnly
)

// Arrival is a lot as it is typed in.
type Arrival struct {
	AtlasID       string
	Pieces        int
	Weight        string // of all pieces together
	WeightUnit    string
	Price         string
	PricePer      string
	SlaughteredOn string // may be empty in a forecast
	PackedOn      string // may be empty in a forecast
	Supplier      string
	LotNumber     string
	Findings      []string
	Decided       map[string]string // finding → what becomes of what it takes
	Note          string
}

// arrival is one that was read and found good.
type arrival struct {
	piece       atlas.Piece // as found
	pieces      int
	total       measure.Mass
	price       measure.Price
	slaughtered *time.Time
	packed      *time.Time
}

// Forecast is what pieces would cost and bring.
type Forecast struct {
	Piece     atlas.Piece
	Pieces    int
	Total     measure.Mass
	Each      measure.Mass
	Cost      measure.Money
	PieceCost measure.Money
	AgeDays   *int
	Readiness *age.Readiness
	Warnings  []string
	Sheets    []value.Sheet // one for each plan, in the atlas' order
	Versions  map[string]int
	Better    string // id of the plan worth most
	Sentence  string
}

// read reads the fields that a forecast needs; whole asks for the days as well.
func (s *Service) read(shop Shop, in Arrival, whole bool) (arrival, error) {
	var a arrival
	var faults fault.List
	p, ok := s.atlas.Find(in.AtlasID)
	switch {
	case in.AtlasID == "":
		faults.Add("atlas_id", required("Choose the piece."))
	case !ok:
		faults.Add("atlas_id", fault.New("", "unknown", "“"+clip(in.AtlasID)+"” is not a piece of the atlas", "Choose one from the search."))
	}
	for _, f := range in.Findings {
		if ok && !slices.ContainsFunc(p.Inspect, func(i atlas.Inspect) bool { return i.ID == f }) {
			faults.Add("findings", fault.New("", "unknown", "“"+clip(f)+"” is not an inspection point of this piece", "Leave it out."))
		}
	}
	a.piece = shop.withOwn(p, "").Found(in.Findings, in.Decided)
	if in.Pieces < 1 || in.Pieces > maxPieces {
		faults.Add("pieces", fault.New("", "out_of_range", "must be from 1 to 500", "Receive more than 500 in several lots."))
	}
	a.pieces = in.Pieces
	var err error
	a.total, err = measure.ParseMass(in.Weight, measure.Unit(in.WeightUnit))
	var f fault.Fault
	if errors.As(err, &f) && f.Code == "unknown_unit" {
		faults.Add("weight_unit", err)
	} else {
		faults.Add("weight", err)
	}
	if err == nil && ok && in.Pieces > 0 {
		faults.Add("weight", plausible(a.piece, a.total, in.Pieces))
	}
	a.price, err = measure.ParsePrice(in.Price, measure.Unit(in.PricePer))
	if errors.As(err, &f) && f.Code == "unknown_unit" {
		faults.Add("price_per", err)
	} else {
		faults.Add("price", err)
	}
	s.readDays(in, &a, whole, &faults)
	return a, faults.Err()
}

func plausible(p atlas.Piece, total measure.Mass, pieces int) error {
	if total <= 0 {
		return fault.New("", "not_positive", "must be above zero", "Enter the weight of all pieces together.")
	}
	each := total / measure.Mass(pieces)
	if each > usualStretch*p.High() || each < p.Low()/usualStretch {
		return fault.New("", "absurd", fmt.Sprintf("makes %s a piece; %s weighs %s to %s", each.Text(measure.UnitKilogram, 2), p.Name,
			p.Low().Text(measure.UnitKilogram, 1), p.High().Text(measure.UnitKilogram, 1)), "Check the weight, its unit and the number of pieces.")
	}
	return nil
}

func (s *Service) readDays(in Arrival, a *arrival, whole bool, faults *fault.List) {
	today := age.Day(s.now())
	day := func(field, text string) *time.Time {
		if text == "" {
			if whole {
				faults.Add(field, required("Enter the day from the label."))
			}
			return nil
		}
		d, err := time.Parse(dayLayout, text)
		switch {
		case err != nil:
			faults.Add(field, fault.New("", "not_a_day", "“"+clip(text)+"” is not a day", "Write it as YYYY-MM-DD."))
		case d.After(today.AddDate(0, 0, 1)): // a bench east of UTC may be a day ahead
			faults.Add(field, fault.New("", "future", "lies in the future", "Check the day and the year."))
		case age.Days(d, today) > maxAgeDays:
			faults.Add(field, fault.New("", "too_old", "lies more than a year back", "Check the day and the year."))
		default:
			return &d
		}
		return nil
	}
	a.slaughtered, a.packed = day("slaughtered_on", in.SlaughteredOn), day("packed_on", in.PackedOn)
	if a.slaughtered != nil && a.packed != nil && a.packed.Before(*a.slaughtered) {
		faults.Add("packed_on", fault.New("", "before_slaughter", "lies before the slaughter", "Check both days."))
	}
}

// Forecast says what an arrival would cost and bring, without receiving it.
func (s *Service) Forecast(ctx context.Context, in Arrival) (Forecast, error) {
	shop, err := s.shop(ctx)
	if err != nil {
		return Forecast{}, err
	}
	a, err := s.read(shop, in, false)
	if err != nil {
		return Forecast{}, err
	}
	each := a.total / measure.Mass(a.pieces)
	return s.forecast(ctx, shop, a, each)
}

func (s *Service) forecast(ctx context.Context, shop Shop, a arrival, each measure.Mass) (Forecast, error) {
	f := Forecast{Piece: a.piece, Pieces: a.pieces, Total: a.total, Each: each, Cost: a.price.Of(a.total), PieceCost: a.price.Of(each)}
	book, versions, err := s.priceBook(ctx, shop.ID)
	if err != nil {
		return f, err
	}
	f.Versions = versions
	for _, pl := range a.piece.Plans {
		f.Sheets = append(f.Sheets, value.Sheet{Atlas: a.piece, Plan: pl, Cells: value.Forecast(a.piece, pl, each), Prices: book,
			Minutes: pl.Minutes, Rates: shop.Rates, Purchase: f.PieceCost})
	}
	f.say(shop)
	if a.slaughtered != nil {
		days := age.Days(*a.slaughtered, s.now())
		r := age.Of(a.piece, a.piece.Plans, *a.slaughtered, s.now())
		f.AgeDays, f.Readiness = &days, &r
	}
	if each < a.piece.Low() || each > a.piece.High() {
		f.Warnings = append(f.Warnings, fmt.Sprintf("%s a piece is outside the usual %s to %s. Is the unit right?", each.Text(shop.Unit, 2),
			a.piece.Low().Text(shop.Unit, 1), a.piece.High().Text(shop.Unit, 1)))
	}
	return f, nil
}

// say compares the traditional plan with the best of the others.
func (f *Forecast) say(shop Shop) {
	traditional, ok := f.Piece.Traditional()
	if !ok {
		return
	}
	var base, best *value.Sheet
	for i := range f.Sheets {
		sheet := &f.Sheets[i]
		if sheet.Plan.ID == traditional.ID {
			base = sheet
		} else if best == nil || sheet.Totals().Value.Cmp(best.Totals().Value) > 0 {
			best = sheet
		}
	}
	if base == nil || best == nil {
		return
	}
	if len(base.Unpriced())+len(best.Unpriced()) == 0 {
		f.Better = traditional.ID
	}
	if f.Better != "" && best.Totals().Value.Cmp(base.Totals().Value) > 0 {
		f.Better = best.Plan.ID
	}
	f.Sentence = value.Sentence(*base, *best, value.Telling{Unit: shop.Unit, Currency: shop.Money})
}

// Receive enters a lot. Each of its pieces is hung on the rail with its share of the weight.
func (s *Service) Receive(ctx context.Context, in Arrival) (LotView, error) {
	shop, err := s.shop(ctx)
	if err != nil {
		return LotView{}, err
	}
	a, err := s.read(shop, in, true)
	faults := fault.Of(err)
	if err != nil && faults == nil {
		return LotView{}, err
	}
	in.Supplier, in.LotNumber, in.Note = strings.TrimSpace(in.Supplier), strings.TrimSpace(in.LotNumber), strings.TrimSpace(in.Note)
	text := func(field, value string, most int, need bool) {
		switch {
		case need && value == "":
			faults.Add(field, required("Enter it from the label."))
		case utf8.RuneCountInString(value) > most:
			faults.Add(field, fault.New("", "too_long", fmt.Sprintf("is longer than %d characters", most), "Shorten it."))
		case !utf8.ValidString(value) || strings.ContainsFunc(value, func(r rune) bool { return r < ' ' && r != '\n' && r != '\t' }):
			faults.Add(field, fault.New("", "not_text", "holds characters that are not text", "Type it again."))
		}
	}
	text("supplier", in.Supplier, maxSupplier, true)
	text("lot_number", in.LotNumber, maxLotNumber, true)
	text("note", in.Note, maxNote, false)
	if err := faults.Err(); err != nil {
		return LotView{}, err
	}
	if in.Findings == nil {
		in.Findings = []string{}
	}
	lot := store.Lot{PublicID: NewID(), ShopID: shop.ID, LotNumber: in.LotNumber, Supplier: in.Supplier, AtlasID: in.AtlasID, Pieces: a.pieces,
		TotalMg: int64(a.total), Price: a.price.Amount.Text(moneyDecimals), PricePer: string(a.price.Per), SlaughteredOn: *a.slaughtered,
		PackedOn: *a.packed, Findings: in.Findings, Note: in.Note, ReceivedAt: s.now()}
	weights := make([]int64, a.pieces)
	for i := range weights {
		weights[i] = 1
	}
	shares, err := measure.ApportionMass(a.total, weights)
	if err != nil {
		return LotView{}, err
	}
	pieces := make([]store.Piece, a.pieces)
	for i := range pieces {
		pieces[i] = store.Piece{PublicID: NewID(), ShopID: shop.ID, Number: i + 1, LabelMg: int64(shares[i]), Version: 1}
	}
	err = s.recorded(ctx, func(tx *store.Store) (change, error) {
		lot.ID = 0
		for i := range pieces {
			pieces[i].ID = 0
		}
		c := change{Action: "lot.received", Subject: lot.PublicID, SubjectName: lot.LotNumber, Became: map[string]any{"piece": lot.AtlasID, "pieces": lot.Pieces,
			"total_g": measure.Mass(lot.TotalMg).Grams(), "price": lot.Price, "per": lot.PricePer, "supplier": lot.Supplier}}
		return c, tx.CreateLot(ctx, &lot, pieces)
	})
	if errors.Is(err, store.ErrDuplicate) {
		return LotView{}, fault.New("lot_number", "duplicate", "“"+in.LotNumber+"” was received already", "Take another number, or open that lot.")
	}
	if err != nil {
		return LotView{}, err
	}
	return s.lotView(shop, lot, pieces)
}

// LotView is a lot with its pieces.
type LotView struct {
	Lot    store.Lot
	Piece  atlas.Piece
	Cost   measure.Money
	Pieces []store.Piece
}

func (s *Service) lotView(shop Shop, lot store.Lot, pieces []store.Piece) (LotView, error) {
	p, err := s.pieceOf(shop, lot, "")
	if err != nil {
		return LotView{}, err
	}
	price, err := priceOf(lot.Price, lot.PricePer)
	return LotView{lot, p, price.Of(measure.Mass(lot.TotalMg)), pieces}, err
}

// Lots lists the latest lots.
func (s *Service) Lots(ctx context.Context) ([]LotView, error) {
	shop, err := s.shop(ctx)
	if err != nil {
		return nil, err
	}
	lots, err := s.store.Lots(ctx, shop.ID, lotsListed)
	if err != nil {
		return nil, err
	}
	out := make([]LotView, 0, len(lots))
	for _, lot := range lots {
		pieces, err := s.store.LotPieces(ctx, shop.ID, lot.ID)
		if err != nil {
			return nil, err
		}
		v, err := s.lotView(shop, lot, pieces)
		if err != nil {
			return nil, err
		}
		out = append(out, v)
	}
	return out, nil
}

func clip(s string) string {
	if utf8.RuneCountInString(s) > 40 {
		return string([]rune(s)[:40]) + "…"
	}
	return s
}

// Found gives the inspection points that were ticked for a lot.
func Found(v LotView) []atlas.Inspect { return found(v.Piece, v.Lot.Findings) }

// ReadySentence says in a sentence whether a block is old enough to be steaked, and what it waits for.
func ReadySentence(r age.Readiness) string {
	if len(r.Muscles) == 0 {
		return "Nothing of it is for quick cooking; age does not hold it back."
	}
	if r.Ready {
		return "Old enough to steak."
	}
	var young []string
	for _, m := range r.Muscles {
		if !m.Ready {
			young = append(young, m.Name)
		}
	}
	return "Not old enough to steak before " + r.ReadyOn.Format("2 January") + ": " + strings.Join(young, ", ") + "."
}
