package learn

import (
	"context"
	"math/big"
	"slices"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/drill"
	"falda/internal/core/learning"
	"falda/internal/core/measure"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/shop"
)

// Record is what somebody has learned.
type Record struct {
	Member  store.MemberRow
	Own     bool // the caller's
	Day     time.Time
	Due     int
	Known   int
	Asked   int
	NextDue *time.Time
	Pieces  []PieceRecord
	Others  []store.MemberRow // whose records the caller may see; nobody's but their own for most
}

// PieceRecord is what somebody has learned of a piece.
type PieceRecord struct {
	Piece     atlas.Piece
	Groups    []GroupRecord
	Cards     int
	Asked     int
	Known     int
	Due       int
	Cut       int          // up to 200
	Curve     *CurveRecord // nil while too few were timed
	Practices []store.PracticeRow
	Signed    []store.SignOffRow // of each step what was said last
}

// GroupRecord is how far a drill about a piece is.
type GroupRecord struct {
	drill.Group
	Cards, Asked, Known int
}

// Record gives what somebody has learned, by public id; empty for the caller.
func (s *Service) Record(ctx context.Context, member string) (Record, error) {
	m, who, err := s.person(ctx, member)
	if err != nil {
		return Record{}, err
	}
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return Record{}, err
	}
	out := Record{Member: m, Own: m.ID == who.MemberID, Day: sh.Day(s.now())}
	if out.Others, err = s.others(ctx, who); err != nil {
		return out, err
	}
	kept, err := s.keptOf(ctx, sh, m.ID)
	if err != nil {
		return out, err
	}
	for _, p := range s.atlas.Pieces {
		r := s.pieceRecord(sh, p.In(sh.Market), kept, out.Day)
		if r.Asked == 0 && r.Cut == 0 && len(r.Practices) == 0 && len(r.Signed) == 0 && member != "" && !out.Own {
			continue
		}
		if r.Cut > 0 {
			if r.Curve, err = s.curve(ctx, sh, p, m.ID); err != nil {
				return out, err
			}
		}
		out.Due, out.Known, out.Asked = out.Due+r.Due, out.Known+r.Known, out.Asked+r.Asked
		out.Pieces = append(out.Pieces, r)
	}
	for _, c := range kept.cards {
		if c.Due.After(out.Day) && (out.NextDue == nil || c.Due.Before(*out.NextDue)) {
			out.NextDue = &c.Due
		}
	}
	return out, nil
}

// others are those whose record a lead may look at.
func (s *Service) others(ctx context.Context, who audit.Caller) ([]store.MemberRow, error) {
	if !Leads(who) {
		return nil, nil
	}
	list, err := s.store.Members(ctx, who.ShopID)
	return slices.DeleteFunc(list, func(m store.MemberRow) bool { return !m.Active || m.Role == "yield_desk" }), err
}

// keptRecord is what is kept of somebody's learning, with what they cut.
type keptRecord struct {
	Kept
	cards map[string]store.DrillCard
	cut   map[string]int
}

// maxPractices bounds how many practice pieces are listed: the latest.
const maxPractices = 200

func (s *Service) keptOf(ctx context.Context, sh shop.WithPlans, memberID int64) (keptRecord, error) {
	out := keptRecord{cards: map[string]store.DrillCard{}, cut: map[string]int{}}
	var err error
	if out.Kept, err = s.keptBy(ctx, sh.ID, memberID); err != nil {
		return out, err
	}
	out.Signed = latest(out.Signed)
	for _, c := range out.Cards {
		out.cards[c.Card] = c
	}
	ids := make([]string, len(s.atlas.Pieces))
	for i, p := range s.atlas.Pieces {
		ids[i] = p.ID
	}
	counts, err := s.store.CutBy(ctx, sh.ID, memberID, ids, curvePieces)
	for _, c := range counts {
		out.cut[c.AtlasID] = c.N
	}
	return out, err
}

// latest keeps of each step what was said last.
func latest(list []store.SignOffRow) []store.SignOffRow {
	var out []store.SignOffRow
	for _, x := range list {
		at := slices.IndexFunc(out, func(o store.SignOffRow) bool {
			return o.AtlasID == x.AtlasID && o.PlanID == x.PlanID && o.Step == x.Step
		})
		if at >= 0 {
			out[at] = x
			continue
		}
		out = append(out, x)
	}
	return out
}

