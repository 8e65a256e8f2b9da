package sales

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/till"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/goods"
	"falda/internal/work/shop"
)

// keep keeps the good lines.
func (s *Service) keep(ctx context.Context, sh shop.WithPlans, in Ask, out *File) error {
	who, err := audit.Who(ctx)
	if err != nil {
		return err
	}
	if out.Good == 0 {
		return fault.New("file", "empty", "holds nothing that can be kept", "Look at what is wrong with its lines.")
	}
	name := []rune(strings.TrimSpace(in.Name))
	f := store.SaleFile{PublicID: store.NewID(), ShopID: sh.ID, Till: out.Till, Name: string(name[:min(len(name), 120)]),
		FirstDay: out.First, LastDay: out.Last, MemberID: who.MemberKey(), ReadAt: s.now(), LinesRead: out.Good}
	var lines []store.Sale
	for _, l := range out.Lines {
		if l.out() {
			continue
		}
		lines = append(lines, store.Sale{Line: l.No, Day: l.Day, ProductKey: l.Key, Kind: l.Kind, Packs: l.Packs,
			MassMg: int64(l.Mass), Amount: l.Amount.Text(4), Reason: l.Reason})
	}
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		change := audit.Change{Action: "sales.read", Subject: f.PublicID, SubjectName: f.Name,
			Became: map[string]any{"till": f.Till, "lines": len(lines), "first": f.FirstDay.Format(time.DateOnly),
				"last": f.LastDay.Format(time.DateOnly), "out_of_stock": in.Stock}}
		if _, err := tx.LockShop(ctx, sh.ID); err != nil { // a day is read in once
			return change, err
		}
		covered, err := tx.SaleDays(ctx, sh.ID, out.Till, out.First, out.Last)
		if err != nil {
			return change, err
		}
		if slices.ContainsFunc(lines, func(l store.Sale) bool { return slices.ContainsFunc(covered, l.Day.Equal) }) {
			return change, store.ErrConflict
		}
		if in.Stock {
			if err := s.takeOut(ctx, tx, sh, out, &f); err != nil {
				return change, err
			}
		}
		if err := tx.AddSales(ctx, &f, lines); err != nil {
			return change, err
		}
		out.Read = &f
		settings, err := settingsOf(ctx, tx, sh.ID)
		if err != nil {
			return change, err
		}
		if settings.Ways[heading(out.Heading)] == out.Way {
			return change, nil
		}
		settings.Ways[heading(out.Heading)] = out.Way
		return change, save(ctx, tx, sh.ID, settings)
	})
}

// takeOut books what was sold out of stock, what must go first first.
func (s *Service) takeOut(ctx context.Context, tx *store.Store, sh shop.WithPlans, out *File, f *store.SaleFile) error {
	masses, names := map[string]measure.Mass{}, map[string]string{}
	for _, l := range out.Lines {
		if l.out() {
			continue
		}
		names[l.Key] = l.Product
		switch l.Kind {
		case till.Sold, till.Reduced:
			masses[l.Key] += l.Mass
		case till.Returned:
			masses[l.Key] -= l.Mass
		}
	}
	keys := make([]string, 0, len(masses))
	for key := range masses {
		keys = append(keys, key)
	}
	slices.Sort(keys)
	booked := []string{}
	out.Short = nil
	for _, key := range keys {
		if masses[key] <= 0 {
			continue
		}
		id := store.NewID()
		short, err := s.goods.TakeSold(ctx, tx, sh.ID, goods.Taking{ID: id, Key: key, Mass: masses[key],
			Note: fmt.Sprintf("%s, %s to %s", f.Till, f.FirstDay.Format(time.DateOnly), f.LastDay.Format(time.DateOnly))})
		if err != nil {
			return err
		}
		if short > 0 {
			out.Short = append(out.Short, Short{names[key], short})
		}
		if short < masses[key] {
			booked = append(booked, id)
		}
	}
	var err error
	f.Booked, err = json.Marshal(booked)
	return err
}

// Undo takes a file back: its lines count no more, and what was booked out of stock with it lies there again. Undone
// before, it changes nothing.
func (s *Service) Undo(ctx context.Context, file string) error {
	sh, err := s.shops.Current(ctx)
	if err != nil {
		return err
	}
	f, err := s.store.SaleFile(ctx, sh.ID, file)
	if err != nil || f.UndoneAt != nil {
		return err
	}
	var booked []string
	if f.Booked != nil {
		if err := json.Unmarshal(f.Booked, &booked); err != nil {
			return err
		}
	}
	for _, id := range booked { // twice changes nothing: what is cut short can be done again
		if err := s.goods.Undo(ctx, store.NewID(), id); err != nil {
			return err
		}
	}
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		return audit.Change{Action: "sales.undone", Subject: f.PublicID, SubjectName: f.Name},
			tx.UndoSales(ctx, f, s.now())
	})
}

// Means remembers what a till means by a name: a product, or with an empty key something that is not of the counter.
func (s *Service) Means(ctx context.Context, said, key string) error {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return err
	}
	said = strings.Join(strings.Fields(said), " ")
	var faults fault.List
	faults.Add("said", fault.Text(said, 80, true))
	products, err := s.goods.Products(ctx, sh)
	if err != nil {
		return err
	}
	if _, ok := products[key]; key != "" && !ok {
		faults.Add("product_key", fault.New("", "unknown", "is no product of this shop", "Choose one of the list."))
	}
	if err := faults.Err(); err != nil {
		return err
	}
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		return audit.Change{Action: "sales.named", Subject: key, SubjectName: products[key].Name,
				Became: map[string]any{"said": said}},
			tx.SetSaleName(ctx, store.SaleName{ShopID: sh.ID, Said: said, ProductKey: key})
	})
}
