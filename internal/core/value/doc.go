// Package value says what a way of cutting is worth: plan value, the butcher's yield test, joint cost, and the
// comparison of two ways of cutting one piece with its bridge by muscle.
//
// A Sheet lays every milligram of a piece into cells, part × product. Amounts are exact fractions. Invariants: the
// cells of a sheet add up to the piece; the steps of a bridge add up exactly to the difference of the two values;
// joint-cost allocations add up exactly to the joint cost.
//
// Sources: yield test, the standard one of culinary cost-control handbooks (from memory); joint cost, Horngren et al.,
// Cost Accounting, chapter on joint costs (from memory).
package value
