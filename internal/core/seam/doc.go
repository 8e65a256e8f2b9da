// Package seam is the bench: an append-only log of events folded into a board.
//
// A breakdown is a tree. The piece is opened into muscles, parts and products; each of these may be opened again. Fold
// is pure and deterministic: the same events give the same board. Undo is an event, and may itself be undone.
// Invariants: at every node that is closed, the children and the loss add up to the input exactly, in milligrams;
// nothing is ever scaled to fit; no weighing disappears from the log.
//
// Sources: the balance is a mass balance; the tolerance takes each reading as rounded to the scale's division e, an
// error of standard deviation e/√12 (the uniform distribution over one division; JCGM 100:2008 (GUM) 4.3.7 and F.2.2.1,
// from memory). The loss limits of 1.5 % by knife and 2.5 % by band saw are common practice, no source.
package seam
