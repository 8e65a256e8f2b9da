// Package steps is the grammar of the work at the block: a plan as an ordered tree of steps, each of which works on a
// block of parts that are still joined and leaves blocks, products, tubs, or all three.
//
// [Walk] plays the steps under chosen options and says where every part of the piece goes, in thousandths of a percent
// of the part's whole. Its invariant: nothing appears and nothing vanishes; what a part's shares do not reach at the
// end is named as left over. [Check] holds a list of steps to the grammar, whose verbs, fields, tubs and tools are
// closed. The atlas turns plans of percentages into steps by one rule, and walking these gives the percentages back
// exactly.
//
// The package knows ids and shares only. Weights, prices and the names of muscles are the business of those who use it.
package steps
