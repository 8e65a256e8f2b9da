package demo

import (
	"fmt"

	"falda/internal/work/stock"
)

// ingredients are what the hall adds to meat; prices and suppliers are made up like the rest of the scenario.
func (s *scene) ingredients() error {
	for _, in := range []stock.NewIngredient{
		{Key: "stuffing", Name: "Bread and herb stuffing", Unit: "kg", Price: "6.80",
			Allergens: []string{"gluten", "celery", "eggs"}, Supplier: "Skerrow bakehouse"},
		{Key: "herb_mix", Name: "Garlic and herb rub", Unit: "kg", Price: "14.50", Allergens: []string{},
			Supplier: "Long Geo spices"},
		{Key: "barbecue_mix", Name: "Barbecue spice", Unit: "kg", Price: "11.20", Allergens: []string{"mustard", "celery"},
			Supplier: "Long Geo spices"},
		{Key: "string", Name: "Cotton string", Unit: "m", Price: "0.03", Allergens: []string{}},
		{Key: "net", Name: "Roasting net", Unit: "m", Price: "0.42", Allergens: []string{}},
		{Key: "roasting_band", Name: "Roasting band", Unit: "piece", Price: "0.05", Allergens: []string{}},
		{Key: "brine", Name: "Plain brine", Unit: "litre", Allergens: []string{}, Note: "Made here; not costed yet."},
	} {
		if err := s.w.Stock.SaveIngredient(s.ctx, "", in); err != nil {
			return fmt.Errorf("ingredient %s: %w", in.Name, err)
		}
	}
	return nil
}
