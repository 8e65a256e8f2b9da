// Package straight reads what a piece gives that is cut straight through: what each slice along its axis holds, whether
// a hard line runs through it, how it eats, whether it holds together, and where the cutter should stop. It is pure.
package straight
