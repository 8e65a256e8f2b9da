// Package judge holds what a house knows of how its muscles eat: tastings by panels, scores that came from elsewhere,
// the grades that follow from them, the method that is chosen for a muscle, cooking cards and probes, and what ageing
// brings.
//
// A tasting that is closed stands. Grades follow from results and from nothing else, by the formulas of package eating.
package judge
