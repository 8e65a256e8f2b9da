package api

import (
	"bytes"
	"context"
	"log/slog"
	"strings"
	"time"

	"falda/internal/work/pricing"
	"falda/internal/work/stock"

	contractfile "falda/api"
	"falda/internal/api/contract"
	"falda/internal/core/fault"
	"falda/internal/core/seam"
	"falda/internal/core/value"
	"falda/internal/device"
	"falda/internal/work"
)

type handlers struct {
	work    *work.Rooms
	scales  Scales
	probes  Probes
	feed    *device.Feed
	demo    bool
	metrics *Metrics
	log     *slog.Logger
	streams streams
}

var _ contract.StrictServerInterface = (*handlers)(nil)

func (h *handlers) GetContract(context.Context, contract.GetContractRequestObject) (contract.GetContractResponseObject, error) {
	return contract.GetContract200ApplicationyamlResponse{Body: bytes.NewReader(contractfile.Contract), ContentLength: int64(len(contractfile.Contract))}, nil
}

func (h *handlers) GetShop(ctx context.Context, _ contract.GetShopRequestObject) (contract.GetShopResponseObject, error) {
	v, err := h.work.Shop.Shop(ctx)
	if err != nil {
		return nil, err
	}
	return contract.GetShop200JSONResponse(h.shop(v)), nil
}

func (h *handlers) Forecast(ctx context.Context, r contract.ForecastRequestObject) (contract.ForecastResponseObject, error) {
	b := r.Body
	f, err := h.work.Compare.Forecast(ctx, stock.Arrival{AtlasID: b.AtlasId, Pieces: b.Pieces, Weight: b.Weight, WeightUnit: string(b.WeightUnit), Price: b.Price,
		PricePer: string(b.PricePer), SlaughteredOn: from(b.SlaughteredOn), PackedOn: from(b.PackedOn), Findings: from(b.Findings), Weights: from(b.Weights), Decided: from(b.Decided),
		Bone: from(b.Bone), Feed: from(b.Feed), Sex: from(b.Sex), AgeClass: from(b.AgeClass), Hang: from(b.Hang), FatClass: from(b.FatClass), Marbling: from(b.Marbling),
		SupplierGrade: from(b.SupplierGrade), Ph: from(b.Ph), TemperatureC: from(b.TemperatureC)})
	if err != nil {
		return nil, err
	}
	return contract.Forecast200JSONResponse(forecast(f)), nil
}

func (h *handlers) ListLots(ctx context.Context, _ contract.ListLotsRequestObject) (contract.ListLotsResponseObject, error) {
	lots, err := h.work.Stock.Lots(ctx)
	if err != nil {
		return nil, err
	}
	return contract.ListLots200JSONResponse{Lots: each(lots, h.lot)}, nil
}

func (h *handlers) ReceiveLot(ctx context.Context, r contract.ReceiveLotRequestObject) (contract.ReceiveLotResponseObject, error) {
	v, err := h.work.Stock.Receive(ctx, arrived(r.Body))
	if err != nil {
		return nil, err
	}
	return contract.ReceiveLot201JSONResponse(h.lot(v)), nil
}

func (h *handlers) ListPieces(ctx context.Context, _ contract.ListPiecesRequestObject) (contract.ListPiecesResponseObject, error) {
	cards, err := h.work.Stock.Rail(ctx)
	if err != nil {
		return nil, err
	}
	return contract.ListPieces200JSONResponse(each(cards, card)), nil
}

func (h *handlers) GetPiece(ctx context.Context, r contract.GetPieceRequestObject) (contract.GetPieceResponseObject, error) {
	v, err := h.work.Compare.Piece(ctx, r.PieceId)
	if err != nil {
		return nil, err
	}
	return contract.GetPiece200JSONResponse(h.pieceDetail(v)), nil
}

func (h *handlers) ChoosePlan(ctx context.Context, r contract.ChoosePlanRequestObject) (contract.ChoosePlanResponseObject, error) {
	pick := stock.PlanPick{PlanID: r.Body.PlanId, Options: from(r.Body.Options)}
	if err := h.work.Stock.ChoosePlan(ctx, r.PieceId, pick, r.Body.Version); err != nil {
		return nil, err
	}
	v, err := h.work.Compare.Piece(ctx, r.PieceId)
	if err != nil {
		return nil, err
	}
	return contract.ChoosePlan200JSONResponse(h.pieceDetail(v)), nil
}

func (h *handlers) StartBreakdown(ctx context.Context, r contract.StartBreakdownRequestObject) (contract.StartBreakdownResponseObject, error) {
	v, err := h.work.Bench.StartBreakdown(ctx, r.PieceId, r.Body.BenchId)
	if err != nil {
		return nil, err
	}
	board, err := h.boardWithDoubts(ctx, v)
	return contract.StartBreakdown200JSONResponse(board), err
}

func (h *handlers) GetBoard(ctx context.Context, r contract.GetBoardRequestObject) (contract.GetBoardResponseObject, error) {
	if r.Params.Upto != nil {
		v, err := h.work.Bench.BoardThen(ctx, r.BreakdownId, *r.Params.Upto)
		if err != nil {
			return nil, err
		}
		board, err := h.boardWithDoubts(ctx, v)
		return contract.GetBoard200JSONResponse(board), err
	}
	v, err := h.work.Bench.Board(ctx, r.BreakdownId)
	if err != nil {
		return nil, err
	}
	board, err := h.boardWithDoubts(ctx, v)
	return contract.GetBoard200JSONResponse(board), err
}

func (h *handlers) ListEvents(ctx context.Context, r contract.ListEventsRequestObject) (contract.ListEventsResponseObject, error) {
	log, err := h.work.Bench.Log(ctx, r.BreakdownId)
	if err != nil {
		return nil, err
	}
	return contract.ListEvents200JSONResponse(each(log, logged)), nil
}

