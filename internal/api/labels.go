package api

import (
	"bytes"
	"context"
	"encoding/base64"
	"errors"
	"fmt"
	"image/png"
	"slices"

	"falda/internal/api/contract"
	"falda/internal/core/cook"
	"falda/internal/core/fault"
	"falda/internal/core/label"
	"falda/internal/core/measure"
	"falda/internal/device"
	"falda/internal/paper"
	"falda/internal/store"
	"falda/internal/work/judge"
	"falda/internal/work/labels"
	"falda/internal/work/shop"
)

// labelsNow gives what labels say, numbers, and the printers that there are.
func (h *handlers) labelsNow(ctx context.Context) (contract.Labels, error) {
	s, err := h.work.Labels.Settings(ctx)
	if err != nil {
		return contract.Labels{}, err
	}
	codes, err := h.work.Labels.Codes(ctx)
	if err != nil {
		return contract.Labels{}, err
	}
	out := contract.Labels{Printers: []contract.LabelPrinter{}, Settings: contract.LabelSettings{Packer: s.Packer,
		Country: s.Country, Plant: s.Plant, Prefix: s.Prefix, ByWeight: s.ByWeight, WideMm: s.Wide, HighMm: s.High,
		Version: s.Version},
		Codes: each(codes, func(c labels.Code) contract.ProductCode {
			return contract.ProductCode{Key: c.Key, Name: c.Name, Species: c.Species, Item: c.Item, Gtin: c.GTIN}
		})}
	shop, err := h.work.Shop.Shop(ctx)
	if err != nil {
		return out, err
	}
	for _, b := range shop.Benches {
		p := h.printerOf(b)
		if p == nil {
			continue
		}
		state, _ := p.Reading()
		out.Printers = append(out.Printers, contract.LabelPrinter{BenchId: b.PublicID, Bench: b.Name, Printed: state.Printed,
			Ready: state.Status == device.OK && state.Message == "", Message: some(state.Message),
			Simulated: some(state.Simulated)})
	}
	return out, nil
}

func (h *handlers) printerOf(b store.Bench) *device.Printer {
	if h.printers == nil {
		return nil
	}
	return h.printers(b)
}

// GetLabels gives what labels say.
func (h *handlers) GetLabels(ctx context.Context,
	_ contract.GetLabelsRequestObject) (contract.GetLabelsResponseObject, error) {
	out, err := h.labelsNow(ctx)
	return contract.GetLabels200JSONResponse(out), err
}

// SetLabels sets what labels say.
func (h *handlers) SetLabels(ctx context.Context,
	r contract.SetLabelsRequestObject) (contract.SetLabelsResponseObject, error) {
	b := r.Body
	_, err := h.work.Labels.SaveSettings(ctx, labels.Settings{Packer: b.Packer, Country: b.Country, Plant: b.Plant,
		Prefix: b.Prefix, ByWeight: b.ByWeight, Wide: b.WideMm, High: b.HighMm, Version: b.Version})
	if err != nil {
		return nil, err
	}
	out, err := h.labelsNow(ctx)
	return contract.SetLabels200JSONResponse(out), err
}

// SetProductCode gives a product its numbers.
func (h *handlers) SetProductCode(ctx context.Context,
	r contract.SetProductCodeRequestObject) (contract.SetProductCodeResponseObject, error) {
	if err := h.work.Labels.SetCode(ctx, r.ProductKey, r.Body.Item, from(r.Body.Gtin)); err != nil {
		return nil, err
	}
	out, err := h.labelsNow(ctx)
	return contract.SetProductCode200JSONResponse(out), err
}

// pack works out a label and lays it out.
func (h *handlers) pack(ctx context.Context, a contract.LabelAsk) (labels.Pack, label.Page, error) {
	p, err := h.work.Labels.Pack(ctx, labels.PackAsk{Tub: a.Tub, Weight: a.Weight, Unit: a.Unit})
	if err != nil {
		return p, label.Page{}, err
	}
	sh, err := h.work.Shop.Current(ctx)
	if err != nil {
		return p, label.Page{}, err
	}
	in := paper.PackLabel{Wide: p.Settings.Wide, High: p.Settings.High, Name: p.Tub.Name, Ingredients: p.Ingredients,
		Origin: p.Origin, Storage: p.Storage, UseBy: p.UseBy.Format("2 January 2006"), Lot: p.Lot,
		Net: p.Net.Text(measure.UnitKilogram, 3), EAN: p.EAN, GS1: p.GS1, Packer: p.Settings.Packer, Notes: p.Notes}
	if p.Menu != "" {
		in.Name, in.Lawful = p.Menu, p.Tub.Name
	}
	if p.Price != nil {
		in.Each, in.Cost = p.PricePerKg.PerKilogram().Text(2), sh.Money.Text(*p.Price)
	}
	if p.Atlas != "" {
		in.Page = requestInfoOf(ctx).origin + "/cook/" + p.Atlas + "/" + p.Product
	}
	page, err := paper.LayPack(in)
	return p, page, err
}

// LabelPack gives the label of a pack.
func (h *handlers) LabelPack(ctx context.Context,
	r contract.LabelPackRequestObject) (contract.LabelPackResponseObject, error) {
	p, page, err := h.pack(ctx, *r.Body)
	if err != nil {
		return nil, err
	}
	img, err := paper.Picture(page)
	if err != nil {
		return nil, err
	}
	var raw bytes.Buffer
	if err := png.Encode(&raw, img); err != nil {
		return nil, err
	}
	out := contract.PackLabel{Name: p.Tub.Name, Lawful: p.Tub.Name, NetG: p.Net.Grams(), Lot: p.Lot, UseBy: day(p.UseBy),
		Item: p.Item, Ean13: some(p.EAN), Gs1: some(p.GS1), Ingredients: some(p.Ingredients), Allergens: texts(p.Allergens),
		Origin: texts(p.Origin), Missing: texts(p.Missing), Storage: p.Storage, Notes: texts(p.Notes),
		Picture: "data:image/png;base64," + base64.StdEncoding.EncodeToString(raw.Bytes())}
	if p.Menu != "" {
		out.Name = p.Menu
	}
	if p.Price != nil {
		out.Price, out.PricePerKg = some(p.Price.String()), some(p.PricePerKg.PerKilogram().Text(2))
	}
	return contract.LabelPack200JSONResponse(out), nil
}

