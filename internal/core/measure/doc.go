// Package measure holds the quantities of the trade: mass, money, prices, and the arithmetic that must not lose a gram.
//
// Mass is whole milligrams. Money is an exact fraction, so that a price per pound times a weight in kilograms is right
// to the last digit; it is rounded once, at the edge, half away from zero. Parts that are shown with their total are
// apportioned by largest remainder, so that they add up to it.
//
// Source of the factors: international yard and pound agreement of 1959, 1 lb = 453.59237 g and 1 oz = 1/16 lb,
// exactly.
package measure
