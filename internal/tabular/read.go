package tabular

import (
	"archive/zip"
	"bufio"
	"bytes"
	"context"
	"encoding/csv"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"strings"
	"unicode/utf8"

	"github.com/xuri/excelize/v2"

	"falda/internal/core/fault"
)

// Limits bound what is read.
type Limits struct {
	Bytes    int64 // of the file
	Unpacked int64 // of an XLSX, unpacked: all of its parts, and its sheets by themselves half of that
	Cells    int   // of an XLSX, in all of its sheets, empty ones too
	Rows     int
	Columns  int
	Cell     int // bytes
}

// Usual are the limits of a list that somebody types or exports: 2 MiB, 20,000 rows.
var Usual = Limits{Bytes: 2 << 20, Unpacked: 24 << 20, Cells: 400_000, Rows: 20_000, Columns: 100, Cell: 4096}

// unpacking lets so many XLSX files at once be read: they take memory and a core each.
var unpacking = make(chan struct{}, 2)

// Read reads a table from a CSV or XLSX file; which it is, it sees by its first bytes. Rows have their cells trimmed;
// empty rows are left out. CSV may be separated by commas, semicolons or tabs. It ends with the context, and lets two
// XLSX files be read at once.
func Read(ctx context.Context, r io.Reader, l Limits) ([][]string, error) {
	raw, err := io.ReadAll(io.LimitReader(r, l.Bytes+1))
	if err != nil {
		return nil, err
	}
	if int64(len(raw)) > l.Bytes {
		return nil, fault.New("", "too_large", fmt.Sprintf("is larger than %d KiB", l.Bytes>>10), "Send it in parts.")
	}
	if bytes.HasPrefix(raw, []byte("PK\x03\x04")) {
		select {
		case unpacking <- struct{}{}:
			defer func() { <-unpacking }()
		case <-ctx.Done():
			return nil, ctx.Err()
		}
		return readXLSX(ctx, raw, l)
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
	best, limit := ',', strings.Count(line, ",")
	for _, c := range []rune{';', '\t'} {
		if n := strings.Count(line, string(c)); n > limit {
			best, limit = c, n
		}
	}
	return best
}

// countCells goes through the sheets of a workbook as a stream, before anything is built of them, and stops where there
// is more than a table of these limits can have.
func countCells(ctx context.Context, raw []byte, l Limits) error {
	z, err := zip.NewReader(bytes.NewReader(raw), int64(len(raw)))
	if err != nil {
		return fault.New("", "not_xlsx", "cannot be read as XLSX: "+err.Error(), "Save it again, or as CSV.")
	}
	left, cells := l.Unpacked/2, 0
	for _, f := range z.File {
		if !strings.HasPrefix(f.Name, "xl/worksheets/") || !strings.HasSuffix(f.Name, ".xml") {
			continue
		}
		part, err := f.Open()
		if err != nil {
			return fault.New("", "not_xlsx", "cannot be read as XLSX: "+err.Error(), "Save it again, or as CSV.")
		}
		counted := &counting{r: io.LimitReader(part, left+1)}
		d := xml.NewDecoder(counted)
		inRow := 0
		for n := 0; ; n++ {
			if n%4096 == 0 && ctx.Err() != nil {
				part.Close()
				return ctx.Err()
			}
			token, err := d.RawToken()
			if counted.n > left {
				part.Close()
				return fault.New("", "too_large", fmt.Sprintf("unpacks to more than %d MiB", l.Unpacked>>20),
					"Send it in parts, or as CSV.")
			}
			if err != nil { // its end, or what the reader proper will complain of
				break
			}
			start, ok := token.(xml.StartElement)
			if !ok {
				continue
			}
			switch start.Name.Local {
			case "row":
				inRow = 0
			case "c":
				cells++
				if inRow++; inRow > 4*l.Columns {
					part.Close()
					return tooWide(l)
				}
				if cells > l.Cells {
					part.Close()
					return fault.New("", "too_many_cells", fmt.Sprintf("has more than %d cells", l.Cells),
						"Send it in parts, or as CSV.")
				}
			}
		}
		part.Close()
		left -= counted.n
	}
	return nil
}

// counting counts what is read.
type counting struct {
	r io.Reader
	n int64
}

func (c *counting) Read(p []byte) (int, error) {
	n, err := c.r.Read(p)
	c.n += int64(n)
	return n, err
}

func readXLSX(ctx context.Context, raw []byte, l Limits) ([][]string, error) {
	if err := countCells(ctx, raw, l); err != nil {
		return nil, err
	}
	broken := func(err error) error {
		return fault.New("", "not_xlsx", "cannot be read as XLSX: "+err.Error(), "Save it again, or as CSV.")
	}
	f, err := excelize.OpenReader(bytes.NewReader(raw),
		excelize.Options{UnzipSizeLimit: l.Unpacked, UnzipXMLSizeLimit: l.Unpacked / 4, RawCellValue: true})
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
		if ctx.Err() != nil {
			return nil, ctx.Err()
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

func tooWide(l Limits) error {
	return fault.New("", "too_many_columns", fmt.Sprintf("has more than %d columns", l.Columns),
		"Leave out what is not needed.")
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
		return nil, tooWide(l)
	}
	kept := make([]string, len(row))
	for i, cell := range row {
		if len(cell) > l.Cell {
			return nil,
				fault.New("", "cell_too_long", fmt.Sprintf("has a cell longer than %d bytes in row %d", l.Cell, len(out)+1),
					"Shorten it.")
		}
		kept[i] = strings.TrimSpace(cell)
	}
	return append(out, kept), nil
}
