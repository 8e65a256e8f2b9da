// Package work holds the use cases of Falda, a file for each stage of the work: receive, plan, bench, judge, compare.
// Each brings core and store together, in one transaction where it writes. It knows no HTTP. What is wrong with an input
// comes back as faults that name the field; what is not there as store.ErrNotFound; a lost race as store.ErrConflict.
package work
