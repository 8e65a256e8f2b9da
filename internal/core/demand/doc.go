// Package demand says what sells: how often one of two is sold more than the other, and what of a product can be sold
// in a time, with its uncertainty, from packs that were sold before. It is pure.
//
// Sources: Przyborowski & Wilenski 1940 for comparing two Poisson counts by the binomial they are given their sum,
// Clopper & Pearson 1934 for its limits; the gamma prior of a Poisson rate and its negative binomial prediction are
// text-book (all from memory).
package demand
