// Package orders is what customers ask for: products by the kilogram or the pack, or a whole animal cut to a wish. What
// is packed for an order leaves the stock; what is not yet packed and does not lie there binds the best use and the
// day.
package orders
