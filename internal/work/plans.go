package work

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strings"
	"time"
	"unicode"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/value"
	"falda/internal/store"
)

// Bounds of a shop's own plan.
const (
	maxProducts    = 40
	maxPlanMinutes = 600
	maxPlanName    = 120
	maxPlanWhy     = 600
	maxThickness   = 400   // mm
	maxPortion     = 2e4   // g
	ownSchool      = "own" // of plans that a shop made itself
)

// ownPlan is a shop's own plan as it now is.
type ownPlan struct {
	store.Plan
	Body   atlas.Plan
	MadeBy string
	MadeAt time.Time
}

// ownPlans reads a shop's own plans.
func (s *Service) ownPlans(ctx context.Context, st *store.Store, shopID int64) ([]ownPlan, error) {
	rows, err := st.Plans(ctx, shopID)
	if err != nil {
		return nil, err
	}
	out := make([]ownPlan, 0, len(rows))
	for _, r := range rows {
		o := ownPlan{Plan: r.Plan, MadeBy: r.Latest.MadeBy, MadeAt: r.Latest.MadeAt}
		if o.Body, err = planBody(r.Plan, r.Latest); err != nil {
			return nil, err
		}
		out = append(out, o)
	}
	return out, nil
}

func planBody(p store.Plan, v store.PlanVersion) (atlas.Plan, error) {
	var pl atlas.Plan
	if err := json.Unmarshal(v.Body, &pl); err != nil {
		return pl, fmt.Errorf("plan %s, version %d: %w", p.PublicID, v.Version, err)
	}
	pl.ID, pl.School, pl.Version = p.PublicID, ownSchool, v.Version
	return pl, nil
}

// withOwn adds the shop's own plans to a piece of the atlas: those in use and that still fit it, and the one that was chosen.
func (sh Shop) withOwn(p atlas.Piece, chosen string) atlas.Piece {
	for _, o := range sh.own {
		if o.AtlasID != p.ID || (o.Retired && o.PublicID != chosen) || len(atlas.ValidatePlan(p, o.Body)) > 0 {
			continue
		}
		p.Plans = append(slices.Clip(p.Plans), o.Body)
	}
	return p
}

// PlanView is a plan on a piece, with what can be chosen within it.
type PlanView struct {
	Plan    atlas.Plan
	Options []atlas.Option
	Natural float64 // thickness of the fat cover on the piece, in mm; 0 where none can be left
	Left    float64 // how thick the plan leaves it, in mm
	Retired bool
	Faults  []string // why an own plan does not fit the piece any more
	MadeBy  string
	MadeAt  *time.Time
}

// PlansView is every way of cutting a piece.
type PlansView struct {
	Shop     Shop
	Piece    atlas.Piece
	Plans    []PlanView
	Products []PriceRow // that there are of the species, to choose from
}

func planView(p atlas.Piece, pl atlas.Plan) PlanView {
	v := PlanView{Plan: pl, Options: p.OptionsOf(pl.ID)}
	if natural, left, ok := p.CoverOf(pl); ok {
		v.Natural, v.Left = natural, left
	}
	return v
}

// Plans lists the ways of cutting a piece of the atlas: the atlas' own, then the shop's.
func (s *Service) Plans(ctx context.Context, atlasID string) (PlansView, error) {
	shop, err := s.shop(ctx)
	if err != nil {
		return PlansView{}, err
	}
	p, ok := s.atlas.Find(atlasID)
	if !ok {
		return PlansView{}, store.ErrNotFound
	}
	p = p.In(shop.Market)
	v := PlansView{Shop: shop, Piece: p}
	for _, pl := range p.Plans {
		v.Plans = append(v.Plans, planView(p, pl))
	}
	for _, o := range shop.own {
		if o.AtlasID != atlasID {
			continue
		}
		made := o.MadeAt
		pv := planView(p, o.Body)
		pv.Retired, pv.MadeBy, pv.MadeAt = o.Retired, o.MadeBy, &made
		for _, f := range atlas.ValidatePlan(p, o.Body) {
			pv.Faults = append(pv.Faults, f.Error())
		}
		v.Plans = append(v.Plans, pv)
	}
	all, err := s.Prices(ctx)
	for _, row := range all {
		if row.Species == p.Species {
			v.Products = append(v.Products, row)
		}
	}
	return v, err
}

