package people

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"falda/internal/core/fault"
	"falda/internal/secret"
	"falda/internal/store"
	"falda/internal/work/audit"
)

// Scope is what a token may be used for.
type Scope struct{ ID, Name string }

// Scopes lists them.
var Scopes = []Scope{{"calc", "Calculators"}, {"read", "Read what the shop has"},
	{"record", "Receive, plan, cut and judge"}, {"prices", "Set prices"}, {"audit", "Read the audit"}}

// tokenYears is how far ahead the end of a token may lie.
const tokenYears = 10

// Tokens lists the tokens of the caller's shop.
func (s *Service) Tokens(ctx context.Context) ([]store.Token, error) {
	who, err := audit.Who(ctx)
	if err != nil {
		return nil, err
	}
	return s.store.Tokens(ctx, who.ShopID)
}

// AddToken makes a token; its secret is given here and never again. Ends is a day, or empty for one that holds until
// revoked.
func (s *Service) AddToken(ctx context.Context, name string, scopes []string, ends string) (row store.Token,
	token string, err error) {
	who, err := audit.Who(ctx)
	if err != nil {
		return row, "", err
	}
	name = strings.TrimSpace(name)
	var faults fault.List
	faults.Add("name", fault.Text(name, 80, true))
	var wanted []string
	for _, known := range Scopes {
		if slices.Contains(scopes, known.ID) {
			wanted = append(wanted, known.ID)
		}
	}
	for _, sc := range scopes {
		if !slices.Contains(wanted, sc) {
			faults.Add("scopes",
				fault.New("", "unknown", fault.Quote(sc)+" is not a scope", "Use calc, read, record, prices or audit."))
		}
	}
	if len(scopes) == 0 {
		faults.Add("scopes", fault.Required("Choose what it may be used for."))
	}
	shop, err := s.shops.Current(ctx)
	if err != nil {
		return row, "", err
	}
	row = store.Token{PublicID: store.NewID(), ShopID: who.ShopID, MemberID: who.MemberID, Name: name,
		Scopes: strings.Join(wanted, " "), CreatedAt: s.now()}
	if ends != "" {
		day, err := time.Parse(time.DateOnly, ends)
		switch {
		case err != nil:
			faults.Add("ends_on", fault.New("", "not_a_day", fault.Quote(ends)+" is not a day", "Write it as YYYY-MM-DD."))
		case !day.AddDate(0, 0, 1).After(shop.Day(s.now())):
			faults.Add("ends_on", fault.New("", "past", "lies in the past", "Choose a day to come."))
		case day.After(shop.Day(s.now()).AddDate(tokenYears, 0, 0)):
			faults.Add("ends_on",
				fault.New("", "out_of_range", fmt.Sprintf("lies more than %d years ahead", tokenYears),
					"Choose an earlier day, or none."))
		}
		last := shop.Begins(day.AddDate(0, 0, 1))
		row.EndsAt = &last
	}
	if err := faults.Err(); err != nil {
		return row, "", err
	}
	token = secret.NewToken("ft_")
	row.TokenHash, row.Hint = secret.Digest(token), token[:9]
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		row.ID = 0
		return audit.Change{Action: "token.made", Subject: row.PublicID, SubjectName: name,
			Became: map[string]any{"scopes": wanted, "ends_on": ends}}, tx.CreateToken(ctx, &row)
	})
	return row, token, err
}

// RevokeToken ends a token at once.
func (s *Service) RevokeToken(ctx context.Context, id string) error {
	who, err := audit.Who(ctx)
	if err != nil {
		return err
	}
	defer s.callers.forget()
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		t, err := tx.RevokeToken(ctx, who.ShopID, id, s.now())
		return audit.Change{Action: "token.revoked", Subject: id, SubjectName: t.Name}, err
	})
}
