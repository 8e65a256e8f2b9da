// Package scaleline reads the lines of a scale of any make by a pattern: a regular expression whose named groups say
// which part of a line is what.
//
// Groups: net or gross (one of them must be), tare, sign, unit, and of the state stable, moving, over and under: a
// group that matches something says so. Where neither stable nor moving is a group, a weight that is the same for
// several lines on end is stable. Invariants: a line that does not match changes nothing; net is gross less tare, to
// the milligram.
package scaleline
