package api

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"falda/internal/api/contract"
	"falda/internal/core/fault"
	"falda/internal/store"
	"falda/internal/work/shop"
)

func (h *handlers) ListAudit(ctx context.Context, r contract.ListAuditRequestObject) (contract.ListAuditResponseObject,
	error) {
	p := r.Params
	if p.Limit != nil && *p.Limit == 0 {
		*p.Limit = -1 // asked for, and refused; left out it is the usual number
	}
	page, err := h.work.Shop.Trail(ctx,
		shop.TrailFilter{Member: from(p.Member), Action: from(p.Action), Bench: from(p.Bench), Text: from(p.Text),
			From: from(p.From), To: from(p.To), After: from(p.After), Limit: from(p.Limit)})
	if err != nil {
		return nil, err
	}
	return contract.ListAudit200JSONResponse{Rows: each(page.Rows, auditRow), Next: some(page.Next),
		SearchedTo: page.SearchedTo}, nil
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
	return contract.AuditRow{At: r.At, MemberId: some(r.Member), Name: r.Name, Role: r.Role, Via: r.Via,
		Bench: some(r.Bench), Action: r.Action, Subject: some(r.Subject), SubjectName: some(r.SubjectName),
		Was: values(r.Was), Became: values(r.Became), Request: some(r.Request), Address: some(r.Address)}
}

// auditColumns head the exported table.
var auditColumns = []string{"at", "who", "role", "came in by", "bench", "action", "subject", "name of the subject",
	"was", "became", "request", "address"}

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
	return []string{r.At.UTC().Format(time.RFC3339), r.Name, r.Role, r.Via, r.Bench, r.Action, r.Subject, r.SubjectName,
		text(row.Was), text(row.Became), r.Request, r.Address}
}

func (h *handlers) ExportAudit(ctx context.Context,
	r contract.ExportAuditRequestObject) (contract.ExportAuditResponseObject, error) {
	p := r.Params
	f := shop.TrailFilter{Member: from(p.Member), Action: from(p.Action), Bench: from(p.Bench), Text: from(p.Text),
		From: from(p.From), To: from(p.To), Limit: 1}
	if _, ok := fileTypes[p.Format]; !ok {
		return nil, fault.New("format", "unknown", "is not a format", "Use csv, xlsx or json.")
	}
	if _, err := h.work.Shop.Trail(ctx, f); err != nil { // what is wrong with the filter is said before the file begins
		return nil, err
	}
	name := "audit-" + h.work.Now().Format(time.DateOnly)
	if p.Format == "json" {
		return jsonFile{name, func(put func(any) error) error {
			return h.work.Shop.WholeTrail(ctx, f, func(r store.TrailRow) error { return put(auditRow(r)) })
		}, h.log}, nil
	}
	return file{p.Format, name, "Audit", auditColumns, func(put func([]string) error) error {
		return h.work.Shop.WholeTrail(ctx, f, func(r store.TrailRow) error { return put(auditCells(r)) })
	}, h.log}, nil
}
