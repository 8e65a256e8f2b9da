package api

import (
	"context"
	"errors"
	"fmt"
	"math/big"

	"falda/internal/api/contract"
	"falda/internal/core/blend"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/work/compare"
)

// CalcBlend mixes streams of trim.
func (h *handlers) CalcBlend(ctx context.Context, r contract.CalcBlendRequestObject) (contract.CalcBlendResponseObject,
	error) {
	streams, products, err := readBlend(*r.Body)
	if err != nil {
		return nil, err
	}
	_, stop, done, err := h.work.Compare.Solving(ctx)
	if err != nil {
		return nil, err
	}
	defer done()
	mix, err := blend.Best(streams, products, blend.Stop(stop))
	if err != nil {
		return nil, blendFault(err, "products", "min_kg")
	}
	return contract.CalcBlend200JSONResponse(blendResult(mix)), nil
}

// blendFault says in the words of a question why it has no mix: the list of its products and the field of their least.
func blendFault(err error, list, field string) error {
	var unmet blend.Unmet
	switch {
	case errors.Is(err, blend.ErrStopped):
		return compare.TooHard()
	case errors.As(err, &unmet):
		return fault.New(fmt.Sprintf("%s[%d].%s", list, unmet.Product, field), "infeasible",
			"cannot be met from what there is, beside the products before it", "Ask for less, or allow more into it.")
	}
	return err
}

// kgText is a mass in kilograms to the gram.
func kgText(kg *big.Rat) string { return measure.MoneyFromRat(kg).Text(3) }

// pctText is a percentage to a ten-thousandth; nil where there is none.
func pctText(pct *big.Rat) *string {
	if pct == nil {
		return nil
	}
	return some(measure.MoneyFromRat(pct).Text(4))
}

func blendResult(m blend.Mix) contract.BlendResult {
	out := contract.BlendResult{Value: measure.MoneyFromRat(m.Value).Text(2), Use: []contract.BlendUse{},
		Proven: m.Proven}
	for _, u := range m.Use {
		out.Use = append(out.Use, contract.BlendUse{Stream: u.Stream, Product: u.Product, Kg: kgText(u.Kg)})
	}
	out.Left = each(m.Left,
		func(l blend.Left) contract.BlendLeft { return contract.BlendLeft{Stream: l.Stream, Kg: kgText(l.Kg)} })
	out.Products = each(m.Products, func(p blend.Made) contract.BlendMade {
		return contract.BlendMade{Id: p.ID, Kg: kgText(p.Kg), LeanPct: pctText(p.LeanPct),
			ConnectivePct: pctText(p.ConnectivePct), Batches: some(p.Batches)}
	})
	out.Marginal = each(m.Margins, func(x blend.Margin) contract.BlendMargin {
		return contract.BlendMargin{Stream: x.Stream, PerKg: measure.MoneyFromRat(x.PerKg).Text(measure.PriceDecimals)}
	})
	return out
}

// blendReader reads the figures of a question; faults name them.
type blendReader struct{ faults fault.List }

// number reads a figure between two bounds.
func (b *blendReader) number(field, text string, low, high int64) *big.Rat {
	n, err := measure.ParseNumber(text)
	if err == nil && (n.Cmp(big.NewRat(low, 1)) < 0 || n.Cmp(big.NewRat(high, 1)) > 0) {
		err = fault.New("", "out_of_range", fmt.Sprintf("must be from %d to %d", low, high), "Check the figure.")
	}
	b.faults.Add(field, err)
	if err != nil {
		return new(big.Rat)
	}
	return n
}

// maybe reads a figure that may be left out.
func (b *blendReader) maybe(field string, text *string, low, high int64) *big.Rat {
	if text == nil {
		return nil
	}
	return b.number(field, *text, low, high)
}

// maxBlend is the most kilograms, and the most that one may be worth, that a question may hold.
const maxBlend = 1_000_000

func readBlend(q contract.BlendRequest) (streams []blend.Stream, products []blend.Product, err error) {
	var b blendReader
	tooMany(&b.faults, "streams", len(q.Streams), 40)
	tooMany(&b.faults, "products", len(q.Products), 40)
	seen := map[string]bool{}
	named := func(at, id string) {
		if id == "" || seen[id] {
			b.faults.Add(at+"id", fault.New("", "duplicate", "must be an id of its own", "Name each once."))
		}
		seen[id] = true
	}
	for i, s := range q.Streams {
		at := fmt.Sprintf("streams[%d].", i)
		named(at, s.Id)
		streams = append(streams,
			blend.Stream{ID: s.Id, Kg: b.number(at+"kg", s.Kg, 0, maxBlend), LeanPct: b.number(at+"lean_pct", s.LeanPct, 0, 100),
				ConnectivePct: b.number(at+"connective_pct", s.ConnectivePct, 0, 100),
				WorthPerKg:    b.number(at+"worth_per_kg", s.WorthPerKg, -maxBlend, maxBlend)})
	}
	clear(seen)
	for i, p := range q.Products {
		at := fmt.Sprintf("products[%d].", i)
		named(at, p.Id)
		x := blend.Product{ID: p.Id, LeanMinPct: b.maybe(at+"lean_min_pct", p.LeanMinPct, 0, 100),
			LeanMaxPct:       b.maybe(at+"lean_max_pct", p.LeanMaxPct, 0, 100),
			ConnectiveMaxPct: b.maybe(at+"connective_max_pct", p.ConnectiveMaxPct, 0, 100),
			PricePerKg:       b.number(at+"price_per_kg", p.PricePerKg, -maxBlend, maxBlend),
			MinKg:            b.maybe(at+"min_kg", p.MinKg, 0, maxBlend), MaxKg: b.maybe(at+"max_kg", p.MaxKg, 0, maxBlend),
			BatchKg: b.maybe(at+"batch_kg", p.BatchKg, 0, maxBlend)}
		b.inOrder(at+"lean_max_pct", x.LeanMinPct, x.LeanMaxPct, "lean_min_pct")
		b.inOrder(at+"max_kg", x.MinKg, x.MaxKg, "min_kg")
		products = append(products, x)
	}
	return streams, products, b.faults.Err()
}

// inOrder refuses a most that is below its least.
func (b *blendReader) inOrder(field string, low, high *big.Rat, than string) {
	if low != nil && high != nil && high.Cmp(low) < 0 {
		b.faults.Add(field, fault.New("", "out_of_order", "is below "+than, "Swap them, or leave one out."))
	}
}