// maxLabels bounds the labels of one file.
const maxLabels = 400

// LabelsPdf gives labels as PDF.
func (h *handlers) LabelsPdf(ctx context.Context,
	r contract.LabelsPdfRequestObject) (contract.LabelsPdfResponseObject, error) {
	var pages []label.Page
	total := 0
	for i, c := range r.Body.Packs {
		if total += c.Copies; c.Copies < 1 || total > maxLabels {
			return nil, fault.New(fmt.Sprintf("packs[%d].copies", i), "out_of_range",
				fmt.Sprintf("must be from 1, and %d labels in all", maxLabels), "Print the rest after these.")
		}
		_, page, err := h.pack(ctx, c.Pack)
		if err != nil {
			return nil, fault.Under(fmt.Sprintf("packs[%d].pack", i), err)
		}
		pages = append(pages, slices.Repeat([]label.Page{page}, c.Copies)...)
	}
	if len(pages) == 0 {
		return nil, fault.New("packs", "empty", "are none", "Choose what is labelled.")
	}
	var out bytes.Buffer
	err := paper.Labels(&out, pages, from(r.Body.Sheet))
	return contract.LabelsPdf200ApplicationpdfResponse{Body: &out, ContentLength: int64(out.Len())}, err
}

// PrintLabel prints a label on a bench's printer.
func (h *handlers) PrintLabel(ctx context.Context,
	r contract.PrintLabelRequestObject) (contract.PrintLabelResponseObject, error) {
	b, err := h.work.People.Bench(ctx, r.Body.BenchId)
	if err != nil {
		return nil, err
	}
	p := h.printerOf(b)
	if p == nil {
		return nil, fault.NewConflict("bench_id", "no_printer", "This bench has no label printer.",
			"Choose another bench, or take the labels as PDF.")
	}
	if r.Body.Copies < 1 || r.Body.Copies > maxLabels {
		return nil, fault.New("copies", "out_of_range", fmt.Sprintf("must be from 1 to %d", maxLabels), "Print fewer.")
	}
	_, page, err := h.pack(ctx, r.Body.Pack)
	if err != nil {
		return nil, fault.Under("pack", err)
	}
	if err := p.Print(ctx, page, r.Body.Copies); err != nil {
		if errors.Is(err, device.ErrScale) {
			err = fault.NewUnavailable("The label printer did not print: "+err.Error()+".", "Look at it, and print again.")
		}
		return nil, err
	}
	return contract.PrintLabel204Response{}, nil
}

// maxTickets bounds the tickets of one file.
const maxTickets = 200

// TicketsPdf gives price tickets.
func (h *handlers) TicketsPdf(ctx context.Context,
	r contract.TicketsPdfRequestObject) (contract.TicketsPdfResponseObject, error) {
	if n := len(r.Body.Products); n == 0 || n > maxTickets {
		return nil, fault.New("products", "out_of_range", fmt.Sprintf("must be from 1 to %d", maxTickets),
			"Choose what stands in the counter.")
	}
	list, err := h.work.Labels.Tickets(ctx, r.Body.Products)
	if err != nil {
		return nil, err
	}
	sh, err := h.work.Shop.Current(ctx)
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	err = paper.Tickets(&out, each(list, func(t labels.Ticket) paper.Ticket { return h.ticket(ctx, sh, t) }))
	return contract.TicketsPdf200ApplicationpdfResponse{Body: &out, ContentLength: int64(out.Len())}, err
}

// ticket puts a ticket into words; how it is cooked best, and how many a kilogram feeds, is its card's.
func (h *handlers) ticket(ctx context.Context, sh shop.Shop, t labels.Ticket) paper.Ticket {
	out := paper.Ticket{Name: t.Name, Lines: t.Origin, Per: "a " + map[measure.Unit]string{measure.UnitKilogram: "kilo",
		measure.UnitPound: "pound"}[sh.Unit]}
	if t.Menu != "" {
		out.Name, out.Lawful = t.Menu, t.Name
	}
	if t.Price != nil {
		out.Price = sh.Money.Text(sh.Money.Round(t.Price.Of(weighs(sh.Unit))))
	}
	if t.Off > 0 {
		out.Lines = append(out.Lines, fmt.Sprintf("Reduced by %.0f %%", t.Off))
	}
	if t.Atlas == "" {
		return out
	}
	c, err := h.work.Judge.CookingCard(ctx, judge.CardOf{AtlasID: t.Atlas, Product: t.Product}, cook.CardRequest{})
	if err != nil {
		return out // it has no card
	}
	out.Lines = append([]string{"Best: " + c.Way.Name}, out.Lines...)
	if c.Feeds > 0 && c.WeightG > 0 {
		out.Lines = append(out.Lines, fmt.Sprintf("A kilo feeds %.0f", float64(c.Feeds)*1000/c.WeightG))
	}
	return out
}

// weighs is the mass of one of a unit.
func weighs(u measure.Unit) measure.Mass {
	m, err := measure.ParseMass("1", u)
	if err != nil {
		return measure.Kilogram
	}
	return m
}
