// Package goods is the stock log of what is cut and made: tubs of trim, trays of products, made goods, each made on a
// day of something, and what became of it since. It is pure: what is left follows from what was made and from the
// events, in whatever order they came.
//
// Invariants: nothing is lost (made = left + used + sold + thrown away + moved apart − what a count found, to the
// milligram); an event counts once, and one that was undone not at all.
package goods
