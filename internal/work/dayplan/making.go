package dayplan

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"falda/internal/core/fault"
	"falda/internal/core/schedule"
	"falda/internal/core/words"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/shop"
)

// Ask is how a day is to be laid out.
type Ask struct {
	Day     string
	Posts   []Post
	Rules   Rules
	Pieces  []string          // public ids; all that are ready and have a plan where empty
	Pins    map[string]string // piece → bench
	Version int               // of the plan that is laid out anew; 0 where there is none
}

// maxCleaning bounds the minutes of the rules.
const maxCleaning = 120

// day reads a day; today where it is empty.
func (s *Service) day(sh shop.WithPlans, text string) (time.Time, error) {
	today := sh.Day(s.now())
	if text == "" {
		return today, nil
	}
	day, err := time.Parse(time.DateOnly, text)
	if err != nil {
		return day, fault.New("day", "not_a_day", "is not a day", "Write it as 2026-12-03.")
	}
	if day.Before(today.AddDate(-1, 0, 0)) || day.After(today.AddDate(0, 1, 0)) {
		return day, fault.New("day", "out_of_range", "is more than a year past or a month ahead", "Choose another day.")
	}
	return day, nil
}

// Make lays a day out and keeps it; what was begun of a plan before it stays where it was.
func (s *Service) Make(ctx context.Context, in Ask, stop schedule.Stop) (View, error) {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return View{}, err
	}
	day, err := s.day(sh, in.Day)
	if err != nil {
		return View{}, err
	}
	if day.Before(sh.Day(s.now())) {
		return View{}, fault.New("day", "past", "has passed", "Choose today or a day to come.")
	}
	if err := s.check(ctx, sh, in); err != nil {
		return View{}, err
	}
	row, err := s.store.DayPlan(ctx, sh.ID, day)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return View{}, err
	}
	var was body
	if row.Version > 0 {
		if err := json.Unmarshal(row.Body, &was); err != nil {
			return View{}, err
		}
	}
	l, err := s.lay(ctx, sh, day, in, was)
	if err != nil {
		return View{}, err
	}
	plan, err := schedule.Solve(l.problem, stop)
	if err != nil {
		return View{}, err
	}
	b := l.keep(plan)
	row.ShopID, row.Day, row.Version, row.MadeAt = sh.ID, day, in.Version, s.now()
	if row.Body, err = json.Marshal(b); err != nil {
		return View{}, err
	}
	err = s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		return audit.Change{Action: "day.planned", Subject: day.Format(time.DateOnly),
			Became: map[string]any{"pieces": len(b.Slots), "finish": b.Finish.Format(time.RFC3339)}}, tx.SaveDayPlan(ctx, row)
	})
	if err != nil {
		return View{}, err
	}
	return s.Day(ctx, in.Day)
}

// check holds what was asked against what there is.
func (s *Service) check(ctx context.Context, sh shop.WithPlans, in Ask) error {
	here, err := s.who(ctx, sh.ID)
	if err != nil {
		return err
	}
	var faults fault.List
	for i, p := range in.Posts {
		at := fmt.Sprintf("posts[%d].", i)
		if here.name(p.Bench) == "" {
			faults.Add(at+"bench_id", fault.New("", "unknown", "is no bench that is in use", "Choose one of the list."))
		}
		if p.Cutter != "" && here.name(p.Cutter) == "" {
			faults.Add(at+"cutter_id", fault.New("", "unknown", "is nobody of this shop", "Choose one of the list."))
		}
	}
	for _, r := range []struct {
		field   string
		minutes int
	}{{"clean", in.Rules.Clean}, {"clean_saw", in.Rules.CleanSaw}, {"wash", in.Rules.Wash}} {
		if r.minutes < 0 || r.minutes > maxCleaning {
			faults.Add("rules."+r.field, fault.New("", "out_of_range", fmt.Sprintf("must be from 0 to %d minutes", maxCleaning),
				"Enter how long it takes."))
		}
	}
	return faults.Err()
}