var productID = regexp.MustCompile(`^[a-z][a-z0-9_]{0,39}$`)

// readPlan checks a plan as it was typed, and gives it with ids for its new products. Faults name the field: name, minutes,
// products.0.name, parts.cap.
func (s *Service) readPlan(shop Shop, p atlas.Piece, pl atlas.Plan, self string) (atlas.Plan, error) {
	var faults fault.List
	pl.Name, pl.Why = strings.TrimSpace(pl.Name), strings.TrimSpace(pl.Why)
	faults.Add("name", plainText(pl.Name, maxPlanName, true))
	faults.Add("why", plainText(pl.Why, maxPlanWhy, false))
	for _, o := range append(planViews(p.Plans), ownOf(shop, p.ID)...) {
		if o.Plan.ID != self && !o.Retired && strings.EqualFold(o.Plan.Name, pl.Name) {
			faults.Add("name", fault.New("", "name_used", "is the name of another way of cutting this piece", "Call it something else."))
		}
	}
	if pl.Cut != atlas.CutSeams && pl.Cut != atlas.CutStraight {
		faults.Add("cut", fault.New("", "unknown", "must be seams or straight", ""))
	}
	if pl.Tool != "knife" && pl.Tool != "saw" {
		faults.Add("tool", fault.New("", "unknown", "must be knife or saw", ""))
	}
	if !(pl.Minutes > 0 && pl.Minutes <= maxPlanMinutes) {
		faults.Add("minutes", fault.New("", "out_of_range", "must be above 0 and at most 600", "Give the bench minutes for one piece."))
	}
	if len(pl.Products) == 0 || len(pl.Products) > maxProducts {
		faults.Add("products", fault.New("", "out_of_range", "must be from 1 to 40", "Add what the piece becomes."))
	}
	pl.Products = slices.Clone(pl.Products)
	s.readProducts(shop, p, pl.Products, self, &faults)
	s.readShares(p, pl, &faults)
	if err := faults.Err(); err != nil {
		return pl, err
	}
	pl.ID, pl.School = self, ownSchool
	if pl.Why == "" {
		pl.Why = "The shop's own way."
	}
	check := pl
	check.ID = "own"
	for _, f := range atlas.ValidatePlan(p, check) { // what the fields above do not name
		faults.Add("plan", fault.New("", "invalid", strings.TrimPrefix(f.Error(), "plan."), "Change the plan."))
	}
	return pl, faults.Err()
}

func planViews(plans []atlas.Plan) []PlanView {
	out := make([]PlanView, len(plans))
	for i, pl := range plans {
		out[i].Plan = pl
	}
	return out
}

func ownOf(shop Shop, atlasID string) []PlanView {
	var out []PlanView
	for _, o := range shop.own {
		if o.AtlasID == atlasID {
			out = append(out, PlanView{Plan: o.Body, Retired: o.Retired})
		}
	}
	return out
}

