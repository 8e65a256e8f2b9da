// Package label builds the codes that a pack's label carries: GS1 element strings for GS1-128 and the article numbers
// of a shop's own scale, EAN-13 with a price or weight in it. It is pure.
//
// Invariants: every number ends in its check digit; what does not fit is refused and never cut short. Source: GS1
// General Specifications (from memory): application identifiers 01 (GTIN), 310n (net weight in kilograms, n decimals),
// 17 (use by), 10 (batch or lot); the check digit by weights 3 and 1 from the right, modulo 10; restricted circulation
// numbers with prefixes 20 to 29.
package label