func (s *Service) pieceRecord(sh shop.WithPlans, p atlas.Piece, kept keptRecord, today time.Time) PieceRecord {
	r := PieceRecord{Piece: p, Cut: kept.cut[p.ID]}
	for _, g := range drill.Groups {
		r.Groups = append(r.Groups, GroupRecord{Group: g})
	}
	for _, c := range s.deck(sh, p) {
		at, asked := kept.cards[c.ID()]
		g := &r.Groups[slices.IndexFunc(drill.Groups, func(g drill.Group) bool { return slices.Contains(g.Kinds, c.Kind) })]
		r.Cards++
		g.Cards++
		if !asked {
			continue
		}
		r.Asked++
		g.Asked++
		if stateOf(at).Known() {
			r.Known++
			g.Known++
		}
		if !at.Due.After(today) {
			r.Due++
		}
	}
	r.Groups = slices.DeleteFunc(r.Groups, func(g GroupRecord) bool { return g.Cards == 0 })
	for _, x := range kept.Practices {
		if x.AtlasID == p.ID {
			r.Practices = append(r.Practices, x)
		}
	}
	for _, x := range kept.Signed {
		if x.AtlasID == p.ID {
			r.Signed = append(r.Signed, x)
		}
	}
	return r
}

// CurveRecord is how somebody gets faster at a piece, beside the house, and what that has cost.
type CurveRecord struct {
	Cuts    []Cut
	House   float64 // minutes of the others for a usual piece; 0 where nobody else has cut one
	HouseN  int
	Curve   *learning.Curve // nil below three timed pieces
	Ahead   int             // pieces further that Then is told for
	Reaches int             // the piece at which the curve reaches the house's minutes; 0: not within sight
	Lost    *measure.Money  // against the house, of all pieces that can be compared; below nothing where they brought more
	LostN   int
	Until   *measure.Money // what the longer work until then will cost
}

// Cut is one piece of it, oldest first.
type Cut struct {
	Breakdown string
	On        time.Time
	Minutes   float64  // scaled to a usual piece
	MeatPct   float64  // of the piece that is sold as meat
	HousePct  *float64 // mean of the others by the same plan
	Lost      *measure.Money
}

// How many pieces a curve is drawn through at most, the latest; how many of the house it is held against; and how far
// ahead it is told.
const (
	curvePieces = 200
	housePieces = 100
	ahead       = 10
)

// curve lays somebody's pieces of a kind beside those of the house.
func (s *Service) curve(ctx context.Context, sh shop.WithPlans, p atlas.Piece, member int64) (*CurveRecord, error) {
	rows, err := s.store.Cuts(ctx, sh.ID, p.ID, "", 0, housePieces)
	if err != nil {
		return nil, err
	}
	own, err := s.store.Cuts(ctx, sh.ID, p.ID, "", member, curvePieces)
	if err != nil || len(own) == 0 {
		return nil, err
	}
	out := &CurveRecord{Ahead: ahead}
	way := mostCut(own)
	plan, _ := sh.AddOwn(p, way).Plan(way)
	usual := plan.Minutes
	others, err := s.othersPace(ctx, sh, p, plan, member)
	if err != nil {
		return nil, err
	}
	out.House, out.HouseN = others.times*usual, others.n
	house := map[string]*plansHouse{}
	for _, r := range rows {
		if by(r, member) {
			continue
		}
		h := house[r.PlanID]
		if h == nil {
			h = &plansHouse{}
			house[r.PlanID] = h
		}
		h.add(r)
	}
	slices.Reverse(own)
	lost := new(big.Rat)
	expected := sh.Usual()
	for _, r := range own {
		c := Cut{Breakdown: r.PublicID, On: r.ClosedOn, MeatPct: share(r.MeatMg, r.InputMg)}
		if by := expected(p, r.PlanID, measure.Mass(r.InputMg)); r.Minutes > 0 && by > 0 {
			c.Minutes = r.Minutes * usual / by
		}
		if h := house[r.PlanID]; h != nil {
			pct := h.meat / float64(h.n)
			c.HousePct = &pct
			if r.Priced && h.priced > 0 {
				x := new(big.Rat).SetFloat64((h.worth/float64(h.priced) - r.BeforePurchasePerKg) * float64(r.InputMg) / 1e6)
				m := measure.MoneyFromRat(x)
				c.Lost = &m
				lost.Add(lost, x)
				out.LostN++
			}
		}
		out.Cuts = append(out.Cuts, c)
	}
	if out.LostN > 0 {
		m := measure.MoneyFromRat(lost)
		out.Lost = &m
	}
	out.fit(sh)
	return out, nil
}

