// Package paper lays out what is printed as PDF (ISO 32000), with the fonts every reader has. It takes what the core
// knows and draws it; it decides nothing.
package paper