func (h *handlers) BookEvent(ctx context.Context, r contract.BookEventRequestObject) (contract.BookEventResponseObject, error) {
	e, err := event(*r.Body)
	if err != nil {
		return nil, err
	}
	v, err := h.work.Bench.Book(ctx, r.BreakdownId, e)
	if err != nil {
		return nil, err
	}
	return contract.BookEvent200JSONResponse(h.board(v)), nil
}

func (h *handlers) GetJudgement(ctx context.Context, r contract.GetJudgementRequestObject) (contract.GetJudgementResponseObject, error) {
	j, err := h.work.Judge.Judge(ctx, r.BreakdownId)
	if err != nil {
		return nil, err
	}
	return contract.GetJudgement200JSONResponse(judgement(j)), nil
}

func (h *handlers) ConfirmJudgement(ctx context.Context, r contract.ConfirmJudgementRequestObject) (contract.ConfirmJudgementResponseObject, error) {
	j, err := h.work.Judge.ConfirmJudgement(ctx, r.BreakdownId)
	if err != nil {
		return nil, err
	}
	return contract.ConfirmJudgement200JSONResponse(judgement(j)), nil
}

func (h *handlers) ChooseMethod(ctx context.Context, r contract.ChooseMethodRequestObject) (contract.ChooseMethodResponseObject, error) {
	j, err := h.work.Judge.ChooseMethod(ctx, r.BreakdownId, r.PartId, r.Body.Method, r.Body.Note, r.Body.Version)
	if err != nil {
		return nil, err
	}
	return contract.ChooseMethod200JSONResponse(judgement(j)), nil
}

func (h *handlers) GetComparison(ctx context.Context, r contract.GetComparisonRequestObject) (contract.GetComparisonResponseObject, error) {
	c, err := h.work.Compare.Compare(ctx, r.BreakdownId, from(r.Params.Against), from(r.Params.Today), value.Method(from(r.Params.Method)))
	if err != nil {
		return nil, err
	}
	return contract.GetComparison200JSONResponse(comparison(c)), nil
}

func (h *handlers) ListPrices(ctx context.Context, _ contract.ListPricesRequestObject) (contract.ListPricesResponseObject, error) {
	rows, err := h.work.Pricing.Prices(ctx)
	if err != nil {
		return nil, err
	}
	return contract.ListPrices200JSONResponse(each(rows, price)), nil
}

func (h *handlers) SetPrice(ctx context.Context, r contract.SetPriceRequestObject) (contract.SetPriceResponseObject, error) {
	row, err := h.work.Pricing.SetPrice(ctx, r.ProductKey, r.Body.Price, string(r.Body.Per), r.Body.Version)
	if err != nil {
		return nil, err
	}
	return contract.SetPrice200JSONResponse(price(row)), nil
}

func (h *handlers) ExportPrices(ctx context.Context, r contract.ExportPricesRequestObject) (contract.ExportPricesResponseObject, error) {
	if err := tableFormat(r.Params.Format); err != nil {
		return nil, err
	}
	rows, err := h.work.Pricing.PriceList(ctx)
	if err != nil {
		return nil, err
	}
	return file{r.Params.Format, "prices-" + h.work.Now().Format(time.DateOnly), "Prices", pricing.PriceColumns, func(put func([]string) error) error {
		for _, row := range rows {
			if err := put(row); err != nil {
				return err
			}
		}
		return nil
	}, h.log}, nil
}

func (h *handlers) ImportPrices(ctx context.Context, r contract.ImportPricesRequestObject) (contract.ImportPricesResponseObject, error) {
	rows, err := readTable(ctx, r.Body)
	if err != nil {
		return nil, err
	}
	out, err := h.priceImport(ctx, rows, from(r.Params.Save), false)
	return contract.ImportPrices200JSONResponse(out), err
}

func priceLine(l pricing.PriceLine) contract.PriceLine {
	out := contract.PriceLine{Line: l.Line, Product: l.Named, Price: l.Typed, State: contract.PriceLineState(l.State)}
	if l.Product.Key != "" {
		out.Key, out.Product = &l.Product.Key, l.Product.Name
	}
	if l.Quote != nil {
		out.Where, out.Was, out.Per = some(l.Where), some(l.Was), some(l.Quote.Per)
		out.Price = l.Shown
		return out
	}
	if l.Product.Version > 0 {
		out.Was = some(priceText(l.Product.Price) + " per " + string(l.Product.Price.Per))
	}
	if f := fault.Of(l.Fault); f != nil {
		out.Fault = some(strings.TrimSpace(f[0].Message + ". " + f[0].WayOut))
		return out
	}
	out.Price, out.Per = priceText(l.Price), some(string(l.Price.Per))
	return out
}

// event reads a bench event. Weights that are not numbers a scale could show are faults of their fields.
func event(b contract.BenchEvent) (seam.Event, error) {
	var faults fault.List
	mass := massField(&faults)
	e := seam.Event{ID: b.Id, Kind: seam.Kind(b.Kind), At: b.At, Bench: b.BenchId, By: from(b.By), Node: from(b.Node), Part: from(b.Part), Product: from(b.Product),
		Net: mass("net_g", b.NetG), Gross: mass("gross_g", b.GrossG), Tare: mass("tare_g", b.TareG), Division: mass("division_g", b.DivisionG),
		Source: string(from(b.Source)), Count: from(b.Count), Target: from(b.Target), Reason: from(b.Reason), Note: from(b.Note), Minutes: b.Minutes, TempC: b.TempC}
	return e, faults.Err()
}
