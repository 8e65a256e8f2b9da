// Package report is a finding as one page: a sentence, a few figures, bars, tables and what it rests on. Paper, spreadsheet, JSON and shared pages
// are all made of it, so that they say the same. Figures in it are texts in the shop's units and currency; it is a record, and is never worked out anew.
package report

import "time"

// Report is a finding.
type Report struct {
	Title     string    `json:"title"`
	Shop      string    `json:"shop"`
	MadeAt    time.Time `json:"made_at"`
	Sentence  string    `json:"sentence"`
	Figures   []Figure  `json:"figures"`
	BarsTitle string    `json:"bars_title,omitempty"`
	Bars      []Bar     `json:"bars"`
	Tables    []Table   `json:"tables"`
	Notes     []string  `json:"notes"`
}

// Figure is a number that stands out.
type Figure struct {
	Label string `json:"label"`
	Value string `json:"value"`
}

// Bar is one bar of the picture; below zero it points the other way.
type Bar struct {
	Name  string  `json:"name"`
	Value float64 `json:"value"`
	Text  string  `json:"text"`
}

// Table is rows under a heading; the first column names, the others are figures.
type Table struct {
	Title   string     `json:"title"`
	Columns []string   `json:"columns"`
	Rows    [][]string `json:"rows"`
}
