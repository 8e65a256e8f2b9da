package api

import (
	"context"

	"falda/internal/api/contract"
	"falda/internal/core/ingredient"
	"falda/internal/work/stock"
)

func ingredientRow(v stock.IngredientView) contract.Ingredient {
	out := contract.Ingredient{Id: v.PublicID, Key: v.Key, Name: v.Name, Unit: v.Unit, Allergens: texts(v.Allergens),
		Supplier: v.Supplier, Note: v.Note, Retired: v.Retired, Version: v.Version, UsedIn: texts(v.UsedIn),
		Missing: v.Missing}
	if v.Price != nil {
		out.Price = some(v.Price.Full())
	}
	return out
}

func (h *handlers) ingredients(ctx context.Context) (contract.IngredientList, error) {
	list, err := h.work.Stock.Ingredients(ctx)
	out := contract.IngredientList{Ingredients: each(list, ingredientRow), Units: ingredient.Units}
	for _, a := range ingredient.Allergens {
		out.Allergens = append(out.Allergens, struct {
			Id   string `json:"id"`
			Name string `json:"name"`
		}{a.ID, a.Name})
	}
	return out, err
}

func draftedIngredient(b *contract.IngredientDraft) stock.NewIngredient {
	return stock.NewIngredient{Key: from(b.Key), Name: b.Name, Unit: b.Unit, Price: from(b.Price), Allergens: b.Allergens,
		Supplier: from(b.Supplier), Note: from(b.Note), Retired: from(b.Retired), Version: from(b.Version)}
}

func (h *handlers) ListIngredients(ctx context.Context,
	_ contract.ListIngredientsRequestObject) (contract.ListIngredientsResponseObject, error) {
	list, err := h.ingredients(ctx)
	return contract.ListIngredients200JSONResponse(list), err
}

func (h *handlers) AddIngredient(ctx context.Context,
	r contract.AddIngredientRequestObject) (contract.AddIngredientResponseObject, error) {
	if err := h.work.Stock.SaveIngredient(ctx, "", draftedIngredient(r.Body)); err != nil {
		return nil, err
	}
	list, err := h.ingredients(ctx)
	return contract.AddIngredient200JSONResponse(list), err
}

func (h *handlers) ChangeIngredient(ctx context.Context,
	r contract.ChangeIngredientRequestObject) (contract.ChangeIngredientResponseObject, error) {
	if err := h.work.Stock.SaveIngredient(ctx, r.IngredientId, draftedIngredient(r.Body)); err != nil {
		return nil, err
	}
	list, err := h.ingredients(ctx)
	return contract.ChangeIngredient200JSONResponse(list), err
}
