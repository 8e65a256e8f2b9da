package api

import (
	"bytes"
	"context"
	"fmt"
	"math/big"
	"slices"
	"strings"

	"falda/internal/api/contract"
	"falda/internal/core/blend"
	"falda/internal/core/ingredient"
	"falda/internal/core/measure"
	"falda/internal/core/recipe"
	"falda/internal/core/trim"
	"falda/internal/core/words"
	"falda/internal/paper"
	"falda/internal/work/made"
)

// gramsOf is a fraction of kilograms in grams.
func gramsOf(kg *big.Rat) float64 {
	v, _ := new(big.Rat).Mul(kg, big.NewRat(1000, 1)).Float64()
	return round(v, 3)
}

func recipeBody(b recipe.Recipe) contract.RecipeBody {
	return contract.RecipeBody{Kind: b.Kind, Species: b.Species, Category: b.Category, LeanMinPct: b.LeanMin,
		LeanMaxPct: b.LeanMax, CollagenMaxPct: b.Collagen, PieceG: b.PieceG, MakingLossPct: b.MakingLoss,
		CookingLossPct: b.CookingLoss, SlicingLossPct: b.SlicingLoss, BatchKg: b.BatchKg, ShelfDays: b.ShelfDays,
		WeekKg: b.WeekKg,
		Shares: each(b.Shares, func(s recipe.Share) contract.RecipeShare {
			return contract.RecipeShare{Of: s.Of, LeastPct: s.LeastPct, MostPct: s.MostPct}
		}),
		Lines: each(b.Lines, func(l recipe.Line) contract.RecipeLine {
			return contract.RecipeLine{Ingredient: l.Ingredient, PerKg: l.PerKg}
		})}
}

func readRecipe(b contract.RecipeBody) recipe.Recipe {
	return recipe.Recipe{Kind: b.Kind, Species: b.Species, Category: b.Category, LeanMin: b.LeanMinPct,
		LeanMax: b.LeanMaxPct, Collagen: b.CollagenMaxPct, PieceG: b.PieceG, MakingLoss: b.MakingLossPct,
		CookingLoss: b.CookingLossPct, SlicingLoss: b.SlicingLossPct, BatchKg: b.BatchKg, ShelfDays: b.ShelfDays,
		WeekKg: b.WeekKg,
		Shares: each(b.Shares, func(s contract.RecipeShare) recipe.Share {
			return recipe.Share{Of: s.Of, LeastPct: s.LeastPct, MostPct: s.MostPct}
		}),
		Lines: each(b.Lines, func(l contract.RecipeLine) recipe.Line {
			return recipe.Line{Ingredient: l.Ingredient, PerKg: l.PerKg}
		})}
}

func amounts(s recipe.Scaled) []contract.RecipeAmount {
	return each(s.Amounts, func(a recipe.Amount) contract.RecipeAmount {
		v, _ := a.Amount.Float64()
		out := contract.RecipeAmount{Key: a.Key, Name: a.Called(a.Key), Amount: round(v, 4), Unit: a.Unit,
			Allergens: texts(a.Allergens)}
		if a.Cost != nil {
			out.Cost = some(a.Cost.String())
		}
		return out
	})
}

// meatName is what the meat of a recipe is called on a label.
func meatName(r recipe.Recipe) string {
	if r.Species == "" {
		return "Meat"
	}
	return words.Capitalised(r.Species)
}

func labelParts(s recipe.Scaled) []contract.LabelPart {
	return each(s.Label(meatName(s.Recipe)), func(p recipe.Part) contract.LabelPart {
		return contract.LabelPart{Name: p.Name, Pct: round(p.Pct, 1), Meat: p.Meat, Allergen: p.Allergen}
	})
}

func allergenNames(list []ingredient.Allergen) []string {
	return each(list, func(a ingredient.Allergen) string { return a.Name })
}

func recipeRow(r made.Recipe) contract.Recipe {
	s := r.Scaled
	out := contract.Recipe{Id: r.PublicID, Name: r.Name, Body: recipeBody(r.Body), IngredientKey: r.IngredientKey,
		Retired: r.Retired, Version: r.Version, MeatG: gramsOf(s.Meat), InG: gramsOf(s.In), OutG: gramsOf(s.Out),
		Pieces: s.Pieces, Amounts: amounts(s), Cost: s.Cost.String(), Without: texts(s.Without), Label: labelParts(s),
		Allergens: allergenNames(s.Allergens()), SaltGPerKg: round(s.SaltG(), 2)}
	if r.Price != nil {
		out.Price = some(priceText(*r.Price))
		out.NetPerKg = some(measure.MoneyFromRat(r.Net).Text(2))
	}
	return out
}