// readProducts checks the products of a plan: a known one is what it is elsewhere, a new one gets an id from its name.
func (s *Service) readProducts(shop Shop, p atlas.Piece, products []atlas.Product, self string, faults *fault.List) {
	byKey, byName := map[string]PriceRow{}, map[string]PriceRow{}
	for _, row := range s.products(shop, self) {
		if row.Species == p.Species {
			byKey[row.Key], byName[strings.ToLower(row.Name)] = row, row
		}
	}
	seen := map[string]bool{}
	for i := range products {
		pr := &products[i]
		at := func(field string) string { return fmt.Sprintf("products.%d.%s", i, field) }
		pr.Name, pr.Form = strings.TrimSpace(pr.Name), strings.TrimSpace(pr.Form)
		faults.Add(at("name"), plainText(pr.Name, 80, true))
		if !slices.Contains(s.Forms(), pr.Form) {
			faults.Add(at("form"), fault.New("", "unknown", "“"+clip(pr.Form)+"” is not a form of the atlas", "Choose one of "+strings.Join(s.Forms(), ", ")+"."))
		}
		if known, ok := byName[strings.ToLower(pr.Name)]; ok && pr.ID == "" {
			pr.ID = strings.TrimPrefix(known.Key, p.Species+".")
		}
		if pr.ID == "" {
			pr.ID = newProductID(pr.Name, func(id string) bool { _, used := byKey[p.Species+"."+id]; return used || seen[id] })
		}
		known, ok := byKey[p.Key(*pr)]
		switch {
		case !productID.MatchString(pr.ID):
			faults.Add(at("id"), fault.New("", "not_an_id", "must be small letters, digits and _, starting with a letter", "Leave it out; it is made from the name."))
		case seen[pr.ID]:
			faults.Add(at("name"), fault.New("", "twice", "stands twice in this plan", "Put both shares into one row."))
		case ok && (!strings.EqualFold(known.Name, pr.Name) || known.Form != pr.Form):
			faults.Add(at("name"), fault.New("", "other_name", "is “"+known.Name+"” ("+known.Form+") elsewhere, and has one price", "Keep that name and form, or make a new product."))
		case !ok && byName[strings.ToLower(pr.Name)].Key != "":
			faults.Add(at("name"), fault.New("", "name_used", "is the name of another product", "Take that one, or call it something else."))
		}
		seen[pr.ID] = true
		if pr.Cook != "" && !atlas.KnownMethod(pr.Cook) {
			faults.Add(at("cook"), fault.New("", "unknown", "“"+clip(pr.Cook)+"” is not a cooking method", "Choose one of the list."))
		}
		for field, v := range map[string]struct{ is, most float64 }{"thickness_mm": {pr.ThicknessMm, maxThickness}, "portion_g": {pr.PortionG, maxPortion}, "lean_pct": {pr.LeanPct, 100}} {
			if !(v.is >= 0 && v.is <= v.most) {
				faults.Add(at(field), fault.New("", "out_of_range", fmt.Sprintf("must be from 0 to %g", v.most), "0 leaves it open."))
			}
		}
		if pr.Count.Low < 0 || pr.Count.High < pr.Count.Low || pr.Count.High > 1000 {
			faults.Add(at("count_high"), fault.New("", "out_of_range", "must not be below the lower number, nor above 1,000", "Leave both at 0 where it is not counted."))
		}
	}
}

// newProductID makes an id from a name that is not used.
func newProductID(name string, used func(string) bool) string {
	id := strings.Trim(strings.Join(strings.FieldsFunc(strings.ToLower(name), func(r rune) bool { return r > unicode.MaxASCII || !(unicode.IsLetter(r) || unicode.IsDigit(r)) }), "_"), "_")
	if len(id) > 30 {
		id = strings.Trim(id[:30], "_")
	}
	if id == "" || !unicode.IsLetter(rune(id[0])) {
		id = "own_" + id
	}
	id = strings.TrimSuffix(id, "_")
	for n := 2; used(id); n++ {
		id = fmt.Sprintf("%s_%d", strings.TrimRight(strings.TrimRight(id, "0123456789"), "_"), n)
	}
	return id
}

