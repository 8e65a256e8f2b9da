package stock

import (
	"context"
	"fmt"
	"math"
	"math/big"
	"strconv"

	"falda/internal/core/atlas"
	"falda/internal/core/body"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/portion"
	"falda/internal/work/shop"
)

// The ways in which a muscle is portioned.
const (
	ByWeight    = "weight"    // each at least so heavy, as many as there are
	ByCount     = "count"     // so many of equal weight
	ByThickness = "thickness" // each so thick
)

// WholePiece stands for a part: the piece itself is cut, straight through along its axis.
const WholePiece = "piece"

// JoinedParts stands for a part: parts that are still joined are cut as one, along the piece's axis.
const JoinedParts = "block"

// PortionAsk is how a muscle is to be portioned.
type PortionAsk struct {
	AtlasID, Part string
	Holds         map[string]float64 // of a block: percent of each part that is in it
	Called        string             // what a block is called; may be empty
	WeightG       float64
	LengthMm      float64 // 0: as the atlas has it
	Way           string
	Count         int     // of ByCount; of ByWeight how many are wanted, 0 for as many as there are
	LabelG, OverG float64 // of ByWeight: each weighs so much, and at most so much more
	ThickMm       int     // of ByThickness
	KerfMm        int
	Into          int    // each slice is cut into so many portions; 0 and 1: it is one
	Price         string // of the portions, by Per; none where it is empty
	RestPrice     string // of what is left over
	Per           string
	Cut           []CutPortion // what is off already, from the first end
}

// CutPortion is a portion that was cut and weighed.
type CutPortion struct {
	ToMm int
	G    float64
}

// PortionView is how a muscle is portioned.
type PortionView struct {
	Unit     measure.Unit // in which the shop weighs
	Piece    atlas.Piece
	Muscle   atlas.Muscle // of none where the whole piece is cut straight through
	Name     string       // of what is cut
	LengthMm int
	OffMm    int // what is cut off already
	Basis    string
	Layout   portion.Layout // of what is left
	Other    *portion.Layout
	OtherMm  int // the thickness of the other way
	Into     int // portions that each slice is cut into
	Money    *PortionMoney
	OtherPay *PortionMoney
}

// PortionMoney is what a layout brings: nil where no price was given.
type PortionMoney struct {
	Portions  measure.Money // what is paid for them
	Rest      measure.Money
	GivenAway measure.Money // what the weight beyond the labels would have brought
	Whole     measure.Money // portions and rest
}

// wasteful is what a rest is worth beside a portion: little, so that portions come first.
const wasteful = 10

// Portion lays the cuts of a muscle of the atlas, by weight, count or thickness; what was cut and weighed already moves
// the marks of what is left.
func (s *Service) Portion(ctx context.Context, in PortionAsk) (v PortionView, err error) {
	shop, err := s.shops.Current(ctx)
	if err != nil {
		return v, err
	}
	v.Unit, v.Into = shop.Unit, max(1, in.Into)
	piece, ok := s.atlas.Find(in.AtlasID)
	if !ok {
		return v, fault.New("atlas_id", "unknown", "is no piece of the atlas", "Look it up in the atlas.")
	}
	v.Piece = piece
	v.Name = piece.In(shop.Market).Name
	switch in.Part {
	case WholePiece:
	case JoinedParts:
		if err := in.checkBlock(piece); err != nil {
			return v, err
		}
		if v.Name = in.Called; v.Name == "" {
			v.Name = "the block"
		}
	default:
		if v.Muscle, ok = piece.Muscle(in.Part); !ok {
			return v, fault.New("part", "unknown", "is no muscle of this piece", "Name one of its muscles.")
		}
		v.Name = v.Muscle.Name
	}
	if err := in.check(); err != nil {
		return v, err
	}
	p, err := s.problem(&v, in)
	if err != nil {
		return v, err
	}
	for i, c := range in.Cut {
		left := p.LengthMm - (c.ToMm - v.OffMm) - p.KerfMm
		g := exactly(c.G)
		if left < 1 || c.ToMm <= v.OffMm || g.Cmp(p.WeightG) >= 0 {
			return v,
				fault.New(fmt.Sprintf("cut[%d]", i), "out_of_range", "is more than what was left", "Check place and weight.")
		}
		p = p.After(c.ToMm-v.OffMm, g)
		v.OffMm = c.ToMm + p.KerfMm
	}
	if in.Count > 0 && in.Way != ByThickness {
		in.Count -= len(in.Cut) * v.Into
		if in.Count < 1 {
			return v, fault.New("count", "out_of_range", "are cut already", "Ask for more, or begin anew.")
		}
	}
	if v.Layout, err = in.lay(p); err != nil {
		return v, err
	}
	if err := v.compare(p, in); err != nil || in.Price == "" {
		return v, err
	}
	return v, v.price(shop, in)
}

