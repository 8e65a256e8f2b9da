package stock

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"falda/internal/core/age"
	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/page"
	"falda/internal/core/words"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/shop"
)

// Bounds of what may be received at once.
const (
	MaxPieces    = 500
	maxAgeDays   = 365
	MaxLotNumber = 40
	MaxSupplier  = 80
	lotsListed   = 100
	closedOnRail = 12
	usualStretch = 3 // a piece three times as heavy as the heaviest, or a third of the lightest, is refused
)

// Arrival is a lot as it is typed in.
type Arrival struct {
	AtlasID       string
	Pieces        int
	Weight        string // of all pieces together
	WeightUnit    string
	Invoiced      string // what the invoice says that all weigh together, in WeightUnit; may be empty
	Price         string
	PricePer      string
	SlaughteredOn string // may be empty in a forecast
	PackedOn      string // empty of what hangs unpacked
	Supplier      string
	LotNumber     string
	Form          string // one of the piece's forms; the usual one where it is empty
	Findings      []string
	Decided       map[string]string // finding → what becomes of what it takes
	Note          string
	Weights       []string // of each piece, in WeightUnit; where given they take the place of Weight
	Bone          string   // words of Words; empty where nobody says
	Feed          string
	Sex           string
	AgeClass      string
	Hang          string
	FatClass      string // as the supplier writes it
	Marbling      string
	SupplierGrade string
	Ph            string // may be empty
	TemperatureC  string // may be empty
	FatPct        string // intramuscular fat; may be empty
	LeanYieldPct  string // may be empty
	Breed         string // as the supplier names it
	BornIn        string // countries, as a label names them; may be empty
	RearedIn      string
	SlaughteredIn string
	Plant         string // approval number of the slaughterhouse
}

// CheckedArrival is one that was read and found good.
type CheckedArrival struct {
	Piece       atlas.Piece // as found
	Pieces      int
	Total       measure.Mass
	invoiced    *int64 // mg
	Price       measure.Price
	Cost        *measure.Money // of one piece that hangs already: its part of the invoice; nil before it is received
	Slaughtered *time.Time
	packed      *time.Time
	each        []measure.Mass // of each piece, where each was weighed
	About       store.About
}

// ReadArrival reads the fields that a forecast needs; whole asks for the days as well.
func (s *Service) ReadArrival(shop shop.WithPlans, in Arrival, whole bool) (CheckedArrival, error) {
	var a CheckedArrival
	var faults fault.List
	p, ok := s.atlas.Find(in.AtlasID)
	switch {
	case in.AtlasID == "":
		faults.Add("atlas_id", fault.Required("Choose the piece."))
	case !ok:
		faults.Add("atlas_id",
			fault.New("", "unknown", fault.Quote(in.AtlasID)+" is not a piece of the atlas", "Choose one from the search."))
	}
	for _, f := range in.Findings {
		if ok && !slices.ContainsFunc(p.Inspect, func(i atlas.Inspect) bool { return i.ID == f }) {
			faults.Add("findings",
				fault.New("", "unknown", fault.Quote(f)+" is not an inspection point of this piece", "Leave it out."))
		}
	}
	if _, known := p.Form(in.Form); ok && in.Form != "" && !known {
		faults.Add("form",
			fault.New("", "unknown", fault.Quote(in.Form)+" is not a form of this piece", "Choose one of its forms."))
	}
	a.Piece = shop.AddOwn(p, "").In(shop.Market).As(in.Form).Found(in.Findings, in.Decided)
	if in.Pieces < 1 || in.Pieces > MaxPieces {
		faults.Add("pieces", fault.New("", "out_of_range", "must be from 1 to 500", "Receive more than 500 in several lots."))
	}
	a.Pieces = in.Pieces
	readWeights(in, &a, ok, &faults)
	readInvoiced(in, &a, &faults)
	readDecided(in, a.Piece, &faults)
	readAbout(in, &a, &faults)
	var err error
	var f fault.Fault
	a.Price, err = shop.ParsePrice(in.Price, in.PricePer)
	if errors.As(err, &f) && f.Code == "unknown_unit" {
		faults.Add("price_per", err)
	} else {
		faults.Add("price", err)
	}
	s.readDays(shop, in, &a, whole, &faults)
	return a, faults.Err()
}

