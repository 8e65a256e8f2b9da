// Package compare answers what all the work is for: what one way of cutting brings against another, for a piece, a
// group, a carcass or a week; what finished pieces gave over time; whether a difference is real; and reports of all of
// it.
//
// There is one way to lay out a forecast ([pricing.ForecastSheet]) and one to lay out a piece as it was cut
// ([bench.Service.SheetAsCut]); every figure here rests on one of the two, so that the same question has the same
// answer to the cent.
package compare
