package api

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"time"

	ics "github.com/arran4/golang-ical"

	"falda/internal/api/contract"
	"falda/internal/core/fault"
	"falda/internal/core/schedule"
	"falda/internal/paper"
	"falda/internal/work/dayplan"
	"falda/internal/work/shop"
)

func dayView(sh shop.Shop, v dayplan.View) contract.DayView {
	out := contract.DayView{Day: day(v.Day), Now: v.Now, MadeAt: v.Made, Version: v.Version, Planless: v.Planless,
		Rules: contract.DayRules{Clean: v.Rules.Clean, CleanSaw: v.Rules.CleanSaw, Wash: v.Rules.Wash},
		Pins:  v.Pins, Open: each(v.Open, card), Benches: each(v.Benches, namedOf), Cutters: each(v.Cutters, namedOf),
		Proven: v.Proven, Sentence: v.Sentence, Notes: texts(v.Notes), OvertimeMin: round(v.Overtime.Minutes(), 0)}
	if out.Pins == nil {
		out.Pins = map[string]string{}
	}
	if !v.Finish.IsZero() {
		out.Finish, out.Sooner = &v.Finish, &v.Sooner
	}
	out.Orders = each(v.Orders, func(d dayplan.Due) contract.DayOrder {
		x := contract.DayOrder{Number: d.Number, Customer: d.Customer, Due: d.Due, Late: d.Late(), Short: texts(d.Short)}
		if !d.Ready.IsZero() {
			x.Ready = &d.Ready
		}
		return x
	})
	out.Posts = each(v.Posts, func(p dayplan.PostView) contract.DayPostView { return dayPost(sh, v.Day, p) })
	return out
}

func namedOf(n dayplan.Named) contract.Named { return contract.Named{Id: n.ID, Name: n.Name} }

func dayPost(sh shop.Shop, on time.Time, p dayplan.PostView) contract.DayPostView {
	at := func(clock string) time.Time {
		t, _ := time.Parse("15:04", clock) // it was read when it was kept
		return sh.At(on, t)
	}
	out := contract.DayPostView{BenchId: p.Bench, Bench: p.BenchName, CutterId: some(p.Cutter), Cutter: some(p.CutterName),
		From: p.From, To: p.To, Begins: at(p.From), Ends: at(p.To), Breaks: []contract.DaySpan{},
		Pauses: []contract.DayPause{}, Slots: each(p.Slots, daySlot)}
	for _, b := range p.Pauses {
		out.Pauses = append(out.Pauses, contract.DayPause{From: b.From, To: b.To})
		out.Breaks = append(out.Breaks, contract.DaySpan{From: at(b.From), To: at(b.To)})
	}
	return out
}

func daySlot(x dayplan.SlotView) contract.DaySlot {
	out := contract.DaySlot{Piece: card(x.Card), From: x.From, To: x.To, CleanFrom: x.CleanFrom,
		Status: contract.DaySlotStatus(x.Status), BehindMin: x.BehindMin, BeganAt: x.Began, EndedAt: x.Ended,
		Orders: texts(x.Orders), Allergen: x.Allergen, Before: x.Before, CleanedSaw: some(x.CleanedSaw)}
	if x.SawTo.After(x.SawFrom) {
		out.SawFrom, out.SawTo = &x.SawFrom, &x.SawTo
	}
	return out
}

// GetDay gives a day.
func (h *handlers) GetDay(ctx context.Context, r contract.GetDayRequestObject) (contract.GetDayResponseObject, error) {
	sh, err := h.work.Shop.Current(ctx)
	if err != nil {
		return nil, err
	}
	v, err := h.work.Dayplan.Day(ctx, from(r.Params.Day))
	if err != nil {
		return nil, err
	}
	return contract.GetDay200JSONResponse(dayView(sh, v)), nil
}

// PlanDay lays a day out.
func (h *handlers) PlanDay(ctx context.Context, r contract.PlanDayRequestObject) (contract.PlanDayResponseObject,
	error) {
	_, stop, done, err := h.work.Compare.Solving(ctx)
	if err != nil {
		return nil, err
	}
	defer done()
	b := r.Body
	in := dayplan.Ask{Day: from(b.Day), Pieces: from(b.Pieces), Pins: from(b.Pins), Version: from(b.Version),
		Rules: dayplan.Rules{Clean: b.Rules.Clean, CleanSaw: b.Rules.CleanSaw, Wash: b.Rules.Wash}}
	for _, p := range b.Posts {
		post := dayplan.Post{Bench: p.BenchId, Cutter: from(p.CutterId), From: p.From, To: p.To}
		for _, x := range from(p.Pauses) {
			post.Pauses = append(post.Pauses, dayplan.Pause{From: x.From, To: x.To})
		}
		in.Posts = append(in.Posts, post)
	}
	sh, err := h.work.Shop.Current(ctx)
	if err != nil {
		return nil, err
	}
	v, err := h.work.Dayplan.Make(ctx, in, schedule.Stop(stop))
	if err != nil {
		return nil, err
	}
	return contract.PlanDay200JSONResponse(dayView(sh, v)), nil
}

// DropDay takes the plan of a day away.
func (h *handlers) DropDay(ctx context.Context, r contract.DropDayRequestObject) (contract.DropDayResponseObject,
	error) {
	if err := h.work.Dayplan.Drop(ctx, from(r.Params.Day), r.Params.Version); err != nil {
		return nil, err
	}
	return contract.DropDay204Response{}, nil
}

