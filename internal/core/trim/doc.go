// Package trim says what is in a tub: how lean it is and how much connective tissue it holds, by the atlas and by a
// house's own fat tests, and by which name the law lets it be sold once it is minced. It is pure.
//
// Invariants: percentages are of the mass, 0 to 100; a tub's figures are the means by mass of what went in. Sources:
// Regulation (EU) No 1169/2011, Annex VI, Part B, and 9 CFR 319.15 (both from memory); how much of a muscle is
// connective tissue, and how lean fat is, are common practice, no source.
package trim
