package stock

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/value"
	"falda/internal/work/pricing"
	"falda/internal/work/shop"
)

// readPlan checks a plan as it was typed, and gives it with ids for its new products. Faults name the field: name,
// minutes, products.0.name, parts.cap.
func (s *Service) readPlan(shop shop.WithPlans, p atlas.Piece, pl atlas.Plan, self string) (atlas.Plan, error) {
	var faults fault.List
	pl.Name, pl.Why = strings.TrimSpace(pl.Name), strings.TrimSpace(pl.Why)
	faults.Add("name", fault.Text(pl.Name, maxPlanName, true))
	faults.Add("why", fault.Text(pl.Why, maxPlanWhy, false))
	for _, o := range append(planViews(p.Plans), ownOf(shop, p.ID)...) {
		if o.Plan.ID != self && !o.Retired && strings.EqualFold(o.Plan.Name, pl.Name) {
			faults.Add("name",
				fault.NewConflict("", "name_used", "is the name of another way of cutting this piece", "Call it something else."))
		}
	}
	if pl.Cut != atlas.CutSeams && pl.Cut != atlas.CutStraight {
		faults.Add("cut", fault.New("", "unknown", "must be seams or straight", ""))
	}
	if len(pl.Steps) > 0 {
		pl = readSteps(p, pl, &faults)
	}
	if pl.Tool != "knife" && pl.Tool != "saw" {
		faults.Add("tool", fault.New("", "unknown", "must be knife or saw", ""))
	}
	if !(pl.Minutes > 0 && pl.Minutes <= maxPlanMinutes) {
		faults.Add("minutes",
			fault.New("", "out_of_range", "must be above 0 and at most 600", "Give the bench minutes for one piece."))
	}
	if len(pl.Products) == 0 || len(pl.Products) > maxProducts {
		faults.Add("products", fault.New("", "out_of_range", "must be from 1 to 40", "Add what the piece becomes."))
	}
	pl.Products = slices.Clone(pl.Products)
	s.readProducts(shop, p, pl.Products, self, &faults)
	for i, pr := range pl.Declared { // as they were read
		if known, ok := pl.Product(pr.ID); ok {
			pl.Declared[i].Name, pl.Declared[i].Form = known.Name, known.Form
		}
	}
	s.readShares(p, pl, &faults)
	if err := faults.Err(); err != nil {
		return pl, err
	}
	pl.ID, pl.School = self, atlas.OwnSchool
	if pl.Why == "" {
		pl.Why = "The shop's own way."
	}
	check := pl
	check.ID = "own"
	for _, f := range atlas.ValidatePlan(p, check) { // what the fields above do not name
		faults.Add("plan", fault.New("", "invalid", strings.TrimPrefix(f.Error(), "plan."), "Change the plan."))
	}
	if err := faults.Err(); err != nil {
		return pl, err
	}
	return p.InSteps(pl), nil
}

func planViews(plans []atlas.Plan) []PlanView {
	out := make([]PlanView, len(plans))
	for i, pl := range plans {
		out[i].Plan = pl
	}
	return out
}

func ownOf(shop shop.WithPlans, atlasID string) []PlanView {
	var out []PlanView
	for _, o := range shop.Own {
		if o.AtlasID == atlasID {
			out = append(out, PlanView{Plan: o.Body, Retired: o.Retired})
		}
	}
	return out
}

// readProducts checks the products of a plan: a known one is what it is elsewhere, a new one gets an id from its name.
func (s *Service) readProducts(shop shop.WithPlans, p atlas.Piece, products []atlas.Product, self string,
	faults *fault.List) {
	byKey, byName := map[string]pricing.PriceRow{}, map[string]pricing.PriceRow{}
	for _, row := range s.prices.Products(shop, self) {
		if row.Species == p.Species {
			byKey[row.Key], byName[strings.ToLower(row.Name)] = row, row
		}
	}
	seen := map[string]bool{}
	for i := range products {
		pr := &products[i]
		at := func(field string) string { return fmt.Sprintf("products.%d.%s", i, field) }
		pr.Name, pr.Form = strings.TrimSpace(pr.Name), strings.TrimSpace(pr.Form)
		if pr.Form == atlas.FormPiece { // it goes on as that piece, and is called what that is
			s.readOnward(p, pr, at, faults)
			seen[pr.ID] = true
			continue
		}
		faults.Add(at("name"), fault.Text(pr.Name, 80, true))
		if !slices.Contains(s.Forms(), pr.Form) {
			faults.Add(at("form"),
				fault.New("", "unknown", fault.Quote(pr.Form)+" is not a form of the atlas",
					"Choose one of "+strings.Join(s.Forms(), ", ")+"."))
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
			faults.Add(at("id"),
				fault.New("", "not_an_id", "must be small letters, digits and _, starting with a letter",
					"Leave it out; it is made from the name."))
		case seen[pr.ID]:
			faults.Add(at("name"), fault.New("", "twice", "stands twice in this plan", "Put both shares into one row."))
		case ok && (!strings.EqualFold(known.Name, pr.Name) || known.Form != pr.Form):
			faults.Add(at("name"),
				fault.New("", "other_name", "is “"+known.Name+"” ("+known.Form+") elsewhere, and has one price",
					"Keep that name and form, or make a new product."))
		case !ok && byName[strings.ToLower(pr.Name)].Key != "":
			faults.Add(at("name"),
				fault.NewConflict("", "name_used", "is the name of another product", "Take that one, or call it something else."))
		}
		if pr.Again != nil {
			if _, known := s.atlas.Find(pr.Again.Piece); !known {
				faults.Add(at("again"), fault.New("", "unknown", fault.Quote(pr.Again.Piece)+" is not a piece of the atlas",
					"Leave it out."))
			}
		}
		seen[pr.ID] = true
		checkFigures(*pr, at, faults)
	}
}

