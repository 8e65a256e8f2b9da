package api

import (
	"context"
	"slices"
	"strconv"
	"time"

	"falda/internal/api/contract"
	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/order"
	"falda/internal/store"
	"falda/internal/work/orders"
	"falda/internal/work/shop"
)

// ListOrders lists orders.
func (h *handlers) ListOrders(ctx context.Context,
	r contract.ListOrdersRequestObject) (contract.ListOrdersResponseObject, error) {
	before, err := mark(r.Params.Before)
	if err != nil {
		return nil, err
	}
	var list []orders.Order
	var next int64
	if from(r.Params.Ended) {
		list, next, err = h.work.Orders.Ended(ctx, before)
	} else {
		list, err = h.work.Orders.Open(ctx)
	}
	if err != nil {
		return nil, err
	}
	sh, err := h.work.Shop.Current(ctx)
	if err != nil {
		return nil, err
	}
	return contract.ListOrders200JSONResponse{Next: markOf(next),
		Orders: each(list, func(o orders.Order) contract.Order { return h.order(sh, o) })}, nil
}

// order writes an order as requests answer it.
func (h *handlers) order(sh shop.Shop, o orders.Order) contract.Order {
	due := sh.Local(o.DueAt)
	out := contract.Order{Id: o.PublicID, Number: o.Number, Customer: o.Customer, Note: o.Note, DueAt: o.DueAt,
		Day: day(due), Time: due.Format("15:04"), State: contract.OrderState(o.State), EndedAt: o.EndedAt,
		Total: o.Total.String(), OrderedG: o.Ordered.Grams(), PackedG: o.InPacks.Grams(), Ready: o.Ready(), Late: o.Late,
		Version: o.Version, Lines: each(o.Lines, orderLine), Packed: each(o.Packed, packing),
		Pieces: each(o.Pieces, orderPiece(h.work.Atlas()))}
	if o.Whole != nil {
		v := wholeView(*o.Whole)
		out.Whole = &v
	}
	return out
}

func orderLine(l orders.Line) contract.OrderLine {
	out := contract.OrderLine{ProductKey: l.Key, Name: l.Name, Species: l.Species, WeightG: l.Mass.Grams(), Packs: l.Packs,
		Pieces: l.Pieces, Note: l.Note, Agreed: l.Agreed, PackedG: l.Packed.Grams(), PacksMade: l.PacksMade,
		Complete: l.Complete}
	if l.PricePerKg != nil {
		out.PricePerKg = some(l.PricePerKg.PerKilogram().Text(2))
	}
	if l.Amount != nil {
		out.Amount = some(l.Amount.String())
	}
	return out
}

func packing(p orders.Packing) contract.Packing {
	return contract.Packing{Id: p.Together, Line: p.Line, WeightG: p.Mass.Grams(), Count: p.Count, FromTub: p.FromTub,
		At: p.At}
}

func orderPiece(a *atlas.Atlas) func(store.PieceRow) contract.OrderPiece {
	return func(p store.PieceRow) contract.OrderPiece {
		out := contract.OrderPiece{Id: p.Piece.PublicID, LotNumber: p.Lot.LotNumber, Number: p.Piece.Number, State: "waits",
			Name: p.Lot.AtlasID}
		if found, ok := a.Find(p.Lot.AtlasID); ok {
			out.Name = found.Name
		} else if c, ok := a.FindCarcass(p.Lot.AtlasID); ok {
			out.Name = c.Name
		}
		if b := p.Breakdown; b != nil {
			if out.State = "cutting"; b.State == "closed" {
				out.State = "cut"
			}
		}
		return out
	}
}

func wholeView(v orders.WholeView) contract.WholeView {
	return contract.WholeView{Carcass: v.Carcass, Name: v.Name, Division: v.Division, WeightG: v.Mass.Grams(),
		Divisions: each(v.Divisions, func(d atlas.Division) contract.Named {
			return contract.Named{Id: d.ID, Name: d.Name}
		}),
		PricePerKg: v.PerKg, Price: v.Price.String(), OneByOne: v.OneByOne.String(), Unpriced: texts(v.Unpriced),
		Minutes: round(v.Minutes, 1), Cuts: each(v.Cuts, func(c orders.CutView) contract.WholeCutView {
			return contract.WholeCutView{Piece: c.Piece, Name: c.Name, Count: c.Count, PlanId: c.Plan, Plan: c.PlanName,
				EachG: c.Each.Grams(), Minutes: round(c.Minutes, 1), Sales: c.Sales.String(), Pieces: c.Pieces, Note: c.Note,
				Plans: each(c.Plans, func(p atlas.Plan) contract.Named { return contract.Named{Id: p.ID, Name: p.Name} }),
				Products: each(c.Products, func(p orders.CutProduct) contract.CutProduct {
					return contract.CutProduct{Key: p.Key, Name: p.Name, WeightG: p.Mass.Grams()}
				})}
		})}
}

