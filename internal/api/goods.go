package api

import (
	"context"
	"fmt"
	"net/http"
	"strconv"
	"time"

	"falda/internal/api/contract"
	"falda/internal/core/fault"
	core "falda/internal/core/goods"
	"falda/internal/core/measure"
	"falda/internal/store"
	"falda/internal/work/goods"
)

// VisitExportGoodsResponse writes the file.
func (f file) VisitExportGoodsResponse(w http.ResponseWriter) error { return f.send(w) }

// VisitExportRecallResponse writes the file.
func (f file) VisitExportRecallResponse(w http.ResponseWriter) error { return f.send(w) }

// dayOf is a day that may be missing.
func dayOf(d *time.Time) *string {
	if d == nil || d.IsZero() {
		return nil
	}
	return some(day(*d))
}

func tub(t goods.Tub, today time.Time) contract.Tub {
	out := contract.Tub{Id: t.String(), Key: t.Key, Name: t.Name, Species: t.Species, Form: t.Form,
		Kind: contract.TubKind(t.Kind), MadeOn: day(t.MadeOn), Place: t.Place, LotNumber: some(t.LotNumber),
		LeftG: t.Left.Grams(), UseBy: day(t.UseBy), Over: today.After(t.UseBy), MinceUntil: dayOf(t.MinceUntil),
		SlaughteredFrom: dayOf(t.Slaughtered[0]), SlaughteredTo: dayOf(t.Slaughtered[1]), Parts: len(t.Goods)}
	out.Late = t.MinceUntil != nil && today.After(*t.MinceUntil) && t.Place != "frozen"
	if t.Figures != nil {
		out.AtlasLeanPct, out.LeanPct = some(round(t.Atlas.Lean, 1)), some(round(t.Figures.Lean, 1))
		out.ConnectivePct = some(round(t.Figures.Connective, 2))
	}
	if t.Tests.N > 0 {
		out.Tests = &t.Tests.N
	}
	if t.Sells != nil {
		out.Price, out.PricePer = some(priceText(*t.Sells)), some(contract.TubPricePer(t.Sells.Per))
		out.Value = some(t.Sells.Of(max(0, t.Left)).String())
	}
	if t.Off > 0 {
		out.OffPct = &t.Off
		if t.Price != nil {
			out.FullPrice = some(priceText(*t.Price))
		}
	}
	return out
}

// stock gives what lies in stock, as every booking answers.
func (h *handlers) stock(ctx context.Context) (contract.Stock, error) {
	s, err := h.work.Goods.Stock(ctx)
	out := contract.Stock{From: dayOf(s.From), Today: day(s.Today),
		Tubs:   each(s.Tubs, func(t goods.Tub) contract.Tub { return tub(t, s.Today) }),
		Places: each(core.Places, func(p core.Place) contract.Named { return contract.Named{Id: p.ID, Name: p.Name} })}
	return out, err
}

// ListGoods lists what lies in stock.
func (h *handlers) ListGoods(ctx context.Context, _ contract.ListGoodsRequestObject) (contract.ListGoodsResponseObject,
	error) {
	s, err := h.stock(ctx)
	return contract.ListGoods200JSONResponse(s), err
}

// BeginStock keeps the stock from a day on.
func (h *handlers) BeginStock(ctx context.Context,
	r contract.BeginStockRequestObject) (contract.BeginStockResponseObject, error) {
	if err := h.work.Goods.Begin(ctx, r.Body.Day); err != nil {
		return nil, err
	}
	s, err := h.stock(ctx)
	return contract.BeginStock200JSONResponse(s), err
}

// BookGoods books what becomes of a tub. What goes into a batch is booked there.
func (h *handlers) BookGoods(ctx context.Context, r contract.BookGoodsRequestObject) (contract.BookGoodsResponseObject,
	error) {
	b := r.Body
	if b.Kind == core.Used {
		return nil, fault.New("kind", "unknown", "is booked on the batch that it goes into", "Begin a batch.")
	}
	err := h.work.Goods.Book(ctx, goods.Booking{ID: b.Id, Tub: b.Tub, Kind: b.Kind, Weight: from(b.Weight),
		Unit: from(b.Unit), Count: from(b.Count), Place: from(b.Place), UseBy: from(b.UseBy), Off: from(b.OffPct),
		Note:   from(b.Note),
		Source: from(b.Source), At: from(b.At)})
	if err != nil {
		return nil, err
	}
	s, err := h.stock(ctx)
	return contract.BookGoods200JSONResponse(s), err
}