// mostCut is the plan by which most of somebody's pieces were cut; of equals that of the latest.
func mostCut(rows []store.CutRow) (plan string) {
	n := map[string]int{}
	for _, r := range rows {
		n[r.PlanID]++
	}
	for _, r := range rows { // the latest first
		if n[r.PlanID] > n[plan] {
			plan = r.PlanID
		}
	}
	return plan
}

// plansHouse is what the others made of pieces cut by one plan.
type plansHouse struct {
	n, priced   int
	meat, worth float64
}

func (h *plansHouse) add(r store.CutRow) {
	h.n++
	h.meat += share(r.MeatMg, r.InputMg)
	if r.Priced {
		h.priced++
		h.worth += r.BeforePurchasePerKg
	}
}

func share(part, of int64) float64 {
	if of <= 0 {
		return 0
	}
	return float64(part) / float64(of) * 100
}

// fit draws the curve through what was timed.
func (c *CurveRecord) fit(sh shop.WithPlans) {
	var minutes []float64
	for _, x := range c.Cuts {
		if x.Minutes > 0 {
			minutes = append(minutes, x.Minutes)
		}
	}
	curve, err := learning.Fit(minutes)
	if err != nil {
		return
	}
	c.Curve = &curve
	if c.House <= 0 {
		return
	}
	n, longer := curve.Reaches(c.House)
	if c.Reaches = n; n > 0 {
		rate := sh.Rates.LabourPerHour.Rat()
		m := measure.MoneyFromRat(new(big.Rat).Quo(new(big.Rat).Mul(new(big.Rat).SetFloat64(longer), rate),
			big.NewRat(60, 1)))
		c.Until = &m
	}
}

// by says whether a member cut a piece.
func by(r store.CutRow, member int64) bool { return r.MemberID != nil && *r.MemberID == member }

// otherPace is how long the others take, in times what a plan says.
type otherPace struct {
	times float64
	n     int
}

// othersPace measures the latest pieces of a kind that others cut by a plan.
func (s *Service) othersPace(ctx context.Context, sh shop.WithPlans, p atlas.Piece, pl atlas.Plan, member int64) (
	out otherPace, err error) {
	rows, err := s.store.Cuts(ctx, sh.ID, p.ID, pl.ID, 0, housePieces)
	if err != nil {
		return out, err
	}
	pace := p.Pace(pl)
	for _, r := range rows {
		if usual := pace(measure.Mass(r.InputMg)); !by(r, member) && r.Minutes > 0 && usual > 0 {
			out.times = (out.times*float64(out.n) + r.Minutes/usual) / float64(out.n+1)
			out.n++
		}
	}
	return out, nil
}

// Kept is all that is kept of what somebody of the shop learns, by public id; empty for the caller.
type Kept struct {
	Cards     []store.DrillCard
	Practices []store.PracticeRow
	Signed    []store.SignOffRow
}

// Kept gives it: one's own, or anybody's to a lead.
func (s *Service) Kept(ctx context.Context, member string) (Kept, error) {
	m, who, err := s.person(ctx, member)
	if err != nil {
		return Kept{}, err
	}
	return s.keptBy(ctx, who.ShopID, m.ID)
}

func (s *Service) keptBy(ctx context.Context, shopID, memberID int64) (out Kept, err error) {
	if out.Cards, err = s.store.DrillCards(ctx, shopID, memberID); err != nil {
		return out, err
	}
	if out.Practices, err = s.store.Practices(ctx, shopID, memberID, maxPractices); err != nil {
		return out, err
	}
	out.Signed, err = s.store.SignOffs(ctx, shopID, memberID)
	return out, err
}