// readShares checks that every part goes somewhere, and only parts of this piece do.
func (s *Service) readShares(p atlas.Piece, pl atlas.Plan, faults *fault.List) {
	sum := map[string]float64{}
	take := func(field string, shares map[string]float64) {
		for part, pct := range shares {
			any, ok := p.Part(part)
			switch {
			case !ok || any.Kind == atlas.KindLoss:
				faults.Add(field, fault.New("", "unknown", "“"+clip(part)+"” is not a muscle or part of this piece that can be sold", "Leave it out."))
			case !(pct > 0 && pct <= 100):
				faults.Add(field, fault.New("", "out_of_range", "gives "+any.Name+" a share that is not above 0 and at most 100", "Leave out what is nothing."))
			}
			sum[part] += pct
		}
	}
	for i, pr := range pl.Products {
		take(fmt.Sprintf("products.%d.from", i), pr.From)
		if len(pr.From) == 0 {
			faults.Add(fmt.Sprintf("products.%d.from", i), fault.New("", "required", "is made of nothing", "Give it a share of something, or take it out."))
		}
	}
	take("waste", pl.Waste)
	for _, part := range p.Parts() {
		got := atlas.Thousandths(sum[part.ID])
		switch {
		case part.Kind == atlas.KindLoss:
		case part.Kind == atlas.KindWaste && got > 100_000:
			faults.Add("parts."+part.ID, fault.New("", "too_much", fmt.Sprintf("%g %% of it is sold, more than there is", round3(sum[part.ID])), "Take some away; what is left of it is thrown away."))
		case part.Kind != atlas.KindWaste && got < 100_000:
			faults.Add("parts."+part.ID, fault.New("", "missing", fmt.Sprintf("%g %% of it goes nowhere", round3(100-sum[part.ID])), "Give it to a product, or throw it away."))
		case part.Kind != atlas.KindWaste && got > 100_000:
			faults.Add("parts."+part.ID, fault.New("", "too_much", fmt.Sprintf("%g %% more of it is given away than there is", round3(sum[part.ID]-100)), "Take some away."))
		}
	}
}

func round3(f float64) float64 { return float64(atlas.Thousandths(f)) / 1000 }

// CheckPlan says what a plan would bring on a piece of the atlas: of its usual weight, bought for nothing.
func (s *Service) CheckPlan(ctx context.Context, atlasID, self string, pl atlas.Plan) (value.Sheet, error) {
	shop, p, err := s.planPiece(ctx, atlasID)
	if err != nil {
		return value.Sheet{}, err
	}
	if pl, err = s.readPlan(shop, p, pl, self); err != nil {
		return value.Sheet{}, err
	}
	book, _, err := s.priceBook(ctx, shop.ID)
	return value.Sheet{Atlas: p, Plan: pl, Cells: value.Forecast(p, pl, p.Typical()), Prices: book, Minutes: pl.Minutes, Rates: shop.Rates}, err
}

func (s *Service) planPiece(ctx context.Context, atlasID string) (Shop, atlas.Piece, error) {
	shop, err := s.shop(ctx)
	if err != nil {
		return shop, atlas.Piece{}, err
	}
	p, ok := s.atlas.Find(atlasID)
	if !ok {
		return shop, p, store.ErrNotFound
	}
	return shop, p.In(shop.Market), nil
}

