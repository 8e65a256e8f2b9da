// Package blend says what tubs of trim should become: how much of each stream goes into which product, so that the
// whole brings the most, within what each product's recipe allows (its lean and connective tissue, the least and most
// of a source), what of it sells, and the batches that a mincer takes.
//
// Without batches the answer is a linear programme, solved exactly: all figures are fractions, the tableau holds whole
// numbers, and nothing is rounded before the value is. Batches are whole numbers, found by branch and bound on top.
// Invariants: a mix uses no more of a stream than there is and keeps every limit exactly; no other brings more, unless
// it says that it is not proven. Sources: Dantzig 1951 for the simplex method, Bland 1977 for the rule that ends it,
// Edmonds 1967 for pivoting in whole numbers, Land & Doig 1960 for branch and bound (all from memory).
package blend