// readOnward checks a block that goes on as a piece of its own.
func (s *Service) readOnward(p atlas.Piece, pr *atlas.Product, at func(field string) string, faults *fault.List) {
	piece, ok := s.atlas.Find(pr.ID)
	if !ok || piece.Species != p.Species || piece.ID == p.ID {
		faults.Add(at("id"), fault.New("", "unknown", fault.Quote(pr.ID)+" is not another piece of this species",
			"Choose one of the atlas."))
		return
	}
	pr.Name = piece.Name
	checkFigures(*pr, at, faults)
}

// checkFigures checks how a product of a plan is cooked, cut and counted; at names a field of it.
func checkFigures(pr atlas.Product, at func(field string) string, faults *fault.List) {
	if pr.Cook != "" && !atlas.KnownMethod(pr.Cook) {
		faults.Add(at("cook"),
			fault.New("", "unknown", fault.Quote(pr.Cook)+" is not a cooking method", "Choose one of the list."))
	}
	for _, v := range []struct {
		field    string
		is, most float64
	}{{"thickness_mm", pr.ThicknessMm, maxThickness}, {"portion_g", pr.PortionG, maxPortion},
		{"lean_pct", pr.LeanPct, 100}} {
		if !(v.is >= 0 && v.is <= v.most) {
			faults.Add(at(v.field),
				fault.New("", "out_of_range", fmt.Sprintf("must be from 0 to %g", v.most), "0 leaves it open."))
		}
	}
	if utf8.RuneCountInString(pr.Keeps) > 80 {
		faults.Add(at("keeps"), fault.New("", "too_long", "is longer than 80 characters", "Say it in fewer words."))
	}
	if pr.Count.Low < 0 || pr.Count.High < pr.Count.Low || pr.Count.High > 1000 {
		faults.Add(at("count_high"),
			fault.New("", "out_of_range", "must not be below the lower number, nor above 1,000",
				"Leave both at 0 where it is not counted."))
	}
}

// newProductID makes an id from a name that is not used.
func newProductID(name string, used func(string) bool) string {
	id := strings.Trim(strings.Join(strings.FieldsFunc(strings.ToLower(name),
		func(r rune) bool { return r > unicode.MaxASCII || !(unicode.IsLetter(r) || unicode.IsDigit(r)) }), "_"), "_")
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
				faults.Add(field,
					fault.New("", "unknown", fault.Quote(part)+" is not a muscle or part of this piece that can be sold",
						"Leave it out."))
			case !(pct > 0 && pct <= 100):
				faults.Add(field,
					fault.New("", "out_of_range", "gives "+any.Name+" a share that is not above 0 and at most 100",
						"Leave out what is nothing."))
			}
			sum[part] += pct
		}
	}
	for i, pr := range pl.Products {
		take(fmt.Sprintf("products.%d.from", i), pr.From)
		if len(pr.From) == 0 {
			faults.Add(fmt.Sprintf("products.%d.from", i),
				fault.New("", "required", "is made of nothing", "Give it a share of something, or take it out."))
		}
	}
	take("waste", pl.Waste)
	for _, part := range p.Parts() {
		got := atlas.Thousandths(sum[part.ID])
		switch {
		case part.Kind == atlas.KindLoss:
		case part.Kind == atlas.KindWaste && got > 100_000:
			faults.Add("parts."+part.ID,
				fault.New("", "too_much", fmt.Sprintf("%g %% of it is sold, more than there is", round3(sum[part.ID])),
					"Take some away; what is left of it is thrown away."))
		case part.Kind != atlas.KindWaste && got < 100_000:
			faults.Add("parts."+part.ID,
				fault.New("", "missing", fmt.Sprintf("%g %% of it goes nowhere", round3(100-sum[part.ID])),
					"Give it to a product, or throw it away."))
		case part.Kind != atlas.KindWaste && got > 100_000:
			faults.Add("parts."+part.ID,
				fault.New("", "too_much", fmt.Sprintf("%g %% more of it is given away than there is", round3(sum[part.ID]-100)),
					"Take some away."))
		}
	}
}

func round3(f float64) float64 { return float64(atlas.Thousandths(f)) / 1000 }

// CheckPlan says what a plan would bring on a piece of the atlas: of its usual weight, bought for nothing.
func (s *Service) CheckPlan(ctx context.Context, atlasID, self string, pl atlas.Plan) (value.Sheet, error) {
	shop, p, err := s.PieceToPlan(ctx, atlasID)
	if err != nil {
		return value.Sheet{}, err
	}
	if pl, err = s.readPlan(shop, p, pl, self); err != nil {
		return value.Sheet{}, err
	}
	book, _, err := s.prices.TodaysBook(ctx, shop.Shop)
	return value.Sheet{Atlas: p, Plan: pl, Cells: value.Forecast(p, pl, p.Typical()), Prices: book, Minutes: pl.Minutes,
		Rates: shop.Rates}, err
}