// price says what both ways bring.
func (v *PortionView) price(sh shop.Shop, in PortionAsk) error {
	var faults fault.List
	price, err := sh.ParsePrice(in.Price, in.Per)
	faults.Add("price", err)
	rest := measure.Price{Per: price.Per}
	if in.RestPrice != "" {
		rest, err = sh.ParsePrice(in.RestPrice, in.Per)
		faults.Add("rest_price", err)
	}
	if err := faults.Err(); err != nil {
		return err
	}
	money := func(l portion.Layout) *PortionMoney {
		paid := new(big.Rat).Sub(in.whole(l), l.GiveAwayG)
		m := PortionMoney{Portions: sh.Money.Round(worth(price, paid)), Rest: sh.Money.Round(worth(rest, l.RestG)),
			GivenAway: sh.Money.Round(worth(price, l.GiveAwayG))}
		m.Whole = sh.Money.Round(worth(price, paid).Add(worth(rest, l.RestG)))
		return &m
	}
	v.Money = money(v.Layout)
	if v.Other != nil {
		v.OtherPay = money(*v.Other)
	}
	return nil
}

// whole is what all portions of a layout weigh, in grams.
func (in PortionAsk) whole(l portion.Layout) *big.Rat {
	sum := new(big.Rat)
	for _, x := range l.Pieces {
		if x.Product >= 0 {
			sum.Add(sum, x.G)
		}
	}
	return sum
}

// worth is what exact grams cost.
func worth(p measure.Price, g *big.Rat) measure.Money {
	kg := new(big.Rat).Quo(g, big.NewRat(1000, 1))
	return p.Amount.Times(kg.Quo(kg, p.Per.Kilograms()))
}

// check says what is wrong with what is asked.
func (in PortionAsk) check() error {
	var faults fault.List
	within := func(field string, v, low, high float64) {
		if !(v >= low && v <= high) {
			faults.Add(field, fault.New("", "out_of_range", fmt.Sprintf("must be from %g to %g", low, high), "Check it."))
		}
	}
	within("weight_g", in.WeightG, 20, 100_000)
	if in.LengthMm != 0 {
		within("length_mm", in.LengthMm, 20, 1500)
	}
	within("kerf_mm", float64(in.KerfMm), 0, 5)
	within("into", float64(max(1, in.Into)), 1, 8)
	if n := max(1, in.Into); in.Way != ByThickness && in.Count%n != 0 {
		faults.Add("count", fault.New("", "not_whole", fmt.Sprintf("does not come out in slices of %d portions", n),
			"Ask for a multiple of it."))
	}
	switch in.Way {
	case ByWeight:
		within("label_g", in.LabelG, 10, in.WeightG)
		within("over_g", in.OverG, 0, in.WeightG)
		within("count", float64(in.Count), 0, 60)
	case ByCount:
		within("count", float64(in.Count), 1, 60)
	case ByThickness:
		within("thickness_mm", float64(in.ThickMm), 3, 300)
	default:
		faults.Add("way", fault.New("", "unknown", fault.Quote(in.Way)+" is no way of portioning",
			"Use weight, count or thickness."))
	}
	return faults.Err()
}

// checkBlock says what is wrong with the parts of a block.
func (in PortionAsk) checkBlock(p atlas.Piece) error {
	var faults fault.List
	if len(in.Holds) == 0 {
		faults.Add("holds", fault.Required("Name its parts."))
	}
	for part, pct := range in.Holds {
		if _, ok := p.Part(part); !ok {
			faults.Add("holds", fault.New("", "unknown", fault.Quote(part)+" is no part of this piece", "Name its parts."))
		}
		if !(pct > 0 && pct <= 100) {
			faults.Add("holds", fault.New("", "out_of_range", "must be above 0 and at most 100", "Check it."))
		}
	}
	faults.Add("called", fault.Text(in.Called, 80, false))
	return faults.Err()
}