// DayColumns heads the plan of a day as a table.
var DayColumns = []string{"bench", "cutter", "from", "to", "saw_from", "saw_to", "piece", "lot", "number", "kg", "plan",
	"orders", "allergen", "status"}

// VisitExportDayResponse writes the file.
func (f file) VisitExportDayResponse(w http.ResponseWriter) error { return f.send(w) }

// ExportDay gives the plan of a day as a file.
func (h *handlers) ExportDay(ctx context.Context,
	r contract.ExportDayRequestObject) (contract.ExportDayResponseObject, error) {
	sh, err := h.work.Shop.Current(ctx)
	if err != nil {
		return nil, err
	}
	v, err := h.work.Dayplan.Day(ctx, from(r.Params.Day))
	if err != nil {
		return nil, err
	}
	if v.Made == nil {
		return nil, fault.NewConflict("day", "not_planned", "This day is not planned.", "Plan it first.")
	}
	name := "day-" + day(v.Day)
	switch r.Params.Format {
	case "json":
		body, err := json.MarshalIndent(dayView(sh, v), "", "  ")
		return bytesFile{"json", name, body}, err
	case "ics":
		return bytesFile{"ics", name, []byte(h.dayCalendar(sh, v))}, nil
	case "pdf":
		var out bytes.Buffer
		err := paper.WriteWorksheets(&out, "The day", daySheets(sh, v))
		return bytesFile{"pdf", name, out.Bytes()}, err
	case "csv", "xlsx":
		return file{r.Params.Format, name, "Day", DayColumns, dayRows(sh, v), h.log}, nil
	}
	return nil, fault.New("format", "unknown", "is not a format", "Use csv, xlsx, json, ics or pdf.")
}

func dayRows(sh shop.Shop, v dayplan.View) func(put func([]string) error) error {
	clock := func(t time.Time) string { return sh.Local(t).Format("15:04") }
	return func(put func([]string) error) error {
		for _, p := range v.Posts {
			for _, x := range p.Slots {
				saw := []string{"", ""}
				if x.SawTo.After(x.SawFrom) {
					saw = []string{clock(x.SawFrom), clock(x.SawTo)}
				}
				err := put([]string{p.BenchName, p.CutterName, clock(x.From), clock(x.To), saw[0], saw[1], x.Card.Piece.Name,
					x.Card.Row.Lot.LotNumber, fmt.Sprint(x.Card.Row.Piece.Number), kilos(x.Card.Weight.Grams()), x.Card.Plan.Name,
					strings.Join(x.Orders, " "), map[bool]string{true: "yes"}[x.Allergen], string(x.Status)})
				if err != nil {
					return err
				}
			}
		}
		return nil
	}
}

// daySheets is a sheet for each bench.
func daySheets(sh shop.Shop, v dayplan.View) []paper.Worksheet {
	clock := func(t time.Time) string { return sh.Local(t).Format("15:04") }
	var out []paper.Worksheet
	for _, p := range v.Posts {
		s := paper.Worksheet{Shop: sh.Name, Title: p.BenchName + ", " + v.Day.Format("Monday 2 January"),
			Lines: []string{strings.TrimPrefix(p.CutterName+", "+p.From+" to "+p.To, ", ")}, Notes: []string{knifeCaution}}
		for _, b := range p.Pauses {
			s.Lines[0] += ", pause " + b.From + " to " + b.To
		}
		t := paper.WorkTable{Columns: []string{"From", "To", "Piece", "Weight", "Plan", "Saw", "For"},
			Wide: []float64{9, 9, 34, 13, 40, 16, 20}, Right: []bool{false, false, false, true, false, false, false}}
		for _, x := range p.Slots {
			if x.CleanFrom.Before(x.From) {
				t.Rows = append(t.Rows, []string{clock(x.CleanFrom), clock(x.From), "Clean the bench", "", "", "", ""})
			}
			saw := ""
			if x.SawTo.After(x.SawFrom) {
				saw = clock(x.SawFrom) + "–" + clock(x.SawTo)
			}
			what := fmt.Sprintf("%s, %s / %d", x.Card.Piece.NameIn(sh.Market), x.Card.Row.Lot.LotNumber,
				x.Card.Row.Piece.Number)
			plan := x.Card.Plan.Name
			if x.Allergen {
				plan += " (allergen)"
			}
			t.Rows = append(t.Rows, []string{clock(x.From), clock(x.To), what, x.Card.Weight.Text(sh.Unit, 2), plan, saw,
				strings.Join(x.Orders, ", ")})
		}
		s.Tables = []paper.WorkTable{t}
		out = append(out, s)
	}
	return out
}

// dayCalendar is the plan of a day as a calendar.
func (h *handlers) dayCalendar(sh shop.Shop, v dayplan.View) string {
	cal := ics.NewCalendarFor("-//Falda//Day//EN")
	cal.SetMethod(ics.MethodPublish)
	cal.SetName(sh.Name + ": " + v.Day.Format("2 January 2006"))
	for _, p := range v.Posts {
		for _, x := range p.Slots {
			e := cal.AddEvent(x.Piece + "-cut@falda")
			e.SetDtStampTime(h.work.Now())
			e.SetStartAt(x.From)
			e.SetEndAt(x.To)
			e.SetSummary(fmt.Sprintf("%s: %s, %s / %d", p.BenchName, x.Card.Piece.NameIn(sh.Market), x.Card.Row.Lot.LotNumber,
				x.Card.Row.Piece.Number))
			e.SetDescription(x.Card.Plan.Name)
		}
	}
	return cal.Serialize()
}
