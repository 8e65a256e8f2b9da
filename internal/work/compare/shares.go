package compare

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"falda/internal/core/fault"
	"falda/internal/core/report"
	"falda/internal/secret"
	"falda/internal/store"
	"falda/internal/work/audit"
)

// ShareReport keeps a report as it is now and gives the secret of the link that shows it; it is given here and never
// again.
func (s *Service) ShareReport(ctx context.Context, in ReportAsk, days int) (row store.Share, link string, err error) {
	who, err := audit.Who(ctx)
	if err != nil {
		return row, "", err
	}
	if days < 1 || days > maxShareDays {
		return row, "",
			fault.New("days", "out_of_range", fmt.Sprintf("must be from 1 to %d", maxShareDays),
				"Say for how many days it is to be shown.")
	}
	r, _, err := s.Report(ctx, in)
	if err != nil {
		return row, "", err
	}
	raw, err := json.Marshal(r)
	if err != nil {
		return row, "", err
	}
	if len(raw) > maxReport {
		return row, "", fault.New("report", "too_large", "is too large to share", "Compare less at once.")
	}
	link = secret.NewToken("fr_")
	row = store.Share{PublicID: store.NewID(), ShopID: who.ShopID, Secret: secret.Digest(link),
		Title: strings.ToValidUTF8(fault.Shorten(r.Title), ""), Report: raw, MadeBy: who.NameKept(), CreatedAt: s.now(),
		ExpiresAt: s.now().AddDate(0, 0, days)}
	row.MemberID = who.MemberKey()
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		row.ID = 0
		return audit.Change{Action: "report.shared", Subject: row.PublicID, SubjectName: row.Title,
			Became: map[string]any{"days": days, "kind": in.Kind}}, tx.CreateShare(ctx, &row)
	})
	row.MadeBy = who.Name
	return row, link, err
}

// Shares lists what is shared, or was.
func (s *Service) Shares(ctx context.Context) ([]store.Share, error) {
	who, err := audit.Who(ctx)
	if err != nil {
		return nil, err
	}
	return s.store.Shares(ctx, who.ShopID)
}

// EndShare ends a share before its time.
func (s *Service) EndShare(ctx context.Context, id string) error {
	who, err := audit.Who(ctx)
	if err != nil {
		return err
	}
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		if err := tx.EndShare(ctx, who.ShopID, id, s.now()); err != nil {
			if errors.Is(err, store.ErrConflict) { // there is none, or it has ended
				err = store.ErrNotFound
			}
			return audit.Change{}, err
		}
		return audit.Change{Action: "report.unshared", Subject: id, SubjectName: id}, nil
	})
}

// Shared gives a shared report by the secret of its link, to whoever has it.
func (s *Service) Shared(ctx context.Context, link string) (report.Report, time.Time, error) {
	var r report.Report
	x, err := s.store.SharedBy(ctx, secret.Digest(link), s.now())
	if err != nil {
		return r, time.Time{}, err
	}
	return r, x.ExpiresAt, json.Unmarshal(x.Report, &r)
}
