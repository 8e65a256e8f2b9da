// Package atlas is the cut atlas: species → pieces → muscles, the seams between them, and the plans by which a piece
// becomes products. It is data (data/*.yaml, embedded) with a strict loader: an unknown key, shares that do not add to
// 100, a cycle in the seam order, a one-sided neighbour, a part that a plan forgets or a method without an estimate is
// an error that names file, piece and key. Nothing in the program knows a piece by name; the next piece is data.
//
// Basis: every piece says where its figures come from; those here are from memory unless a source is named.
package atlas