// keep puts a plan of the core into the words of the shop.
func (l *layout) keep(plan schedule.Plan) body {
	at := func(seconds int) time.Time { return l.zero.Add(time.Duration(seconds) * time.Second) }
	b := body{Posts: l.ask.Posts, Rules: l.ask.Rules, Pins: l.ask.Pins, Slots: l.before, Orders: l.due,
		Overtime: plan.Cost.Overtime, Proven: plan.Proven}
	for _, x := range plan.Slots {
		b.Slots = append(b.Slots, l.planned(x))
	}
	if len(plan.Slots) > 0 {
		b.Finish, b.Sooner = at(plan.Cost.Finish), at(plan.Bound.Finish)
	}
	for i, ready := range plan.Ready {
		if ready > 0 {
			b.Orders[i].Ready = at(ready)
		}
	}
	return b
}

// Drop takes the plan of a day away.
func (s *Service) Drop(ctx context.Context, text string, version int) error {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return err
	}
	day, err := s.day(sh, text)
	if err != nil {
		return err
	}
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		return audit.Change{Action: "day.dropped", Subject: day.Format(time.DateOnly)},
			tx.DropDayPlan(ctx, sh.ID, day, version)
	})
}

// Late says whether an order is ready after it is due.
func (d Due) Late() bool { return d.Ready.After(d.Due) }

// say puts the plan into a sentence, and what one should know of it into notes.
func (v *View) say(sh shop.WithPlans) {
	clock := func(t time.Time) string { return sh.Local(t).Format("15:04") }
	pieces, left, behind, otherwise := 0, 0, 0, 0
	for _, p := range v.Posts {
		for _, x := range p.Slots {
			if pieces++; x.Status == Waits || x.Status == Behind || x.Status == Cutting {
				left++
			}
			behind = max(behind, x.BehindMin)
			if (x.Status == Waits || x.Status == Behind) && x.Card.Plan.ID != x.Plan {
				otherwise++
			}
		}
	}
	late := []string{}
	for _, o := range v.Orders {
		if o.Late() {
			late = append(late, fmt.Sprintf("%s (%s, due %s, ready %s)", o.Number, o.Customer, clock(o.Due), clock(o.Ready)))
		}
		if len(o.Short) > 0 {
			v.Notes = append(v.Notes, fmt.Sprintf("%s, %s: nothing planned gives %s.", o.Number, o.Customer,
				strings.Join(o.Short, ", ")))
		}
	}
	switch {
	case left == 0:
		v.Sentence = fmt.Sprintf("%s, all done.", words.Count(pieces, "piece", "pieces"))
	case left == pieces:
		v.Sentence = fmt.Sprintf("%s, done at %s.", words.Count(pieces, "piece", "pieces"), clock(v.Finish))
	default:
		v.Sentence = fmt.Sprintf("%d of %s to go, done at %s.", left, words.Count(pieces, "piece", "pieces"), clock(v.Finish))
	}
	switch {
	case len(late) > 0:
		v.Sentence += " Late: " + strings.Join(late, "; ") + "."
	case len(v.Orders) > 0:
		v.Sentence += " Every order is in time."
	}
	if v.Overtime > 0 {
		v.Notes = append(v.Notes, fmt.Sprintf("%.0f minutes of it are after hours.", v.Overtime.Minutes()))
	}
	if behind >= behindMinutes {
		v.Notes = append(v.Notes, fmt.Sprintf("The work is %d minutes behind. Plan what is left anew.", behind))
	}
	if otherwise > 0 {
		v.Notes = append(v.Notes, words.Count(otherwise, "piece has another plan since;", "pieces have another plan since;")+
			" lay out anew what is left.")
	}
	if !v.Proven && !v.Sooner.IsZero() {
		v.Notes = append(v.Notes, fmt.Sprintf("Found in the time there was; no plan is done before %s.", clock(v.Sooner)))
	}
}

// behindMinutes is from how many minutes on a plan counts as behind.
const behindMinutes = 10
