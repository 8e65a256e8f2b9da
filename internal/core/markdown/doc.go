// Package markdown says when meat that nears its use-by should be sold for less, for how much less, and when it is
// better cut small, minced or frozen. It is pure.
//
// Each evening of a plan what is left is known; what sells in a day at a price is a Poisson count whose mean falls with
// the price by a constant elasticity (text-book; from memory). A price once lowered is not raised again. The plan that
// brings the most is found from the last day backwards, over every number of packs that can be left and every step of
// price: exact for the question asked.
package markdown
