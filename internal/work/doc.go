// Package work puts the rooms of the work together: its use cases, in packages that form a tree.
//
//	audit    who asks for something, and who changed what
//	shop     for which shop: its clock, money, settings, own ways of cutting
//	people   accounts, sign-in, benches, screens, tokens
//	pricing  price book, lists, demand
//	stock    lots, pieces, the queue of what waits, plans
//	bench    the log, boards, batches, closing, results, verify
//	judge    tastings, grades, cooking, ageing
//	goods    the stock log; made, orders, dayplan, labels what becomes of it
//	sales    what tills say was sold, what can be sold, what is reduced; counter where it stands
//	compare  comparisons, history, trials, carcass, best use, reports
//
// Arrows run one way, compare → judge → bench → stock → pricing → shop → audit and people → shop; a test holds them.
// Each use case brings core and store together, in one transaction where it writes. None knows HTTP. What is wrong with
// an input comes back as faults that name the field; what is not there as store.ErrNotFound; a lost race as
// store.ErrConflict.
package work
