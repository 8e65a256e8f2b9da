// Package dayplan is who cuts what when on a day: pieces that are ready and planned go to cutters at benches, as fast
// as the house and each cutter are, with the saw shared, species apart, allergens last and orders in time. The plan is
// kept; what becomes of it is read from the log of the benches, and it can be laid out anew with what is left.
package dayplan
