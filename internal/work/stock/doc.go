// Package stock holds what came in and waits to be cut: lots with their pieces, delivery notes, what is old enough for
// what, the ways of cutting a piece and the one that was chosen for it.
//
// The pieces of a lot weigh and cost together what the lot does, to the milligram and to the smallest coin. What a
// piece is stands once it is on a bench.
package stock