// ListRecipes lists what the shop makes.
func (h *handlers) ListRecipes(ctx context.Context,
	_ contract.ListRecipesRequestObject) (contract.ListRecipesResponseObject, error) {
	list, err := h.work.Made.Recipes(ctx)
	if err != nil {
		return nil, err
	}
	products, err := h.work.Pricing.Prices(ctx)
	if err != nil {
		return nil, err
	}
	out := contract.RecipeList{Recipes: each(list, recipeRow),
		Kinds: each(recipe.Kinds,
			func(k recipe.Kind) contract.RecipeKind {
				return contract.RecipeKind{Id: k.ID, Name: k.Name, Meat: k.Meat}
			}),
		Categories: each(trim.Categories, func(c trim.Category) contract.Category {
			return contract.Category{Id: c.ID, Name: c.Name, Market: c.Market, FatMaxPct: c.FatMaxPct,
				CollagenMaxPct: c.CollagenMaxPct, Source: c.Source}
		})}
	var species []string
	for _, p := range products {
		if !slices.Contains(species, p.Species) {
			species = append(species, p.Species)
			out.Sources = append(out.Sources, contract.Named{Id: p.Species, Name: words.Capitalised(p.Species)})
		}
	}
	for _, p := range products {
		if p.Form == "trim" || p.Form == "sausage_trim" || p.Form == "fat" {
			out.Sources = append(out.Sources, contract.Named{Id: p.Key, Name: p.Name + ", " + p.Species})
		}
	}
	return contract.ListRecipes200JSONResponse(out), nil
}

func (h *handlers) saveRecipe(ctx context.Context, id string, b *contract.RecipeDraft) (contract.Recipe, error) {
	r, err := h.work.Made.SaveRecipe(ctx, id, made.NewRecipe{Name: b.Name, Body: readRecipe(b.Body), Price: from(b.Price),
		IngredientKey: from(b.IngredientKey), Retired: from(b.Retired), Version: from(b.Version)})
	if err != nil {
		return contract.Recipe{}, err
	}
	return recipeRow(r), nil
}

// AddRecipe adds a recipe.
func (h *handlers) AddRecipe(ctx context.Context, r contract.AddRecipeRequestObject) (contract.AddRecipeResponseObject,
	error) {
	out, err := h.saveRecipe(ctx, "", r.Body)
	return contract.AddRecipe200JSONResponse(out), err
}

// ChangeRecipe changes a recipe.
func (h *handlers) ChangeRecipe(ctx context.Context,
	r contract.ChangeRecipeRequestObject) (contract.ChangeRecipeResponseObject, error) {
	out, err := h.saveRecipe(ctx, r.RecipeId, r.Body)
	return contract.ChangeRecipe200JSONResponse(out), err
}

// ScaleRecipe gives a recipe for an amount.
func (h *handlers) ScaleRecipe(ctx context.Context,
	r contract.ScaleRecipeRequestObject) (contract.ScaleRecipeResponseObject, error) {
	unit := from(r.Params.Unit)
	if unit == "" {
		unit = "kg"
	}
	out, err := h.work.Made.Scale(ctx, r.RecipeId, r.Params.Weight, unit)
	if err != nil {
		return nil, err
	}
	return contract.ScaleRecipe200JSONResponse(recipeRow(out)), nil
}

// Blend says what the tubs should become.
func (h *handlers) Blend(ctx context.Context, r contract.BlendRequestObject) (contract.BlendResponseObject, error) {
	_, stop, done, err := h.work.Compare.Solving(ctx)
	if err != nil {
		return nil, err
	}
	defer done()
	b, err := h.work.Made.Blend(ctx, made.BlendAsk{Tubs: r.Body.Tubs, Cheap: from(r.Body.Cheap),
		Recipes: each(r.Body.Recipes, func(w contract.BlendWant) made.BlendWant {
			return made.BlendWant{Recipe: w.Recipe, Least: from(w.Least), Most: from(w.Most)}
		})}, blend.Stop(stop))
	if err != nil {
		return nil, err
	}
	return contract.Blend200JSONResponse(h.blended(b)), nil
}

