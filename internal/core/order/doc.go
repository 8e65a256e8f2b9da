// Package order is what customers have asked for: how much of each product is wanted, how much of that is packed, and
// what must still be cut.
//
// Invariants: what is needed is never below nothing; what lies in stock is promised once, to the order that is due
// first; an amount of money is a mass times a price, rounded once.
package order
