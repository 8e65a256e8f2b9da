// Package sales holds what was sold: files of tills, what their names mean, what can be sold in a week to come, what
// should be sold for less before its use-by, and trials of names.
package sales