func (h *handlers) blended(b made.Blend) contract.Blend {
	now := h.work.Now()
	out := contract.Blend{Value: b.Value.String(), AsItIs: b.AsItIs.String(), Gain: b.Gain().String(), Proven: b.Proven,
		Cheap: b.Cheap, Late: []string{}, Use: []contract.BlendGoes{}}
	for _, t := range b.Late {
		out.Late = append(out.Late, t.Name+", "+day(t.MadeOn))
	}
	out.Tubs = each(b.Tubs, func(t made.BlendTub) contract.BlendTub {
		return contract.BlendTub{Tub: tub(t.Tub, now), WorthPerKg: t.Worth.Text(2), Unpriced: t.Unpriced,
			LeftG: t.Left.Grams(), MarginPerKg: t.Margin.Text(2)}
	})
	out.Made = each(b.Made, func(m made.BlendMade) contract.BlendGives {
		x := contract.BlendGives{Recipe: m.Recipe.PublicID, Name: m.Recipe.Name, MeatG: m.Meat.Grams(), SoldG: m.Sold.Grams(),
			Pieces: m.Pieces, Batches: m.Batches, Value: m.Value.String(), Species: some(m.Recipe.Body.Species)}
		if m.Lean != nil {
			x.LeanPct, x.FatPct = some(round(*m.Lean, 1)), some(round(*m.Fat, 1))
		}
		if m.CollagenRatio != nil {
			x.CollagenPct = some(round(*m.CollagenRatio, 1))
		}
		if m.Category != nil {
			x.Category = some(m.Category.Name)
		}
		return x
	})
	for _, u := range b.Use {
		out.Use = append(out.Use,
			contract.BlendGoes{Tub: b.Tubs[u.Tub].String(), Recipe: b.Made[u.Recipe].Recipe.PublicID, G: u.Mass.Grams()})
	}
	return out
}

// SetTrimValue sets how trim is valued.
func (h *handlers) SetTrimValue(ctx context.Context,
	r contract.SetTrimValueRequestObject) (contract.SetTrimValueResponseObject, error) {
	_, stop, done, err := h.work.Compare.Solving(ctx)
	if err != nil {
		return nil, err
	}
	defer done()
	if err := h.work.Made.ValueByUse(ctx, r.Body.ByUse, blend.Stop(stop)); err != nil {
		return nil, err
	}
	return contract.SetTrimValue204Response{}, nil
}

func making(m made.Making) contract.Making {
	out := contract.Making{Id: m.PublicID, Name: m.Name, LotNumber: m.LotNumber, MadeOn: day(m.MadeOn),
		UseBy: day(m.UseBy), State: contract.MakingState(m.State), OpenedAt: m.OpenedAt, ClosedAt: m.ClosedAt,
		Reason: some(m.Reason), Amounts: amounts(m.Planned), MeatG: m.Meat.Grams(), AddedG: m.Added.Grams(),
		CameG: m.Came.Grams(), DroppedG: m.Dropped.Grams(), LostG: m.Lost.Grams(), LossPct: round(m.LossPct, 1),
		LimitPct: round(m.LimitPct, 1), Pieces: m.Pieces, Breaks: texts(m.Breaks), ExpectedG: gramsOf(m.Planned.Out),
		Label: labelParts(m.Planned), Allergens: allergenNames(m.Planned.Allergens())}
	out.Plan = each(m.Plan, func(p made.PlannedTub) contract.PlannedTub {
		return contract.PlannedTub{Tub: p.Tub, Name: p.Name, G: p.Mass.Grams()}
	})
	out.Log = each(m.Log, func(l made.Line) contract.MakingLine {
		return contract.MakingLine{Id: l.Together, Kind: l.Kind, Name: l.Name, Of: some(l.Of), G: l.Mass.Grams(),
			Count: some(l.Count), At: l.At}
	})
	if m.Figures != nil {
		out.LeanPct, out.FatPct = some(round(m.Figures.Lean, 1)), some(round(m.Fat, 1))
	}
	return out
}

// ListMakings lists what is being made and was.
func (h *handlers) ListMakings(ctx context.Context,
	r contract.ListMakingsRequestObject) (contract.ListMakingsResponseObject, error) {
	before, err := mark(r.Params.Before)
	if err != nil {
		return nil, err
	}
	list, next, err := h.work.Made.Makings(ctx, before)
	return contract.ListMakings200JSONResponse{Makings: each(list, making), Next: markOf(next)}, err
}

// BeginMaking begins a batch.
func (h *handlers) BeginMaking(ctx context.Context,
	r contract.BeginMakingRequestObject) (contract.BeginMakingResponseObject, error) {
	m, err := h.work.Made.Begin(ctx, made.NewMaking{ID: r.Body.Id, Recipe: r.Body.Recipe, Plan: from(r.Body.Plan)})
	if err != nil {
		return nil, err
	}
	return contract.BeginMaking200JSONResponse(making(m)), nil
}

// GetMaking gives a batch.
func (h *handlers) GetMaking(ctx context.Context, r contract.GetMakingRequestObject) (contract.GetMakingResponseObject,
	error) {
	m, err := h.work.Made.Making(ctx, r.MakingId)
	if err != nil {
		return nil, err
	}
	return contract.GetMaking200JSONResponse(making(m)), nil
}

