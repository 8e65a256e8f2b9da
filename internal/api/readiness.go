package api

import (
	"context"
	"fmt"
	"strings"

	"falda/internal/work/stock"

	ics "github.com/arran4/golang-ical"

	"falda/internal/api/contract"
	"falda/internal/core/age"
	"falda/internal/core/words"
)

func (h *handlers) GetReadiness(ctx context.Context,
	r contract.GetReadinessRequestObject) (contract.GetReadinessResponseObject, error) {
	list, err := h.work.Stock.Readiness(ctx, from(r.Params.After))
	if err != nil {
		return nil, err
	}
	return contract.GetReadiness200JSONResponse{Pieces: each(list.Pieces, readyPiece), Next: some(list.Next)}, nil
}

func readyPiece(r stock.ReadyPiece) contract.ReadyPiece {
	return contract.ReadyPiece{Card: card(r.Card), MinceUntil: day(r.MinceUntil), MincePast: r.MincePast,
		MinceRule: r.MinceRule, Plans: each(r.Plans, func(p stock.ReadyPlan) contract.ReadyPlan {
			return contract.ReadyPlan{Id: p.Plan.ID, Name: p.Plan.Name, Chosen: p.Chosen, Ready: p.Ready,
				ReadyOn: day(p.ReadyOn), WaitsFor: tooYoung(p.Readiness)}
		})}
}

func tooYoung(r age.Readiness) []string {
	out := []string{}
	for _, m := range r.Muscles {
		if !m.Ready {
			out = append(out, m.Name)
		}
	}
	return out
}

// maxInCalendar is how many pieces the calendar holds: those that came in first.
const maxInCalendar = 500

// GetReadinessCalendar gives, for each piece, the day on which it is ready for its plan (or for the first of the others
// where none is chosen), and the last day on which it may be minced.
func (h *handlers) GetReadinessCalendar(ctx context.Context,
	_ contract.GetReadinessCalendarRequestObject) (contract.GetReadinessCalendarResponseObject, error) {
	list, err := h.work.Stock.ReadyAtOnce(ctx, maxInCalendar)
	if err != nil {
		return nil, err
	}
	shop, err := h.work.Shop.Shop(ctx)
	if err != nil {
		return nil, err
	}
	cal := ics.NewCalendarFor("-//Falda//Readiness//EN")
	cal.SetMethod(ics.MethodPublish)
	cal.SetName(shop.Shop.Name + ": ready to cut")
	for _, r := range list {
		c := r.Card
		what := fmt.Sprintf("%s, %s / %d", c.Piece.NameIn(shop.Shop.Market), c.Row.Lot.LotNumber, c.Row.Piece.Number)
		plan := r.Plans[0]
		for _, p := range r.Plans {
			if p.Chosen {
				plan = p
			}
		}
		ready := cal.AddEvent(c.Row.Piece.PublicID + "-ready@falda")
		ready.SetDtStampTime(h.work.Now())
		ready.SetAllDayStartAt(plan.ReadyOn)
		ready.SetAllDayEndAt(plan.ReadyOn.AddDate(0, 0, 1))
		ready.SetSummary("Ready: " + what)
		ready.SetDescription(fmt.Sprintf("%s. %s", plan.Plan.Name, strings.TrimSpace(words.Ready(plan.Readiness))))
		mince := cal.AddEvent(c.Row.Piece.PublicID + "-mince@falda")
		mince.SetDtStampTime(h.work.Now())
		mince.SetAllDayStartAt(r.MinceUntil)
		mince.SetAllDayEndAt(r.MinceUntil.AddDate(0, 0, 1))
		mince.SetSummary("Last day for mince: " + what)
		mince.SetDescription(r.MinceRule + "; check your local rules.")
	}
	text := cal.Serialize()
	return contract.GetReadinessCalendar200TextcalendarResponse{Body: strings.NewReader(text),
		ContentLength: int64(len(text))}, nil
}
