// Package bench keeps the log of what is cut: breakdowns, their boards, pieces that are cut together, closing, what a
// close brought, and the check that log and read tables agree.
//
// The log is append-only; a board is what it folds to. An event is written in one transaction with all that follows
// from it, and an event that comes twice changes nothing. Two programs that book on the same piece are kept apart by
// the place of an event in its log, which is unique.
package bench