// UndoGoods takes a booking back. What went into a batch is taken back there.
func (h *handlers) UndoGoods(ctx context.Context, r contract.UndoGoodsRequestObject) (contract.UndoGoodsResponseObject,
	error) {
	if err := h.work.Goods.UndoFree(ctx, r.Body.Id, r.EventId); err != nil {
		return nil, err
	}
	s, err := h.stock(ctx)
	return contract.UndoGoods200JSONResponse(s), err
}

// mark reads where a page of a list begins.
func mark(text *string) (int64, error) {
	if text == nil {
		return 0, nil
	}
	n, err := strconv.ParseInt(*text, 10, 64)
	if err != nil || n < 1 {
		return 0, fault.New("before", "unknown", "is no page of this list", "Leave it out for the first.")
	}
	return n, nil
}

// markOf names where the next page begins.
func markOf(next int64) *string {
	if next == 0 {
		return nil
	}
	return some(strconv.FormatInt(next, 10))
}

// ListGoodsEvents lists the stock log.
func (h *handlers) ListGoodsEvents(ctx context.Context,
	r contract.ListGoodsEventsRequestObject) (contract.ListGoodsEventsResponseObject, error) {
	before, err := mark(r.Params.Before)
	if err != nil {
		return nil, err
	}
	list, next, err := h.work.Goods.Log(ctx, before)
	if err != nil {
		return nil, err
	}
	return contract.ListGoodsEvents200JSONResponse{Next: markOf(next),
		Events: each(list, func(e goods.Entry) contract.GoodsEvent {
			return contract.GoodsEvent{Id: e.Together, Kind: e.Kind, Name: e.Name, MadeOn: dayOf(&e.MadeOn),
				ChangeG: measure.Mass(e.ChangeMg).Grams(), Place: some(e.Place), UseBy: dayOf(e.UseBy), Count: some(e.Count),
				Note: some(e.Note), By: some(e.By), At: e.At, Undone: e.Undone, Batch: some(e.Batch)}
		})}, nil
}

// GoodsBecame adds up what became of the stock.
func (h *handlers) GoodsBecame(ctx context.Context,
	r contract.GoodsBecameRequestObject) (contract.GoodsBecameResponseObject, error) {
	days := 7
	if r.Params.Days != nil {
		days = *r.Params.Days
	}
	list, err := h.work.Goods.Became(ctx, days)
	if err != nil {
		return nil, err
	}
	worth := func(m *measure.Money) *string {
		if m == nil {
			return nil
		}
		return some(m.String())
	}
	return contract.GoodsBecame200JSONResponse(each(list, func(b goods.Became) contract.GoodsBecame {
		return contract.GoodsBecame{Key: b.Key, Name: b.Name, Species: b.Species, SoldG: b.Sold.Grams(),
			WastedG: b.Wasted.Grams(), UsedG: b.Used.Grams(), DifferenceG: b.Diff.Grams(), WastedWorth: worth(b.WastedWorth),
			DifferenceWorth: worth(b.DiffWorth)}
	})), nil
}

// GoodsColumns head the list of what lies in stock.
var GoodsColumns = []string{"product", "key", "kind", "made_on", "place", "lot_number", "kg", "use_by", "mince_until",
	"slaughtered_from", "slaughtered_to", "lean_pct", "connective_pct"}

// ExportGoods gives what lies in stock as a table.
func (h *handlers) ExportGoods(ctx context.Context,
	r contract.ExportGoodsRequestObject) (contract.ExportGoodsResponseObject, error) {
	if err := tableFormat(r.Params.Format); err != nil {
		return nil, err
	}
	s, err := h.stock(ctx)
	if err != nil {
		return nil, err
	}
	return file{r.Params.Format, "stock-" + s.Today, "Stock", GoodsColumns, func(put func([]string) error) error {
		for _, t := range s.Tubs {
			row := []string{t.Name, t.Key, string(t.Kind), t.MadeOn, t.Place, from(t.LotNumber), kilos(t.LeftG), t.UseBy,
				from(t.MinceUntil), from(t.SlaughteredFrom), from(t.SlaughteredTo), figure(t.LeanPct), figure(t.ConnectivePct)}
			if err := put(row); err != nil {
				return err
			}
		}
		return nil
	}, h.log}, nil
}

// kilos is a mass of grams in kilograms, as files say it.
func kilos(g float64) string { return fmt.Sprintf("%.3f", g/1000) }

func figure(v *float64) string {
	if v == nil {
		return ""
	}
	return strconv.FormatFloat(*v, 'f', -1, 64)
}