// readWeights reads the weight of all pieces together, or of each.
func readWeights(in Arrival, a *CheckedArrival, known bool, faults *fault.List) {
	var f fault.Fault
	if len(in.Weights) == 0 {
		total, err := measure.ParseMass(in.Weight, measure.Unit(in.WeightUnit))
		a.Total = total
		if errors.As(err, &f) && f.Code == "unknown_unit" {
			faults.Add("weight_unit", err)
		} else {
			faults.Add("weight", err)
		}
		if err == nil && known && in.Pieces > 0 {
			faults.Add("weight", CheckPlausible(a.Piece, a.Total, in.Pieces))
		}
		return
	}
	if len(in.Weights) != in.Pieces {
		faults.Add("weights",
			fault.New("", "not_as_many",
				fmt.Sprintf("holds %s for %s", words.Count(len(in.Weights), "weight", "weights"),
					words.Count(in.Pieces, "piece", "pieces")), "Enter one for each piece, or only the weight of all together."))
		return
	}
	for i, text := range in.Weights {
		m, err := measure.ParseMass(text, measure.Unit(in.WeightUnit))
		if err == nil && known {
			err = CheckPlausible(a.Piece, m, 1)
		}
		if err != nil {
			for _, one := range fault.Of(err) {
				one.Field, one.Message = "weights", fmt.Sprintf("piece %d: %s", i+1, one.Message)
				faults.Add("weights", one)
			}
			return
		}
		a.each, a.Total = append(a.each, m), a.Total+m
	}
}

// readInvoiced reads what the invoice says, which is something like what was received.
func readInvoiced(in Arrival, a *CheckedArrival, faults *fault.List) {
	if strings.TrimSpace(in.Invoiced) == "" {
		return
	}
	m, err := measure.ParseMass(in.Invoiced, measure.Unit(in.WeightUnit))
	switch {
	case err != nil:
		faults.Add("invoiced", err)
	case m <= 0:
		faults.Add("invoiced", fault.New("", "not_positive", "must be above zero", "Leave it out where nobody looked."))
	case a.Total > 0 && (m > 2*a.Total || 2*m < a.Total):
		faults.Add("invoiced", fault.New("", "implausible",
			"is not half, or more than twice, what was received", "Check both weights and the unit."))
	default:
		mg := int64(m)
		a.invoiced = &mg
	}
}

// readDecided checks what is to become of findings.
func readDecided(in Arrival, p atlas.Piece, faults *fault.List) {
	for id, to := range in.Decided {
		at := slices.IndexFunc(p.Inspect, func(i atlas.Inspect) bool { return i.ID == id })
		switch {
		case at < 0 || !slices.Contains(in.Findings, id):
			faults.Add("decided", fault.New("", "unknown", fault.Quote(id)+" was not found on this piece", "Leave it out."))
		case to != p.Inspect[at].Takes.To && !slices.Contains(p.Inspect[at].Takes.May, to):
			faults.Add("decided",
				fault.New("", "not_allowed", fault.Quote(to)+" is nothing that may become of it",
					"Use "+strings.Join(append([]string{p.Inspect[at].Takes.To}, p.Inspect[at].Takes.May...), " or ")+"."))
		}
	}
}

func CheckPlausible(p atlas.Piece, total measure.Mass, pieces int) error {
	if total <= 0 {
		return fault.New("", "not_positive", "must be above zero", "Enter the weight of all pieces together.")
	}
	each := total / measure.Mass(pieces)
	if each > usualStretch*p.High() || each < p.Low()/usualStretch {
		return fault.New("", "absurd",
			fmt.Sprintf("makes %s a piece; %s weighs %s to %s", each.Text(measure.UnitKilogram, 2), p.Name,
				p.Low().Text(measure.UnitKilogram, 1), p.High().Text(measure.UnitKilogram, 1)),
			"Check the weight, its unit and the number of pieces.")
	}
	return nil
}

