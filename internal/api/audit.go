package api

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"slices"
	"strings"
	"time"

	"falda/internal/api/contract"
	"falda/internal/core/fault"
	"falda/internal/store"
	"falda/internal/tabular"
	"falda/internal/work"
)

func (h *handlers) ListAudit(ctx context.Context, r contract.ListAuditRequestObject) (contract.ListAuditResponseObject, error) {
	p := r.Params
	if p.Most != nil && *p.Most == 0 {
		*p.Most = -1 // asked for, and refused; left out it is the usual number
	}
	rows, next, err := h.work.Trail(ctx, work.TrailFilter{Member: from(p.Member), Action: from(p.Action), Bench: from(p.Bench), Text: from(p.Text),
		From: from(p.From), To: from(p.To), After: from(p.After), Most: from(p.Most)})
	if err != nil {
		return nil, err
	}
	return contract.ListAudit200JSONResponse{Rows: each(rows, auditRow), Next: some(next)}, nil
}

func auditRow(r store.TrailRow) contract.AuditRow {
	values := func(raw *json.RawMessage) *map[string]any {
		var m map[string]any
		if raw == nil || json.Unmarshal(*raw, &m) != nil {
			return nil
		}
		for k, v := range m { // a bench event has all fields, most of them empty
			if v == "" || (r.Event && v == 0.0) {
				delete(m, k)
			}
		}
		return &m
	}
	return contract.AuditRow{At: r.At, MemberId: some(r.Member), Name: r.Name, Role: r.Role, Via: r.Via, Bench: some(r.Bench), Action: r.Action,
		Subject: some(r.Subject), SubjectName: some(r.SubjectName), Was: values(r.Was), Became: values(r.Became), Request: some(r.Request), Address: some(r.Address)}
}

// auditColumns head the exported table.
var auditColumns = []string{"at", "who", "role", "came in by", "bench", "action", "subject", "name of the subject", "was", "became", "request", "address"}

func auditCells(r store.TrailRow) []string {
	row := auditRow(r)
	text := func(m *map[string]any) string {
		if m == nil {
			return ""
		}
		keys := make([]string, 0, len(*m))
		for k := range *m {
			keys = append(keys, k)
		}
		slices.Sort(keys)
		for i, k := range keys {
			keys[i] = fmt.Sprintf("%s: %v", k, (*m)[k])
		}
		return strings.Join(keys, "; ")
	}
	return []string{r.At.UTC().Format(time.RFC3339), r.Name, r.Role, r.Via, r.Bench, r.Action, r.Subject, r.SubjectName, text(row.Was), text(row.Became), r.Request, r.Address}
}

func (h *handlers) ExportAudit(ctx context.Context, r contract.ExportAuditRequestObject) (contract.ExportAuditResponseObject, error) {
	p := r.Params
	f := work.TrailFilter{Member: from(p.Member), Action: from(p.Action), Bench: from(p.Bench), Text: from(p.Text), From: from(p.From), To: from(p.To), Most: 1}
	if _, ok := exportTypes[p.Format]; !ok {
		return nil, fault.New("format", "unknown", "is not a format", "Use csv, xlsx or json.")
	}
	if _, _, err := h.work.Trail(ctx, f); err != nil { // what is wrong with the filter is said before the file begins
		return nil, err
	}
	return export{p.Format, "audit-" + h.work.Now().Format(time.DateOnly), func(put func(store.TrailRow) error) error { return h.work.WholeTrail(ctx, f, put) }, h.log}, nil
}

var exportTypes = map[string]string{"csv": "text/csv; charset=utf-8", "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", "json": "application/json"}

// export writes a file while its rows are read.
type export struct {
	format, name string
	rows         func(put func(store.TrailRow) error) error
	log          *slog.Logger
}

// VisitExportAuditResponse writes the file.
func (e export) VisitExportAuditResponse(w http.ResponseWriter) error {
	w.Header().Set("Content-Type", exportTypes[e.format])
	w.Header().Set("Content-Disposition", fmt.Sprintf(`attachment; filename="falda-%s.%s"`, e.name, e.format))
	w.WriteHeader(http.StatusOK)
	if err := e.write(w); err != nil { // the file has begun: cutting it short is all that is left
		e.log.Error("an export was cut short", "error", err)
		panic(http.ErrAbortHandler)
	}
	return nil
}

func (e export) write(w io.Writer) error {
	if e.format == "json" {
		return e.writeJSON(w)
	}
	var table interface {
		Write([]string) error
		Close() error
	}
	var err error
	if e.format == "csv" {
		table, err = tabular.WriteCSV(w, auditColumns)
	} else {
		table, err = tabular.WriteXLSX(w, "Audit", auditColumns)
	}
	if err != nil {
		return err
	}
	if err := e.rows(func(r store.TrailRow) error { return table.Write(auditCells(r)) }); err != nil {
		return err
	}
	return table.Close()
}

func (e export) writeJSON(w io.Writer) error {
	between := "[\n"
	err := e.rows(func(r store.TrailRow) error {
		raw, err := json.Marshal(auditRow(r))
		if err != nil {
			return err
		}
		_, err = io.WriteString(w, between+string(raw))
		between = ",\n"
		return err
	})
	if err != nil {
		return err
	}
	if between == "[\n" {
		_, err = io.WriteString(w, "[]\n")
	} else {
		_, err = io.WriteString(w, "\n]\n")
	}
	return err
}
