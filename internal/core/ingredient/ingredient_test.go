package ingredient_test

import (
	"slices"
	"testing"

	"falda/internal/core/ingredient"
	"falda/internal/core/steps"
)

// What is added brings its allergens, in the order of the list, each once.
func TestBrings(t *testing.T) {
	book := ingredient.Book{"stuffing": {Key: "stuffing", Name: "Bread stuffing", Allergens: []string{"celery", "gluten"}},
		"rub": {Key: "rub", Allergens: []string{"celery"}}}
	added := []steps.Addition{{Add: steps.Add{Ingredient: "rub"}}, {Add: steps.Add{Ingredient: "stuffing", PerKg: 0.2}},
		{Add: steps.Add{Ingredient: "string", Each: 0.6, Count: 4}}}
	var names []string
	for _, a := range book.Brings(added) {
		names = append(names, a.Name)
	}
	if !slices.Equal(names, []string{"Cereals with gluten", "Celery"}) {
		t.Errorf("brings %v", names)
	}
	if book["rub"].Called("rub") != "rub" || book["none"].Called("herb_mix") != "herb mix" {
		t.Error("an ingredient that the shop has not is not called by its key")
	}
}

// Regulation (EU) No 1169/2011, Annex II, lists fourteen substances (from memory).
func TestFourteenAllergens(t *testing.T) {
	if len(ingredient.Allergens) != 14 || !ingredient.KnownAllergen("lupin") || ingredient.KnownAllergen("meat") {
		t.Errorf("%d allergens", len(ingredient.Allergens))
	}
}