func (s *Service) readDays(shop shop.WithPlans, in Arrival, a *CheckedArrival, whole bool, faults *fault.List) {
	today := shop.Day(s.now())
	day := func(field, text string, needed bool) *time.Time {
		if text == "" {
			if needed {
				faults.Add(field, fault.Required("Enter the day from the label."))
			}
			return nil
		}
		d, err := time.Parse(time.DateOnly, text)
		switch {
		case err != nil:
			faults.Add(field, fault.New("", "not_a_day", fault.Quote(text)+" is not a day", "Write it as YYYY-MM-DD."))
		case d.After(today):
			faults.Add(field, fault.New("", "future", "lies in the future", "Check the day and the year."))
		case age.Days(d, today) > maxAgeDays:
			faults.Add(field, fault.New("", "too_old", "lies more than a year back", "Check the day and the year."))
		default:
			return &d
		}
		return nil
	}
	a.Slaughtered, a.packed = day("slaughtered_on", in.SlaughteredOn, whole), day("packed_on", in.PackedOn, false)
	if in.PackedOn == "" { // it hangs unpacked
		a.packed = a.Slaughtered
	}
	if a.Slaughtered != nil && a.packed != nil && a.packed.Before(*a.Slaughtered) {
		faults.Add("packed_on", fault.New("", "before_slaughter", "lies before the slaughter", "Check both days."))
	}
}

// readWhole reads all fields of an arrival and trims its texts; the error is nothing that a field could be to blame
// for.
func (s *Service) readWhole(shop shop.WithPlans, in *Arrival) (CheckedArrival, fault.List, error) {
	a, err := s.ReadArrival(shop, *in, true)
	faults := fault.Of(err)
	if err != nil && faults == nil {
		return a, nil, err
	}
	readWords(in, &faults)
	return a, faults, nil
}

// Receive enters a lot. Each of its pieces is hung on the rail with its share of the weight.
func (s *Service) Receive(ctx context.Context, in Arrival) (LotView, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return LotView{}, err
	}
	a, faults, err := s.readWhole(shop, &in)
	if err != nil {
		return LotView{}, err
	}
	if err := faults.Err(); err != nil {
		return LotView{}, err
	}
	lot, pieces, err := s.lotOf(shop, in, a)
	if err != nil {
		return LotView{}, err
	}
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		lot.ID = 0
		for i := range pieces {
			pieces[i].ID = 0
		}
		return audit.Change{Action: "lot.received", Subject: lot.PublicID, SubjectName: lot.LotNumber,
			Became: lotFacts(lot, pieces)}, tx.CreateLot(ctx, &lot, pieces)
	})
	if errors.Is(err, store.ErrDuplicate) {
		return LotView{}, duplicateLot(in.LotNumber)
	}
	if err != nil {
		return LotView{}, err
	}
	return s.LotView(shop, lot, pieces)
}

func duplicateLot(number string) error {
	return fault.NewConflict("lot_number", "duplicate", fault.Quote(number)+" was received already",
		"Take another number, or open that lot.")
}

// lotOf makes the rows of an arrival that was found good.
func (s *Service) lotOf(shop shop.WithPlans, in Arrival, a CheckedArrival) (store.Lot, []store.Piece, error) {
	lot := store.Lot{PublicID: store.NewID(), ShopID: shop.ID, LotNumber: in.LotNumber, Supplier: in.Supplier,
		AtlasID: in.AtlasID, Pieces: a.Pieces, TotalMg: int64(a.Total), InvoicedMg: a.invoiced,
		Price: a.Price.Amount.Text(measure.PriceDecimals), PricePer: string(a.Price.Per), SlaughteredOn: *a.Slaughtered,
		PackedOn: *a.packed, Form: in.Form, Findings: in.Findings, Decided: in.Decided, About: a.About, Note: in.Note,
		ReceivedAt: s.now(), Version: 1}
	if lot.Findings == nil {
		lot.Findings = []string{}
	}
	masses := a.each
	if len(masses) == 0 {
		even := make([]int64, a.Pieces)
		for i := range even {
			even[i] = 1
		}
		var err error
		if masses, err = measure.ApportionMass(a.Total, even); err != nil {
			return lot, nil, err
		}
	}
	pieces := make([]store.Piece, a.Pieces)
	for i := range pieces {
		pieces[i] = store.Piece{PublicID: store.NewID(), ShopID: shop.ID, Number: i + 1, LabelMg: int64(masses[i]),
			Version: 1}
	}
	return lot, pieces, nil
}

