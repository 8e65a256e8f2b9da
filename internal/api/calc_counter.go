package api

import (
	"context"
	"time"

	"falda/internal/api/contract"
	"falda/internal/core/demand"
	"falda/internal/core/fault"
	"falda/internal/core/label"
	"falda/internal/core/measure"
)

// CalcLabel builds the codes of a label.
func (h *handlers) CalcLabel(_ context.Context, r contract.CalcLabelRequestObject) (contract.CalcLabelResponseObject,
	error) {
	var faults fault.List
	pack := label.Pack{GTIN: r.Body.Gtin, WeightG: r.Body.WeightG, Lot: r.Body.Lot}
	var err error
	if pack.UseBy, err = time.Parse(time.DateOnly, r.Body.UseBy); err != nil {
		pack.UseBy = time.Time{} // refused below, at its field
	}
	elements, err := pack.Elements()
	faults = append(faults, fault.Of(err)...)
	out := contract.LabelCodes{Gs1: label.Text(elements)}
	if in := r.Body.InStore; in != nil {
		number := label.InStore{Prefix: in.Prefix, Item: in.Item, WeightG: in.WeightG}
		if in.Price != nil {
			price, err := measure.ParseNumber(*in.Price)
			faults.Add("in_store.price", err)
			if number.Price = price; err != nil {
				return nil, faults.Err()
			}
		}
		ean, err := number.EAN13(2)
		for _, f := range fault.Of(err) {
			f.Field = "in_store." + f.Field
			faults = append(faults, f)
		}
		out.Ean13 = some(ean)
	}
	if err := faults.Err(); err != nil {
		return nil, err
	}
	return contract.CalcLabel200JSONResponse(out), nil
}

// CalcRateRatio compares how fast two are sold.
func (h *handlers) CalcRateRatio(_ context.Context,
	r contract.CalcRateRatioRequestObject) (contract.CalcRateRatioResponseObject, error) {
	level := 0.95
	if r.Body.Level != nil {
		level = *r.Body.Level
	}
	sold := func(s contract.SoldCount) demand.Sold { return demand.Sold{Count: s.Count, Days: s.Days} }
	out, err := demand.RateRatio(sold(r.Body.A), sold(r.Body.B), level)
	if err != nil {
		return nil, err
	}
	return contract.CalcRateRatio200JSONResponse{Ratio: out.Ratio, Low: out.Low, High: out.High, P: out.P}, nil
}
