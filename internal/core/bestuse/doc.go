// Package bestuse finds the best use of the pieces that are ready: which plan each is cut by, so that together they
// bring the most, within the bench minutes there are, what of each product can be sold at its full price, and the
// orders that must be met.
//
// The number of pieces cut by each plan is whole. The search is exact: it branches on whole numbers, bounds by the
// linear relaxation (a dual simplex method with bounded variables), and evaluates what it finds in exact arithmetic.
// Invariants: a solution keeps every limit and order to the milligram and the hundredth of a minute; with Proven, no
// other brings a ten-thousandth more. Sources: Land & Doig 1960 for branch and bound, Lemke 1954 for the dual simplex
// method (both from memory).
package bestuse
