// Package eating grades muscles. A grade belongs to muscle × cooking method, on a scale of 0 to 100 with four outcomes,
// and always shows its basis.
//
// Source of the cut-offs 46.5, 64 and 76: Watson, Gee, Polkinghorne & Porter 2008, Australian Journal of Experimental
// Agriculture 48 (from memory). The spread of an estimate, s.d. 8, is a house setting without a source.
package eating
