// Package till reads what a till says was sold, whatever its columns are called, and adds it up: what sold at its full
// price, for less and not at all. It is pure.
package till
