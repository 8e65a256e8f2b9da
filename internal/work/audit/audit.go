package audit

import (
	"context"
	"encoding/json"
	"reflect"

	"falda/internal/core/words"
	"falda/internal/store"
)

// Change is what a use case changed, as the audit keeps it. Was and Became must hold no secret.
type Change struct {
	Action      string // such as "price.set": what kind of thing, a point, what was done
	Subject     string // public id or key of the thing
	SubjectName string
	Was, Became any
}

// Record runs f in a transaction and writes what it changed to the audit in the same one: there is no change without
// its row, and no row without its change. An empty change records nothing.
func (l *Log) Record(ctx context.Context, f func(tx *store.Store) (Change, error)) error {
	return l.store.Tx(ctx, func(tx *store.Store) error {
		c, err := f(tx)
		if err != nil || c.Action == "" {
			return err
		}
		who, err := Who(ctx)
		if err != nil {
			return err
		}
		return l.Write(ctx, tx, who, c)
	})
}

func (l *Log) Write(ctx context.Context, tx *store.Store, who Caller, c Change) error {
	row := store.Audit{ShopID: who.ShopID, At: l.now(), Name: who.NameKept(), Role: who.Role, Via: who.Via,
		Bench: who.BenchName, Action: c.Action, Subject: words.Truncate(c.Subject, 90),
		SubjectName: words.Truncate(c.SubjectName, 120), Request: words.Truncate(who.Where.Request, 64),
		Address: words.Truncate(who.Where.Address, 64)}
	row.MemberID = who.MemberKey()
	var err error
	if row.Was, err = toJSON(c.Was); err != nil {
		return err
	}
	if row.Became, err = toJSON(c.Became); err != nil {
		return err
	}
	return tx.Record(ctx, &row)
}

func toJSON(v any) (*json.RawMessage, error) {
	if v == nil || (reflect.ValueOf(v).Kind() == reflect.Map && reflect.ValueOf(v).IsNil()) {
		return nil, nil
	}
	raw, err := json.Marshal(v)
	return (*json.RawMessage)(&raw), err
}
