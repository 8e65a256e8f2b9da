// Package labels is what stands on a shop's packs and price tickets: names, weight and price, use-by and lot, where the
// animal came from, ingredients with their allergens, and the codes that a till and another shop's scanner read.
package labels