// SavePlan keeps a plan of the shop's own: a new one where id is empty, else a new version of it; version is that of the plan as it
// was seen. What was cut by an older version keeps that one.
func (s *Service) SavePlan(ctx context.Context, atlasID, id string, pl atlas.Plan, version int) (PlanView, error) {
	shop, p, err := s.planPiece(ctx, atlasID)
	if err != nil {
		return PlanView{}, err
	}
	if id == "" {
		id = NewID()
		version = 0
	} else if !slices.ContainsFunc(shop.own, func(o ownPlan) bool { return o.PublicID == id && o.AtlasID == atlasID }) {
		return PlanView{}, store.ErrNotFound
	}
	if pl, err = s.readPlan(shop, p, pl, id); err != nil {
		return PlanView{}, err
	}
	who, err := caller(ctx)
	if err != nil {
		return PlanView{}, err
	}
	pl.Version, pl.Chosen = version+1, nil
	body, err := json.Marshal(pl)
	if err != nil {
		return PlanView{}, err
	}
	v := store.PlanVersion{ShopID: shop.ID, Body: body, MadeBy: cut(who.Name, 80), MadeAt: s.now()}
	if who.MemberID != 0 {
		v.MemberID = &who.MemberID
	}
	err = s.recorded(ctx, func(tx *store.Store) (change, error) {
		c := change{Action: "plan.made", Subject: id, SubjectName: pl.Name, Became: map[string]any{"piece": atlasID, "version": pl.Version, "plan": pl}}
		if version == 0 {
			return c, tx.CreatePlan(ctx, &store.Plan{PublicID: id, ShopID: shop.ID, AtlasID: atlasID, Version: 1, CreatedAt: s.now()}, &v)
		}
		own, err := s.ownPlans(ctx, tx, shop.ID)
		if err != nil {
			return c, err
		}
		for _, o := range own {
			if o.PublicID == id {
				c.Action, c.Was = "plan.changed", map[string]any{"version": o.Version, "plan": o.Body}
				o.Plan.Version = version
				return c, tx.ChangePlan(ctx, o.Plan, &v)
			}
		}
		return c, store.ErrNotFound
	})
	if err != nil {
		return PlanView{}, err
	}
	view := planView(p, pl)
	view.MadeBy, view.MadeAt = v.MadeBy, &v.MadeAt
	return view, nil
}

// RetirePlan takes a plan of the shop's own out of use, or back into it. Pieces that were to be cut by it still are.
func (s *Service) RetirePlan(ctx context.Context, atlasID, id string, retired bool, version int) error {
	shop, _, err := s.planPiece(ctx, atlasID)
	if err != nil {
		return err
	}
	return s.recorded(ctx, func(tx *store.Store) (change, error) {
		for _, o := range shop.own {
			if o.PublicID == id && o.AtlasID == atlasID {
				row := o.Plan
				row.Version = version
				c := change{Action: "plan.retired", Subject: id, SubjectName: o.Body.Name, Was: map[string]any{"retired": !retired}, Became: map[string]any{"retired": retired}}
				return c, tx.RetirePlan(ctx, row, retired)
			}
		}
		return change{}, store.ErrNotFound
	})
}

// PlanVersion is a plan as it once was.
type PlanVersion struct {
	Plan   atlas.Plan
	MadeBy string
	MadeAt time.Time
}

// PlanVersions lists what a plan of the shop's own was, newest first.
func (s *Service) PlanVersions(ctx context.Context, atlasID, id string) ([]PlanVersion, error) {
	shop, _, err := s.planPiece(ctx, atlasID)
	if err != nil {
		return nil, err
	}
	at := slices.IndexFunc(shop.own, func(o ownPlan) bool { return o.PublicID == id && o.AtlasID == atlasID })
	if at < 0 {
		return nil, store.ErrNotFound
	}
	rows, err := s.store.PlanVersions(ctx, shop.ID, id)
	if err != nil {
		return nil, err
	}
	var out []PlanVersion
	for _, r := range rows {
		pl, err := planBody(shop.own[at].Plan, r)
		if err != nil {
			return nil, err
		}
		out = append(out, PlanVersion{pl, r.MadeBy, r.MadeAt})
	}
	return out, nil
}

// PlanPick names a plan and what is chosen within it.
type PlanPick struct {
	PlanID  string
	Options map[string]string
}

// PlanPair asks for two ways of cutting the same piece.
type PlanPair struct {
	Weight, WeightUnit string // the usual weight where empty
	Price, PricePer    string // nothing where empty
	A, B               PlanPick
}

// PlanComparison is two ways of cutting the same piece, side by side. Everything is estimated.
type PlanComparison struct {
	A, B      value.Sheet
	Versions  map[string]int
	Sentence  string
	Diff      measure.Money
	PerKg     measure.Money
	PerHour   *measure.Money // what an extra bench hour of B brings; nil when it takes none
	Bridge    []value.Step
	BreakEven []BreakEven
}

