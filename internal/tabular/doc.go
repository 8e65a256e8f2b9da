// Package tabular reads and writes tables as CSV (RFC 4180) and XLSX (ISO/IEC 29500) for people with spreadsheets.
//
// What is written cannot be taken for a formula. What is read is bounded: bytes, rows, columns, length of a cell, and
// what an XLSX unpacks to; beyond a bound there is an error that names it, never a machine without memory.
package tabular