// ListFatTests lists how lean tubs were found to be.
func (h *handlers) ListFatTests(ctx context.Context,
	_ contract.ListFatTestsRequestObject) (contract.ListFatTestsResponseObject, error) {
	list, err := h.work.Goods.FatTests(ctx)
	if err != nil {
		return nil, err
	}
	names, err := h.productNames(ctx)
	if err != nil {
		return nil, err
	}
	return contract.ListFatTests200JSONResponse(each(list, func(t store.FatTest) contract.FatTest {
		return contract.FatTest{Id: t.PublicID, Key: t.ProductKey, Name: names[t.ProductKey], MadeOn: day(t.MadeOn),
			LeanPct: t.LeanPct, AtlasPct: round(t.AtlasPct, 1), Note: some(t.Note), At: t.At}
	})), nil
}

// AddFatTest enters how lean a tub was found to be.
func (h *handlers) AddFatTest(ctx context.Context,
	r contract.AddFatTestRequestObject) (contract.AddFatTestResponseObject, error) {
	err := h.work.Goods.TestFat(ctx,
		goods.NewFatTest{ID: r.Body.Id, Tub: r.Body.Tub, Lean: r.Body.LeanPct, Note: from(r.Body.Note)})
	if err != nil {
		return nil, err
	}
	s, err := h.stock(ctx)
	return contract.AddFatTest200JSONResponse(s), err
}

// DropFatTest takes a test away.
func (h *handlers) DropFatTest(ctx context.Context,
	r contract.DropFatTestRequestObject) (contract.DropFatTestResponseObject, error) {
	if err := h.work.Goods.DropFatTest(ctx, r.FatTestId); err != nil {
		return nil, err
	}
	return contract.DropFatTest204Response{}, nil
}

func traceStep(x goods.Step) contract.TraceStep {
	out := contract.TraceStep{Name: x.Tub.Name, Kind: contract.TraceStepKind(x.Goods.Kind), MadeOn: day(x.Goods.MadeOn),
		Place: x.Goods.Place, UseBy: some(day(x.Goods.UseBy)), MadeG: measure.Mass(x.Goods.MadeMg).Grams(),
		LeftG: measure.Mass(x.Goods.LeftMg).Grams()}
	if x.Used != 0 {
		out.UsedG = some(x.Used.Grams())
	}
	if o := x.Origin; o != nil {
		out.Lot, out.LotNumber, out.Supplier, out.Piece = some(o.LotPublic), some(o.LotNumber), some(o.Supplier),
			some(o.PiecePublic)
		out.SlaughteredOn = some(day(o.SlaughteredOn))
	}
	if x.Making != nil {
		out.Batch, out.LotNumber = some(x.Making.PublicID), some(x.Making.LotNumber)
	}
	return out
}

func (h *handlers) recall(ctx context.Context, lot string) (contract.Recall, error) {
	r, err := h.work.Goods.Recall(ctx, lot)
	return contract.Recall{LotNumber: r.LotNumber, Cut: each(r.Cut, traceStep), Made: each(r.Made, traceStep)}, err
}

// RecallLot finds all that anything of a lot may be in.
func (h *handlers) RecallLot(ctx context.Context, r contract.RecallLotRequestObject) (contract.RecallLotResponseObject,
	error) {
	out, err := h.recall(ctx, r.LotId)
	return contract.RecallLot200JSONResponse(out), err
}

// RecallColumns head the list of a recall.
var RecallColumns = []string{"lot_number", "what", "kind", "made_on", "batch_or_lot", "place", "use_by", "made_kg",
	"left_kg"}

// ExportRecall gives the same as a table.
func (h *handlers) ExportRecall(ctx context.Context,
	r contract.ExportRecallRequestObject) (contract.ExportRecallResponseObject, error) {
	if err := tableFormat(r.Params.Format); err != nil {
		return nil, err
	}
	out, err := h.recall(ctx, r.LotId)
	if err != nil {
		return nil, err
	}
	return file{r.Params.Format, "recall-" + out.LotNumber, "Recall", RecallColumns, func(put func([]string) error) error {
		for _, x := range append(out.Cut, out.Made...) {
			row := []string{out.LotNumber, x.Name, string(x.Kind), x.MadeOn, from(x.LotNumber), x.Place, from(x.UseBy),
				kilos(x.MadeG), kilos(x.LeftG)}
			if err := put(row); err != nil {
				return err
			}
		}
		return nil
	}, h.log}, nil
}