// readWhole reads a whole animal as it is asked for.
func readWhole(d contract.WholeDraft) (orders.Whole, error) {
	m, err := measure.ParseMass(d.Weight, measure.Unit(d.Unit))
	if err == nil && m <= 0 {
		err = fault.New("", "too_small", "must be above zero", "Say what it weighs, cold.")
	}
	var faults fault.List
	faults.Add("weight", err)
	out := orders.Whole{Carcass: d.Carcass, Division: from(d.Division), Mass: m, PerKg: d.PricePerKg}
	for _, c := range from(d.Cuts) {
		out.Cuts = append(out.Cuts, orders.Cut{Piece: c.Piece, Plan: c.PlanId, Count: c.Count, Pieces: from(c.Pieces),
			Note: from(c.Note)})
	}
	return out, faults.Err()
}

func readOrder(b *contract.OrderDraft) (orders.NewOrder, error) {
	in := orders.NewOrder{ID: b.Id, Customer: b.Customer, Note: from(b.Note), Day: b.Day, Time: b.Time,
		Version: from(b.Version)}
	for _, l := range from(b.Lines) {
		in.Lines = append(in.Lines, orders.NewLine{Key: l.ProductKey, Weight: l.Weight, Unit: l.Unit, Packs: from(l.Packs),
			Pieces: from(l.Pieces), Price: from(l.Price), Note: from(l.Note)})
	}
	if b.Whole == nil {
		return in, nil
	}
	w, err := readWhole(*b.Whole)
	in.Whole = &w
	return in, fault.Under("whole", err)
}

// answered gives an order that a request changed.
func (h *handlers) answered(ctx context.Context, o orders.Order, err error) (contract.Order, error) {
	if err != nil {
		return contract.Order{}, err
	}
	sh, err := h.work.Shop.Current(ctx)
	if err != nil {
		return contract.Order{}, err
	}
	return h.order(sh, o), nil
}

// AddOrder enters an order.
func (h *handlers) AddOrder(ctx context.Context, r contract.AddOrderRequestObject) (contract.AddOrderResponseObject,
	error) {
	in, err := readOrder(r.Body)
	if err != nil {
		return nil, err
	}
	o, err := h.work.Orders.Save(ctx, "", in)
	out, err := h.answered(ctx, o, err)
	return contract.AddOrder200JSONResponse(out), err
}

// ChangeOrder changes an order.
func (h *handlers) ChangeOrder(ctx context.Context,
	r contract.ChangeOrderRequestObject) (contract.ChangeOrderResponseObject, error) {
	in, err := readOrder(r.Body)
	if err != nil {
		return nil, err
	}
	o, err := h.work.Orders.Save(ctx, r.OrderId, in)
	out, err := h.answered(ctx, o, err)
	return contract.ChangeOrder200JSONResponse(out), err
}

// GetOrder gives an order.
func (h *handlers) GetOrder(ctx context.Context, r contract.GetOrderRequestObject) (contract.GetOrderResponseObject,
	error) {
	o, err := h.work.Orders.Order(ctx, r.OrderId)
	out, err := h.answered(ctx, o, err)
	return contract.GetOrder200JSONResponse(out), err
}

// SetOrderState hands an order over, cancels it, or opens it again.
func (h *handlers) SetOrderState(ctx context.Context,
	r contract.SetOrderStateRequestObject) (contract.SetOrderStateResponseObject, error) {
	o, err := h.work.Orders.SetState(ctx, r.OrderId, r.Body.State, r.Body.Version)
	out, err := h.answered(ctx, o, err)
	return contract.SetOrderState200JSONResponse(out), err
}

