// Package goods keeps the stock log of a shop: what its benches and its recipes gave, where it lies, what became of it,
// and where it came from. What is cut comes by itself when a breakdown is closed, and follows every correction at the
// bench; what becomes of it is booked as events under ids of whoever books them, so that sending one twice changes
// nothing, and taking one back is an event too.
//
// What was cut of one product on one day and lies in one place is a tub: its parts are mixed, so that whatever is taken
// from it is taken from all of them, and a lot that is recalled finds every batch that any of it may be in.
package goods