// DropMaking takes a batch away.
func (h *handlers) DropMaking(ctx context.Context,
	r contract.DropMakingRequestObject) (contract.DropMakingResponseObject, error) {
	if err := h.work.Made.Drop(ctx, r.MakingId); err != nil {
		return nil, err
	}
	return contract.DropMaking204Response{}, nil
}

// WeighMaking books a weighing on a batch.
func (h *handlers) WeighMaking(ctx context.Context,
	r contract.WeighMakingRequestObject) (contract.WeighMakingResponseObject, error) {
	b := r.Body
	m, err := h.work.Made.Weigh(ctx, r.MakingId, made.Weighing{ID: b.Id, Kind: b.Kind, Tub: from(b.Tub),
		Key: from(b.Ingredient), Weight: b.Weight, Unit: b.Unit, Count: from(b.Count), Source: from(b.Source),
		Note: from(b.Note), At: from(b.At)})
	if err != nil {
		return nil, err
	}
	return contract.WeighMaking200JSONResponse(making(m)), nil
}

// UndoMaking takes a weighing back.
func (h *handlers) UndoMaking(ctx context.Context,
	r contract.UndoMakingRequestObject) (contract.UndoMakingResponseObject, error) {
	m, err := h.work.Made.Undo(ctx, r.MakingId, r.Body.Id, r.EventId)
	if err != nil {
		return nil, err
	}
	return contract.UndoMaking200JSONResponse(making(m)), nil
}

// CloseMaking ends a batch.
func (h *handlers) CloseMaking(ctx context.Context,
	r contract.CloseMakingRequestObject) (contract.CloseMakingResponseObject, error) {
	m, err := h.work.Made.Close(ctx, r.MakingId, from(r.Body.Reason))
	if err != nil {
		return nil, err
	}
	return contract.CloseMaking200JSONResponse(making(m)), nil
}

// ReopenMaking opens a batch again.
func (h *handlers) ReopenMaking(ctx context.Context,
	r contract.ReopenMakingRequestObject) (contract.ReopenMakingResponseObject, error) {
	m, err := h.work.Made.Reopen(ctx, r.MakingId)
	if err != nil {
		return nil, err
	}
	return contract.ReopenMaking200JSONResponse(making(m)), nil
}

// TraceMaking finds what a batch is made of.
func (h *handlers) TraceMaking(ctx context.Context,
	r contract.TraceMakingRequestObject) (contract.TraceMakingResponseObject, error) {
	list, err := h.work.Goods.Trace(ctx, r.MakingId)
	if err != nil {
		return nil, err
	}
	return contract.TraceMaking200JSONResponse(each(list, traceStep)), nil
}

// batchCautions are the usual cautions beside a mincer.
var batchCautions = []string{
	"Mincer: stomper, never fingers; unplugged before it is taken apart. Local codes and your own training come first.",
	"Meat stays below 4 °C until it is packed; mince is cooked through, 71 °C at its centre.",
	"What names an allergen goes last, and everything is washed after it."}

// GetMakingSheet writes the sheet of a batch.
func (h *handlers) GetMakingSheet(ctx context.Context,
	r contract.GetMakingSheetRequestObject) (contract.GetMakingSheetResponseObject, error) {
	m, err := h.work.Made.Making(ctx, r.MakingId)
	if err != nil {
		return nil, err
	}
	s := paper.BatchSheet{Name: m.Name, LotNumber: m.LotNumber, MadeOn: m.MadeOn.Format("2 January 2006"),
		UseBy: m.UseBy.Format("2 January 2006"), Limits: m.Recipe.Limits(), Cautions: batchCautions,
		Expected:  fmt.Sprintf("%.3f kg", gramsOf(m.Planned.Out)/1000),
		Allergens: strings.Join(allergenNames(m.Planned.Allergens()), ", ")}
	for _, p := range m.Plan {
		s.Meat = append(s.Meat, [2]string{p.Name, p.Mass.Text(measure.UnitKilogram, 3)})
	}
	for _, a := range m.Planned.Amounts {
		s.Else = append(s.Else, [2]string{a.Called(a.Key), a.Amount.FloatString(3) + " " + a.Unit})
	}
	var parts []string
	for _, p := range m.Planned.Label(meatName(m.Recipe)) {
		text := p.Name
		if p.Meat {
			text += fmt.Sprintf(" (%.0f %%)", p.Pct)
		}
		parts = append(parts, text)
	}
	s.Label = strings.Join(parts, ", ") + "."
	var out bytes.Buffer
	if err := paper.WriteBatchSheet(&out, s); err != nil {
		return nil, err
	}
	return contract.GetMakingSheet200ApplicationpdfResponse{Body: &out, ContentLength: int64(out.Len())}, nil
}