// exactly is a figure as the decimal that was typed.
func exactly(v float64) *big.Rat {
	r, _ := new(big.Rat).SetString(strconv.FormatFloat(v, 'f', 3, 64))
	return r
}

// profile is how thick what is cut is along its length.
func (v *PortionView) profile(in PortionAsk) (body.Profile, error) {
	if in.Part != WholePiece && in.Part != JoinedParts {
		return v.Piece.ProfileOf(v.Muscle, in.LengthMm)
	}
	b, err := v.Piece.Inside()
	if err != nil {
		return body.Profile{}, fault.New("part", "no_inside", "is a piece whose inside the atlas does not know",
			"Portion one of its muscles.")
	}
	if in.Part == WholePiece {
		return b.WholeProfile(in.LengthMm), nil
	}
	holds := map[string]float64{}
	for part, pct := range in.Holds {
		holds[part] = pct / 100
	}
	p, ok := b.BlockProfile(holds, in.LengthMm)
	if !ok {
		return p, fault.New("holds", "no_inside", "are parts whose place in the piece the atlas does not know",
			"Portion a muscle by itself.")
	}
	return p, nil
}

// problem is the muscle with its profile.
func (s *Service) problem(v *PortionView, in PortionAsk) (portion.Problem, error) {
	profile, err := v.profile(in)
	if err != nil {
		return portion.Problem{}, err
	}
	v.LengthMm, v.Basis = int(math.Round(profile.LengthMm)), profile.Basis
	p := portion.Problem{LengthMm: v.LengthMm, WeightG: exactly(in.WeightG), KerfMm: in.KerfMm,
		RestPricePerKg: big.NewRat(1, 1)}
	for i := range profile.Mm {
		// whole millimetres, so that the figures stay short
		at := int64(math.Round(profile.Mm[i] / profile.LengthMm * float64(v.LengthMm)))
		if n := len(p.Profile); n > 0 && p.Profile[n-1].Mm.Cmp(big.NewRat(at, 1)) == 0 {
			continue
		}
		p.Profile = append(p.Profile,
			portion.Point{Mm: big.NewRat(at, 1), Area: big.NewRat(int64(math.Round(profile.Area[i]*100)), 100)})
	}
	x := portion.Product{ID: in.Part, PricePerKg: big.NewRat(wasteful, 1)}
	if in.Way == ByWeight {
		n := float64(v.Into) // a slice holds as many portions
		x.Label, x.MinG = exactly(in.LabelG*n), exactly(in.LabelG*n)
		x.MaxG = exactly((in.LabelG + in.OverG) * n)
	}
	p.Products = []portion.Product{x}
	return p, nil
}

func (in PortionAsk) lay(p portion.Problem) (portion.Layout, error) {
	switch in.Way {
	case ByCount:
		return portion.Equal(p, in.Count/max(1, in.Into))
	case ByThickness:
		return portion.Even(p, in.ThickMm, (in.ThickMm+1)/2)
	default:
		return portion.FromEnd(p, in.Count/max(1, in.Into))
	}
}

// compare lays the muscle the other way: evenly thick where it was laid by weight or count, and as many of equal weight
// where it was laid evenly.
func (v *PortionView) compare(p portion.Problem, in PortionAsk) error {
	n, _, _ := v.Layout.Portions()
	if n == 0 || (in.Way == ByWeight && in.Count > 0) { // an order leaves a roast, which no other way would
		return nil
	}
	other, err := portion.Layout{}, error(nil)
	if in.Way == ByThickness {
		other, err = portion.Equal(p, n)
	} else {
		last := v.Layout.Pieces[len(v.Layout.Pieces)-1]
		long := last.ToMm
		if last.Product < 0 {
			long = last.FromMm
		}
		v.OtherMm = max(1, int(math.Round(float64(long)/float64(n))))
		other, err = portion.Even(p, v.OtherMm, (v.OtherMm+1)/2)
	}
	v.Other = &other
	return err
}
