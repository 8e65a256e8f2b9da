// Package recipe is what is made of meat and what else goes in: mince, burgers, sausages, stuffings, mixes, marinades
// and cures, cooked and sliced beef. It scales a recipe to what there is, says what it costs and what it must be
// labelled with. It is pure.
//
// Amounts are per kilogram of meat, or of what is made where a recipe holds no meat. Invariants: costs are exact and
// rounded by whoever shows them; the parts of a label add up to the whole; what brings an allergen is marked. Sources:
// Regulation (EU) No 1169/2011, Articles 18, 21 and 22 and Annex II (from memory): ingredients in falling order by
// weight as they go in, the share of meat named, allergens made to stand out.
package recipe