// LotView is a lot with its pieces.
type LotView struct {
	Lot     store.Lot
	Piece   atlas.Piece
	Price   measure.Price
	Cost    measure.Money
	Pieces  []store.Piece
	Carcass bool
	Claim   *measure.Money // what is missing of it costs; nil where nothing is, or the lot counts no more
}

// Short is by how much less was received than the invoice says; below 0 where it is more.
func (v LotView) Short() measure.Mass {
	if v.Lot.InvoicedMg == nil {
		return 0
	}
	return measure.Mass(*v.Lot.InvoicedMg - v.Lot.TotalMg)
}

func (s *Service) LotView(shop shop.WithPlans, lot store.Lot, pieces []store.Piece) (LotView, error) {
	p, err := s.pieceOf(shop, lot, "")
	if err != nil {
		return LotView{}, err
	}
	price, err := shop.Price(lot.Price, lot.PricePer)
	v := LotView{Lot: lot, Piece: p, Price: price, Cost: LotCost(shop.Shop, price, measure.Mass(lot.TotalMg)),
		Pieces: pieces, Carcass: s.atlas.IsCarcass(lot.AtlasID)}
	if v.Short() >= measure.Gram && lot.VoidedAt == nil {
		claim := LotCost(shop.Shop, price, v.Short())
		v.Claim = &claim
	}
	return v, err
}

// LotPage is a page of lots, the latest first.
type LotPage struct {
	Lots []LotView
	Next string // the mark at which the next page goes on; empty after the last
}

// Lots lists lots, the latest first, page by page.
func (s *Service) Lots(ctx context.Context, after string) (LotPage, error) {
	mark, err := page.Read(after, 2)
	if err != nil {
		return LotPage{}, err
	}
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return LotPage{}, err
	}
	var from *store.LotMark
	if mark != nil {
		from = &store.LotMark{At: time.UnixMicro(mark[0]).UTC(), ID: mark[1]}
	}
	lots, err := s.store.Lots(ctx, shop.ID, from, lotsListed+1)
	if err != nil {
		return LotPage{}, err
	}
	var out LotPage
	if len(lots) > lotsListed {
		lots = lots[:lotsListed]
		last := lots[lotsListed-1]
		out.Next = page.Mark(last.ReceivedAt.UnixMicro(), last.ID)
	}
	ids := make([]int64, len(lots))
	for i, l := range lots {
		ids[i] = l.ID
	}
	pieces, err := s.store.PiecesOf(ctx, shop.ID, ids)
	if err != nil {
		return LotPage{}, err
	}
	for _, lot := range lots {
		v, err := s.LotView(shop, lot, pieces[lot.ID])
		if err != nil {
			return LotPage{}, err
		}
		out.Lots = append(out.Lots, v)
	}
	return out, nil
}

// Found gives the inspection points that were ticked for a lot.
func Found(v LotView) []atlas.Inspect { return Ticked(v.Piece, v.Lot.Findings) }

// Ticked gives the inspection points of a piece whose ids are given.
func Ticked(p atlas.Piece, ids []string) []atlas.Inspect {
	var out []atlas.Inspect
	for _, in := range p.Inspect {
		if slices.Contains(ids, in.ID) {
			out = append(out, in)
		}
	}
	return out
}
