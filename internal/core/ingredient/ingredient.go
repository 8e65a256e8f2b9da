// Package ingredient is what a shop adds to meat: stuffing, spice, brine, net, string. It has a price for one of its
// unit and names the allergens that it brings into what it is added to.
//
// The allergens are the fourteen substances of Annex II of Regulation (EU) No 1169/2011, from memory; other markets
// have other lists, and the label follows the local one.
package ingredient

import (
	"slices"
	"strings"

	"falda/internal/core/measure"
	"falda/internal/core/steps"
)

// Units are what an ingredient is bought and added by. What has weight that is eaten is added by kg or litre.
var Units = []string{"kg", "litre", "m", "piece"}

// Allergen is one substance that has to be named.
type Allergen struct{ ID, Name string }

// Allergens lists them in the order of the regulation.
var Allergens = []Allergen{{"gluten", "Cereals with gluten"}, {"crustaceans", "Crustaceans"}, {"eggs", "Eggs"},
	{"fish", "Fish"}, {"peanuts", "Peanuts"}, {"soya", "Soya"}, {"milk", "Milk"}, {"nuts", "Nuts"}, {"celery", "Celery"},
	{"mustard", "Mustard"}, {"sesame", "Sesame"}, {"sulphites", "Sulphites"}, {"lupin", "Lupin"}, {"molluscs", "Molluscs"}}

// KnownAllergen says whether an id is one of the list.
func KnownAllergen(id string) bool {
	return slices.ContainsFunc(Allergens, func(a Allergen) bool { return a.ID == id })
}

// Ingredient is one of a shop's.
type Ingredient struct {
	Key       string // names it in plans: small letters, digits and _
	Name      string
	Unit      string         // one of Units
	Price     *measure.Money // for one of the unit; nil where it is not known
	Allergens []string
}

// Called is the ingredient's name, or words of the key where the shop has none of it.
func (in Ingredient) Called(key string) string {
	if in.Name != "" {
		return in.Name
	}
	return strings.ReplaceAll(key, "_", " ")
}

// Weighs says whether it has a share in what is eaten; string and net have none. A litre counts as a kilogram.
func (in Ingredient) Weighs() bool { return in.Unit == "kg" || in.Unit == "litre" || in.Unit == "" }

// Book is a shop's ingredients by key.
type Book map[string]Ingredient

// Brings lists the allergens that additions bring with them, in the order of the list, each once.
func (b Book) Brings(added []steps.Addition) []Allergen {
	var out []Allergen
	for _, al := range Allergens {
		if slices.ContainsFunc(added,
			func(a steps.Addition) bool { return slices.Contains(b[a.Ingredient].Allergens, al.ID) }) {
			out = append(out, al)
		}
	}
	return out
}
