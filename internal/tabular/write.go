package tabular

import (
	"encoding/csv"
	"fmt"
	"io"
	"regexp"
	"strconv"
	"strings"
	"unicode/utf8"

	"github.com/xuri/excelize/v2"

	"falda/internal/core/measure"
)

// Safe gives a cell that a spreadsheet does not take for a formula: one that begins like a formula and is no plain
// number gets an apostrophe in front (OWASP, CSV Injection).
func Safe(cell string) string {
	if cell == "" || !strings.ContainsRune("=+-@\t\r\n|%", rune(cell[0])) {
		return cell
	}
	if _, err := measure.ParseNumber(cell); err == nil && cell[0] != '+' {
		return cell
	}
	return "'" + cell
}

// WriteCSV starts a CSV file with its heading. It begins with a byte order mark, without which common spreadsheets take
// UTF-8 for something else.
func WriteCSV(w io.Writer, heading []string) (*CSV, error) {
	if _, err := io.WriteString(w, "\ufeff"); err != nil {
		return nil, err
	}
	c := &CSV{csv.NewWriter(w)}
	c.w.UseCRLF = true
	return c, c.Write(heading)
}

// CSV is a CSV file being written.
type CSV struct{ w *csv.Writer }

// Write adds a row.
func (c *CSV) Write(row []string) error {
	safe := make([]string, len(row))
	for i, cell := range row {
		safe[i] = Safe(cell)
	}
	return c.w.Write(safe)
}

// Close writes what is left.
func (c *CSV) Close() error {
	c.w.Flush()
	return c.w.Error()
}

// WriteXLSX starts an XLSX file of one sheet with its heading. Cells that are plain numbers are written as such, with
// as many decimals as they have; all others are text, so that none is a formula.
func WriteXLSX(w io.Writer, sheet string, heading []string) (*XLSX, error) {
	f := excelize.NewFile()
	if err := f.SetSheetName("Sheet1", sheet); err != nil {
		return nil, err
	}
	stream, err := f.NewStreamWriter(sheet)
	if err != nil {
		return nil, err
	}
	x := &XLSX{w: w, file: f, stream: stream}
	return x, x.Write(heading)
}

// XLSX is an XLSX file being written.
type XLSX struct {
	w      io.Writer
	file   *excelize.File
	stream *excelize.StreamWriter
	rows   int
	styles map[string]int // by format
}

// style gives the style of a number format.
func (x *XLSX) style(format string) (int, error) {
	if id, ok := x.styles[format]; ok {
		return id, nil
	}
	id, err := x.file.NewStyle(&excelize.Style{CustomNumFmt: &format})
	if err != nil {
		return 0, err
	}
	if x.styles == nil {
		x.styles = map[string]int{}
	}
	x.styles[format] = id
	return id, nil
}

// plainNumber is a number that a spreadsheet keeps as it is written: at most fifteen digits, and none before it that
// would go.
var plainNumber = regexp.MustCompile(`^-?(0|[1-9][0-9]*)(\.[0-9]+)?$`)

// numberOf reads a plain number, and the format that shows it with the decimals it has.
func numberOf(cell string) (n float64, format string, ok bool) {
	if len(cell) > 16 || !plainNumber.MatchString(cell) {
		return 0, "", false
	}
	n, err := strconv.ParseFloat(cell, 64)
	if _, part, has := strings.Cut(cell, "."); has {
		return n, "0." + strings.Repeat("0", len(part)), err == nil
	}
	return n, "0", err == nil
}

// Write adds a row of texts; those that are plain numbers become numbers.
func (x *XLSX) Write(row []string) error {
	cells := make([]Cell, len(row))
	for i, text := range row {
		cells[i].Text = text
		if n, format, ok := numberOf(text); ok {
			cells[i].Number, cells[i].Format = &n, format
		}
	}
	return x.WriteCells(cells)
}

// Cell is a cell of a workbook: a text, or a number with its format.
type Cell struct {
	Text   string
	Number *float64
	Format string
}

// WriteCells adds a row.
func (x *XLSX) WriteCells(row []Cell) error {
	x.rows++
	cells := make([]any, len(row))
	for i, cell := range row {
		if cell.Number == nil {
			cells[i] = excelize.Cell{Value: truncate(cell.Text, excelize.TotalCellChars)}
			continue
		}
		style, err := x.style(cell.Format)
		if err != nil {
			return err
		}
		cells[i] = excelize.Cell{StyleID: style, Value: *cell.Number}
	}
	at, err := excelize.CoordinatesToCellName(1, x.rows)
	if err != nil {
		return err
	}
	return x.stream.SetRow(at, cells)
}

func truncate(s string, limit int) string {
	if utf8.RuneCountInString(s) > limit {
		return string([]rune(s)[:limit])
	}
	return s
}

// Close writes the file.
func (x *XLSX) Close() error {
	defer x.file.Close()
	if err := x.stream.Flush(); err != nil {
		return err
	}
	return x.file.Write(x.w)
}

// Sheet is one sheet of a workbook.
type Sheet struct {
	Name string
	Rows [][]Cell
}

// WriteBook writes an XLSX file of several sheets. Cells are numbers with their format, or text, so that none is a
// formula. Names are cut to the 31 characters a sheet may have, cleared of what they may not, and told apart.
func WriteBook(w io.Writer, sheets []Sheet) error {
	f := excelize.NewFile()
	defer f.Close()
	seen := map[string]bool{}
	for i, s := range sheets {
		name := truncate(strings.TrimSpace(strings.Map(func(r rune) rune {
			if strings.ContainsRune(`:\/?*[]'`, r) {
				return ' '
			}
			return r
		}, s.Name)), 27)
		if name == "" || seen[strings.ToLower(name)] {
			name = fmt.Sprintf("%s %d", name, i+1)
		}
		seen[strings.ToLower(name)] = true
		if i == 0 {
			if err := f.SetSheetName("Sheet1", name); err != nil {
				return err
			}
		} else if _, err := f.NewSheet(name); err != nil {
			return err
		}
		stream, err := f.NewStreamWriter(name)
		if err != nil {
			return err
		}
		x := &XLSX{file: f, stream: stream}
		for _, row := range s.Rows {
			if err := x.WriteCells(row); err != nil {
				return err
			}
		}
		if err := stream.Flush(); err != nil {
			return err
		}
	}
	return f.Write(w)
}
