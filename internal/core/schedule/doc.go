// Package schedule says who cuts what when on one day: pieces go to posts (a cutter at a bench), each after the other,
// with the saw as a machine that all share, cleaning where the species changes, allergens last at each post, pauses,
// and the hours at which orders must be ready.
//
// Of all ways it takes the one by which orders are late the least in sum, then the one with the least work after hours,
// then the one that is finished first. A small day is searched whole: by branch and bound over the order in which
// pieces begin, a state that is no better in any respect than another being left out (Land & Doig 1960; dominance after
// Bellman, both from memory). A larger one is improved piece by piece from good beginnings, and a bound is stated that
// no way can beat.
//
// Invariants, which [Check] holds: a post does one thing at a time, within its hours or after them, never in a pause;
// one piece is on the saw at a time; what is pinned stays where it is pinned; nothing without an allergen follows
// something with one at a post, but where the post had one before the plan and was washed down. Times are whole seconds
// from a moment that the asker chooses.
package schedule
