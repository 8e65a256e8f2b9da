// Package shop says for which shop something is asked, and what holds in it: its clock, its money and wages, its
// limits, its own ways of cutting, its settings, and who changed what in it.
//
// Every use case of every room begins with [Service.Current] or [Service.For], and every query goes by the id it gives:
// no row of another shop can be reached. A day, a week or a season is always that of the shop's own clock.
package shop
