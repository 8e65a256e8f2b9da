package recipe_test

import (
	"fmt"
	"math/big"

	"falda/internal/core/ingredient"
	"falda/internal/core/measure"
	"falda/internal/core/recipe"
)

// Burgers of 12 kg of beef: 14 g of salt a kilogram, rusk that brings gluten.
func ExampleRecipe_For() {
	price := measure.MustMoney("2.40")
	book := ingredient.Book{"rusk": {Key: "rusk", Name: "Rusk", Unit: "kg", Price: &price, Allergens: []string{"gluten"}},
		"salt": {Key: "salt", Name: "Salt", Unit: "kg"}}
	burger := recipe.Recipe{Kind: "burger", PieceG: 150, Lines: []recipe.Line{{Ingredient: "rusk", PerKg: 0.06},
		{Ingredient: "salt", PerKg: 0.014}}}
	s := burger.For(big.NewRat(12, 1), book)
	fmt.Println(s.Pieces, "burgers; what goes in beside the meat costs", s.Cost, "without", s.Without)
	for _, p := range s.Label("Beef") {
		fmt.Printf("%s %.1f %%\n", p.Name, p.Pct)
	}
	// Output:
	// 85 burgers; what goes in beside the meat costs 1.73 without [Salt]
	// Beef 93.1 %
	// Rusk 5.6 %
	// Salt 1.3 %
}
