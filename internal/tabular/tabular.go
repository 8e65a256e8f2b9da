package tabular

import (
	"bufio"
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"strings"
	"unicode/utf8"

	"github.com/xuri/excelize/v2"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
)

// Limits bound what is read.
type Limits struct {
	Bytes    int64 // of the file
	Unpacked int64 // of an XLSX, unpacked
	Rows     int
	Columns  int
	Cell     int // bytes
}

// Usual are the limits of a list that somebody types or exports: 2 MiB, 20,000 rows.
var Usual = Limits{Bytes: 2 << 20, Unpacked: 64 << 20, Rows: 20_000, Columns: 100, Cell: 4096}

// Safe gives a cell that a spreadsheet does not take for a formula: one that begins like a formula and is no plain number gets
// an apostrophe in front (OWASP, CSV Injection).
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

// WriteXLSX starts an XLSX file of one sheet with its heading. All cells are text, so that none is a formula.
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
}

// Write adds a row.
func (x *XLSX) Write(row []string) error {
	x.rows++
	cells := make([]any, len(row))
	for i, cell := range row {
		cells[i] = excelize.Cell{Value: cut(cell, excelize.TotalCellChars)}
	}
	at, err := excelize.CoordinatesToCellName(1, x.rows)
	if err != nil {
		return err
	}
	return x.stream.SetRow(at, cells)
}

func cut(s string, most int) string {
	if utf8.RuneCountInString(s) > most {
		return string([]rune(s)[:most])
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

// Read reads a table from a CSV or XLSX file; which it is, it sees by its first bytes. Rows have their cells trimmed; empty
// rows are left out. CSV may be separated by commas, semicolons or tabs.
func Read(r io.Reader, l Limits) ([][]string, error) {
	raw, err := io.ReadAll(io.LimitReader(r, l.Bytes+1))
	if err != nil {
		return nil, err
	}
	if int64(len(raw)) > l.Bytes {
		return nil, fault.New("", "too_large", fmt.Sprintf("is larger than %d KiB", l.Bytes>>10), "Send it in parts.")
	}
	if bytes.HasPrefix(raw, []byte("PK\x03\x04")) {
		return readXLSX(raw, l)
	}
	return readCSV(raw, l)
}

func readCSV(raw []byte, l Limits) ([][]string, error) {
	raw = bytes.TrimPrefix(raw, []byte("\ufeff"))
	if !utf8.Valid(raw) || bytes.IndexByte(raw, 0) >= 0 {
		return nil, fault.New("", "not_text", "is not a text in UTF-8", "Save it as CSV in UTF-8, or as XLSX.")
	}
	c := csv.NewReader(bytes.NewReader(raw))
	c.Comma, c.FieldsPerRecord, c.ReuseRecord = separator(raw), -1, true
	var out [][]string
	for {
		row, err := c.Read()
		if errors.Is(err, io.EOF) {
			return out, nil
		}
		if err != nil {
			return nil, fault.New("", "not_csv", "is not CSV: "+err.Error(), "Save it again as CSV, or as XLSX.")
		}
		if out, err = add(out, row, l); err != nil {
			return nil, err
		}
	}
}

// separator is the one of comma, semicolon and tab that the first line holds most of.
func separator(raw []byte) rune {
	line, _ := bufio.NewReader(bytes.NewReader(raw)).ReadString('\n')
	best, most := ',', strings.Count(line, ",")
	for _, c := range []rune{';', '\t'} {
		if n := strings.Count(line, string(c)); n > most {
			best, most = c, n
		}
	}
	return best
}

func readXLSX(raw []byte, l Limits) ([][]string, error) {
	broken := func(err error) error {
		return fault.New("", "not_xlsx", "cannot be read as XLSX: "+err.Error(), "Save it again, or as CSV.")
	}
	f, err := excelize.OpenReader(bytes.NewReader(raw), excelize.Options{UnzipSizeLimit: l.Unpacked, UnzipXMLSizeLimit: l.Unpacked / 4, RawCellValue: true})
	if err != nil {
		return nil, broken(err)
	}
	defer f.Close()
	sheets := f.GetSheetList()
	if len(sheets) == 0 {
		return nil, broken(errors.New("it has no sheet"))
	}
	rows, err := f.Rows(sheets[0])
	if err != nil {
		return nil, broken(err)
	}
	defer rows.Close()
	var out [][]string
	for seen := 0; rows.Next(); seen++ {
		if seen > 4*l.Rows { // empty ones count too
			return nil, tooMany(l)
		}
		row, err := rows.Columns()
		if err != nil {
			return nil, broken(err)
		}
		if out, err = add(out, row, l); err != nil {
			return nil, err
		}
	}
	if err := rows.Error(); err != nil {
		return nil, broken(err)
	}
	return out, nil
}

func tooMany(l Limits) error {
	return fault.New("", "too_many_rows", fmt.Sprintf("has more than %d rows", l.Rows), "Send it in parts.")
}

// add keeps a row that is not empty, within the limits.
func add(out [][]string, row []string, l Limits) ([][]string, error) {
	for len(row) > 0 && strings.TrimSpace(row[len(row)-1]) == "" {
		row = row[:len(row)-1]
	}
	if len(row) == 0 {
		return out, nil
	}
	if len(out) >= l.Rows {
		return nil, tooMany(l)
	}
	if len(row) > l.Columns {
		return nil, fault.New("", "too_many_columns", fmt.Sprintf("has more than %d columns", l.Columns), "Leave out what is not needed.")
	}
	kept := make([]string, len(row))
	for i, cell := range row {
		if len(cell) > l.Cell {
			return nil, fault.New("", "cell_too_long", fmt.Sprintf("has a cell longer than %d bytes in row %d", l.Cell, len(out)+1), "Shorten it.")
		}
		kept[i] = strings.TrimSpace(cell)
	}
	return append(out, kept), nil
}

// Sheet is one sheet of a workbook.
type Sheet struct {
	Name string
	Rows [][]string
}

// WriteBook writes an XLSX file of several sheets. All cells are text, so that none is a formula. Names are cut to the 31 characters a sheet may
// have, cleared of what they may not, and told apart.
func WriteBook(w io.Writer, sheets []Sheet) error {
	f := excelize.NewFile()
	defer f.Close()
	seen := map[string]bool{}
	for i, s := range sheets {
		name := cut(strings.TrimSpace(strings.Map(func(r rune) rune {
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
		x := &XLSX{stream: stream}
		for _, row := range s.Rows {
			if err := x.Write(row); err != nil {
				return err
			}
		}
		if err := stream.Flush(); err != nil {
			return err
		}
	}
	return f.Write(w)
}