// ComparePlans lays two ways of cutting a piece side by side.
func (s *Service) ComparePlans(ctx context.Context, atlasID string, in PlanPair) (PlanComparison, error) {
	shop, p, err := s.planPiece(ctx, atlasID)
	if err != nil {
		return PlanComparison{}, err
	}
	var faults fault.List
	weight := p.Typical()
	if in.Weight != "" {
		weight, err = measure.ParseMass(in.Weight, measure.Unit(in.WeightUnit))
		faults.Add("weight", err)
		if err == nil {
			faults.Add("weight", plausible(p, weight, 1))
		}
	}
	var price measure.Price
	if in.Price != "" {
		price, err = measure.ParsePrice(in.Price, measure.Unit(in.PricePer))
		faults.Add("price", err)
	}
	pick := func(field string, k PlanPick) atlas.Plan {
		with, err := pickPlan(shop.withOwn(p, k.PlanID), k)
		for _, f := range fault.Of(err) {
			f.Field = field + "." + f.Field
			faults = append(faults, f)
		}
		return with
	}
	a, b := pick("a", in.A), pick("b", in.B)
	if err := faults.Err(); err != nil {
		return PlanComparison{}, err
	}
	c := PlanComparison{}
	book, versions, err := s.priceBook(ctx, shop.ID)
	if err != nil {
		return c, err
	}
	sheet := func(pl atlas.Plan) value.Sheet {
		return value.Sheet{Atlas: p, Plan: pl, Cells: value.Forecast(p, pl, weight), Prices: book, Minutes: pl.Minutes, Rates: shop.Rates, Purchase: price.Of(weight)}
	}
	c.A, c.B, c.Versions = sheet(a), sheet(b), versions
	ta, tb := c.A.Totals(), c.B.Totals()
	c.Diff, c.PerKg = tb.Value.Sub(ta.Value), tb.PerKg.Sub(ta.PerKg)
	if hours := c.B.ExtraHours(c.A); hours.Sign() > 0 {
		perHour := c.Diff.Add(tb.Labour.Sub(ta.Labour)).Over(hours)
		c.PerHour = &perHour
	}
	c.Sentence = value.Sentence(c.A, c.B, value.Telling{Unit: shop.Unit, Currency: shop.Money, Ways: [2]string{"way A", "way B"}})
	c.Bridge = value.Bridge(c.A, c.B)
	for _, pr := range b.Products {
		at, ok := value.BreakEven(c.A, c.B, pr.ID)
		c.BreakEven = append(c.BreakEven, BreakEven{pr, book[p.Key(pr)], at, ok})
	}
	return c, nil
}

// pickPlan gives a plan of the piece with what is chosen within it.
func pickPlan(p atlas.Piece, k PlanPick) (atlas.Plan, error) {
	pl, ok := p.Plan(k.PlanID)
	if !ok {
		return pl, fault.New("plan_id", "unknown", "“"+clip(k.PlanID)+"” is not a plan of this piece", "Choose one of its plans.")
	}
	return p.With(pl, k.Options)
}

// Forms lists the forms in which products of the atlas are sold.
func (s *Service) Forms() []string {
	var out []string
	for _, p := range s.atlas.Pieces {
		for _, pl := range p.Plans {
			for _, pr := range pl.Products {
				if !slices.Contains(out, pr.Form) {
					out = append(out, pr.Form)
				}
			}
		}
	}
	slices.Sort(out)
	return out
}

// planAsCut reads the plan that was kept when a piece went on the bench.
func planAsCut(b store.Breakdown) (atlas.Plan, error) {
	var pl atlas.Plan
	if b.Plan == nil {
		return pl, errors.New("no plan was kept")
	}
	return pl, json.Unmarshal(*b.Plan, &pl)
}
