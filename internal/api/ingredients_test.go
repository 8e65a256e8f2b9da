package api

import (
	"slices"
	"testing"

	"falda/internal/api/contract"
)

func names(p contract.Problem, field string) bool {
	return p.Errors != nil && slices.ContainsFunc(*p.Errors, func(f contract.FieldError) bool { return f.Field == field })
}

// An ingredient is added, priced, changed by its version and taken out of use; wrong fields are named and nothing of
// them is kept.
func TestIngredients(t *testing.T) {
	r := newRig(t)
	const at = "/api/v1/ingredients"
	var list contract.IngredientList
	r.ok("GET", at, nil, &list)
	asked := len(list.Ingredients) // by the atlas' plans
	if asked == 0 || !list.Ingredients[0].Missing || len(list.Allergens) != 14 {
		t.Fatalf("%+v", list)
	}
	r.ok("POST", at, map[string]any{"name": "Bread stuffing", "unit": "kg", "price": "7,50",
		"allergens": []string{"celery", "gluten"}, "supplier": "Mill"}, &list)
	in := list.Ingredients[0]
	if in.Key != "bread_stuffing" || *in.Price != "7.50" || !slices.Equal(in.Allergens, []string{"gluten", "celery"}) {
		t.Errorf("%+v, %s", in, *in.Price)
	}
	for field, body := range map[string]map[string]any{
		"name":      {"name": " ", "unit": "kg", "allergens": []string{}},
		"unit":      {"name": "Net", "unit": "mile", "allergens": []string{}},
		"price":     {"name": "Net", "unit": "m", "price": "dear", "allergens": []string{}},
		"allergens": {"name": "Net", "unit": "m", "allergens": []string{"meat"}},
		"key":       {"name": "Net", "unit": "m", "allergens": []string{}, "key": "A net"},
	} {
		if p := r.fails("POST", at, body); p.Status != 422 || !names(p, field) {
			t.Errorf("%s: %+v", field, p)
		}
	}
	again := map[string]any{"name": "Bread stuffing", "unit": "kg", "allergens": []string{}}
	if p := r.fails("POST", at, again); p.Status != 409 || !names(p, "name") {
		t.Errorf("a second one of the name: %+v", p)
	}
	change := map[string]any{"name": "Herb stuffing", "unit": "kg", "allergens": []string{"gluten"}, "version": 1}
	list = contract.IngredientList{}
	r.ok("PUT", at+"/"+in.Id, change, &list)
	if now := list.Ingredients[0]; now.Name != "Herb stuffing" || now.Price != nil || now.Key != in.Key {
		t.Errorf("%+v", now)
	}
	if p := r.fails("PUT", at+"/"+in.Id, change); p.Status != 409 {
		t.Errorf("changed by an old version: %+v", p)
	}
	change["retired"], change["version"] = true, 2
	if r.ok("PUT", at+"/"+in.Id, change, &list); !list.Ingredients[0].Retired {
		t.Errorf("still in use: %+v", list)
	}
	r.signIn("cutter")
	if p := r.fails("POST", at, change); p.Status != 403 {
		t.Errorf("a cutter adds an ingredient: %+v", p)
	}
}