// SetOrderPieces sets which pieces are cut for an order.
func (h *handlers) SetOrderPieces(ctx context.Context,
	r contract.SetOrderPiecesRequestObject) (contract.SetOrderPiecesResponseObject, error) {
	o, err := h.work.Orders.SetPieces(ctx, r.OrderId, r.Body.Pieces)
	out, err := h.answered(ctx, o, err)
	return contract.SetOrderPieces200JSONResponse(out), err
}

// PackOrder books what is packed.
func (h *handlers) PackOrder(ctx context.Context, r contract.PackOrderRequestObject) (contract.PackOrderResponseObject,
	error) {
	b := r.Body
	o, err := h.work.Orders.Pack(ctx, r.OrderId, orders.Packed{ID: b.Id, Line: b.Line, Tub: from(b.Tub), Weight: b.Weight,
		Unit: b.Unit, Count: from(b.Count), Source: from(b.Source), At: from(b.At)})
	out, err := h.answered(ctx, o, err)
	return contract.PackOrder200JSONResponse(out), err
}

// UnpackOrder takes back what was packed.
func (h *handlers) UnpackOrder(ctx context.Context,
	r contract.UnpackOrderRequestObject) (contract.UnpackOrderResponseObject, error) {
	o, err := h.work.Orders.Unpack(ctx, r.OrderId, r.Body.Id, r.EventId)
	out, err := h.answered(ctx, o, err)
	return contract.UnpackOrder200JSONResponse(out), err
}

// WholeAnimal says what comes of a whole animal.
func (h *handlers) WholeAnimal(ctx context.Context,
	r contract.WholeAnimalRequestObject) (contract.WholeAnimalResponseObject, error) {
	w, err := readWhole(*r.Body)
	if err != nil {
		return nil, err
	}
	v, err := h.work.Orders.WholeAnimal(ctx, w)
	if err != nil {
		return nil, err
	}
	return contract.WholeAnimal200JSONResponse(wholeView(v)), nil
}

// maxNeedDays bounds how far ahead needs are asked for.
const maxNeedDays = 366

// OrderNeeds says what must be cut for open orders.
func (h *handlers) OrderNeeds(ctx context.Context,
	r contract.OrderNeedsRequestObject) (contract.OrderNeedsResponseObject, error) {
	sh, err := h.work.Shop.Current(ctx)
	if err != nil {
		return nil, err
	}
	var before time.Time
	if n := from(r.Params.Days); n < 0 || n > maxNeedDays {
		return nil, fault.New("days", "out_of_range", "must be from 0 to "+strconv.Itoa(maxNeedDays), "Ask for fewer days.")
	} else if n > 0 {
		before = sh.Begins(sh.Day(h.work.Now()).AddDate(0, 0, n))
	}
	list, err := h.work.Orders.Needs(ctx, before)
	if err != nil {
		return nil, err
	}
	products, err := h.work.Orders.Products(ctx)
	if err != nil {
		return nil, err
	}
	names := map[string]string{}
	for _, p := range products {
		names[p.Key] = p.Name
	}
	return contract.OrderNeeds200JSONResponse(each(list, func(n order.Need) contract.OrderNeed {
		return contract.OrderNeed{Key: n.Key, Name: names[n.Key], WantedG: n.Wanted.Grams(), InStockG: n.FromStock.Grams(),
			ToCutG: n.ToCut.Grams(), First: n.First, Orders: texts(n.Orders)}
	})), nil
}

// OrderProducts lists what can be ordered.
func (h *handlers) OrderProducts(ctx context.Context,
	_ contract.OrderProductsRequestObject) (contract.OrderProductsResponseObject, error) {
	list, err := h.work.Orders.Products(ctx)
	if err != nil {
		return nil, err
	}
	out := make([]contract.OrderProduct, 0, len(list))
	for _, p := range list {
		x := contract.OrderProduct{Key: p.Key, Name: p.Name, Species: p.Species, Form: p.Form}
		if p.Price != nil {
			x.PricePerKg = some(p.Price.PerKilogram().Text(2))
		}
		out = append(out, x)
	}
	slices.SortFunc(out, func(a, b contract.OrderProduct) int {
		if a.Species != b.Species {
			return map[bool]int{true: -1, false: 1}[a.Species < b.Species]
		}
		return map[bool]int{true: -1, false: 1}[a.Name < b.Name]
	})
	return contract.OrderProducts200JSONResponse(out), nil
}
