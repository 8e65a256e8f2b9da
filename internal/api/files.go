package api

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net/http"

	"falda/internal/core/fault"
	"falda/internal/tabular"
)

// readTable reads a table that was sent, CSV or XLSX; a fault is the file's.
func readTable(ctx context.Context, body io.Reader) ([][]string, error) {
	var faults fault.List
	rows, err := tabular.Read(ctx, body, tabular.Usual)
	if err != nil && fault.Of(err) == nil { // it did not arrive whole: nothing of it is to blame
		return nil, err
	}
	faults.Add("file", err)
	return rows, faults.Err()
}

// fileTypes are the formats in which lists are given.
var fileTypes = map[string]string{"csv": "text/csv; charset=utf-8",
	"xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", "json": "application/json",
	"ics": "text/calendar; charset=utf-8"}

// contentType is the type of a file: a list's, or a page's.
func contentType(format string) string {
	if format == "pdf" {
		return "application/pdf"
	}
	return fileTypes[format]
}

// tableFormat refuses what a table cannot be written as.
func tableFormat(format string) error {
	if format != "csv" && format != "xlsx" {
		return fault.New("format", "unknown", "is not a format", "Use csv or xlsx.")
	}
	return nil
}

// file is a table as CSV or XLSX, written while its rows are read.
type file struct {
	format, name, sheet string
	columns             []string
	rows                func(put func([]string) error) error
	log                 *slog.Logger
}

// VisitExportAuditResponse writes the file.
func (f file) VisitExportAuditResponse(w http.ResponseWriter) error { return f.send(w) }

// VisitExportBreakdownsResponse writes the file.
func (f file) VisitExportBreakdownsResponse(w http.ResponseWriter) error { return f.send(w) }

// VisitExportPricesResponse writes the file.
func (f file) VisitExportPricesResponse(w http.ResponseWriter) error { return f.send(w) }

func (f file) send(w http.ResponseWriter) error {
	head(w, f.format, f.name)
	logTruncated(f.log, f.write(w))
	return nil
}

func head(w http.ResponseWriter, format, name string) {
	w.Header().Set("Content-Type", contentType(format))
	w.Header().Set("Content-Disposition", fmt.Sprintf(`attachment; filename="falda-%s.%s"`, name, format))
	w.WriteHeader(http.StatusOK)
}

// logTruncated breaks the connection after a failure: the file has begun, and half of it must not pass for the whole.
func logTruncated(log *slog.Logger, err error) {
	if err != nil {
		log.Error("an export was cut short", "error", err)
		panic(http.ErrAbortHandler)
	}
}

func (f file) write(w io.Writer) error {
	var table interface {
		Write([]string) error
		Close() error
	}
	var err error
	if f.format == "csv" {
		table, err = tabular.WriteCSV(w, f.columns)
	} else {
		table, err = tabular.WriteXLSX(w, f.sheet, f.columns)
	}
	if err != nil {
		return err
	}
	if err := f.rows(table.Write); err != nil {
		return err
	}
	return table.Close()
}

// jsonFile is a list as JSON, written while it is read.
type jsonFile struct {
	name string
	rows func(put func(any) error) error
	log  *slog.Logger
}

// VisitExportBreakdownsResponse writes the file.
func (f jsonFile) VisitExportBreakdownsResponse(w http.ResponseWriter) error {
	return f.VisitExportAuditResponse(w)
}

// VisitExportAuditResponse writes the file.
func (f jsonFile) VisitExportAuditResponse(w http.ResponseWriter) error {
	head(w, "json", f.name)
	logTruncated(f.log, f.write(w))
	return nil
}

func (f jsonFile) write(w io.Writer) error {
	between := "["
	err := f.rows(func(v any) error {
		raw, err := json.Marshal(v)
		if err != nil {
			return err
		}
		_, err = io.WriteString(w, between+"\n"+string(raw))
		between = ","
		return err
	})
	if err != nil {
		return err
	}
	end := "\n]\n"
	if between == "[" {
		end = "[]\n"
	}
	_, err = io.WriteString(w, end)
	return err
}

// jsonRows is a table as JSON: each row an object of texts by column.
func jsonRows(name string, columns []string, rows func(put func([]string) error) error, log *slog.Logger) jsonFile {
	return jsonFile{name, func(put func(any) error) error {
		return rows(func(row []string) error {
			line := map[string]string{}
			for i, cell := range row {
				line[columns[i]] = cell
			}
			return put(line)
		})
	}, log}
}
