// Package report is a finding as one page: a sentence, a few figures, bars, tables and what it rests on. Paper,
// spreadsheet, JSON and shared pages are all made of it, so that they say the same. Figures in it are texts in the
// shop's units and currency; it is a record, and is never worked out anew.
package report

import (
	"encoding/json"
	"time"
)

// Report is a finding.
type Report struct {
	Title     string    `json:"title"`
	Shop      string    `json:"shop"`
	MadeAt    time.Time `json:"made_at"`
	Made      string    `json:"made"` // when, by the shop's clock, in words
	Sentence  string    `json:"sentence"`
	Figures   []Figure  `json:"figures"`
	BarsTitle string    `json:"bars_title,omitempty"`
	Bars      []Bar     `json:"bars"`
	Tables    []Table   `json:"tables"`
	Notes     []string  `json:"notes"`
}

// Figure is a number that stands out.
type Figure struct {
	Label  string   `json:"label"`
	Value  string   `json:"value"`
	Number *float64 `json:"-"` // for spreadsheets
	Format string   `json:"-"`
}

// Bar is one bar of the picture; below zero it points the other way.
type Bar struct {
	Name  string  `json:"name"`
	Value float64 `json:"value"`
	Text  string  `json:"text"`
}

// Table is rows under a heading; the first column names, the others are figures.
type Table struct {
	Title   string   `json:"title"`
	Columns []string `json:"columns"`
	Rows    [][]Cell `json:"rows"`
}

// Cell is one cell: its text, and where that is a figure the number itself, for spreadsheets. On paper, in JSON and on
// shared pages it is its text.
type Cell struct {
	Text   string
	Number *float64
	Format string // of a spreadsheet: "0.00 \"kg\""
}

// Text is a cell that is no figure.
func Text(s string) Cell { return Cell{Text: s} }

// Texts are cells that are none.
func Texts(list ...string) []Cell {
	out := make([]Cell, len(list))
	for i, s := range list {
		out[i].Text = s
	}
	return out
}

// Number is a cell that is a figure.
func Number(text string, n float64, format string) Cell {
	return Cell{Text: text, Number: &n, Format: format}
}

// MarshalJSON writes the text.
func (c Cell) MarshalJSON() ([]byte, error) { return json.Marshal(c.Text) }

// UnmarshalJSON reads the text.
func (c *Cell) UnmarshalJSON(raw []byte) error { return json.Unmarshal(raw, &c.Text) }
