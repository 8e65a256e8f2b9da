package recipe_test

import (
	"encoding/json"
	"math/big"
	"testing"

	"falda/internal/core/ingredient"
	"falda/internal/core/recipe"
)

// Rule: whatever stands in a recipe, it is either refused or can be scaled: what is sold is not more than goes in, and
// the parts of its label add up to the whole.
func FuzzRecipe(f *testing.F) {
	f.Add(`{"kind":"sausage","piece_g":80,"making_loss_pct":2,"lines":[{"ingredient":"salt","per_kg":0.02}]}`)
	f.Add(`{"kind":"cure","lines":[{"ingredient":"salt","per_kg":1}]}`)
	f.Add(`{"kind":"mince","category":"eu_beef","lean_min_pct":1e308}`)
	f.Fuzz(func(t *testing.T, text string) {
		var r recipe.Recipe
		if json.Unmarshal([]byte(text), &r) != nil || r.Check() != nil {
			return
		}
		s := r.For(big.NewRat(7, 2), ingredient.Book{"casing": {Key: "casing", Unit: "m"}})
		if s.Out.Cmp(s.In) > 0 || s.Out.Sign() < 0 || s.Pieces < 0 {
			t.Errorf("%s: %v of %v, %d pieces", text, s.Out, s.In, s.Pieces)
		}
		sum := 0.0
		for _, p := range s.Label("Meat") {
			sum += p.Pct
		}
		if s.In.Sign() > 0 && (sum < 99.99 || sum > 100.01) {
			t.Errorf("%s: the label adds up to %g", text, sum)
		}
		low, high, collagen := r.Bounds()
		if low < r.LeanMin || high != r.LeanMax || (r.Collagen > 0 && collagen > r.Collagen) {
			t.Errorf("%s: %g, %g, %g are wider than the recipe", text, low, high, collagen)
		}
		_ = r.Limits()
	})
}
