package api

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"net/http"
	"strings"

	ics "github.com/arran4/golang-ical"

	"falda/internal/api/contract"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/words"
	"falda/internal/paper"
	"falda/internal/work/orders"
	"falda/internal/work/shop"
)

// bytesFile is a file that is made before it is sent.
type bytesFile struct {
	format, name string
	body         []byte
}

func (f bytesFile) send(w http.ResponseWriter) error {
	head(w, f.format, f.name)
	_, err := w.Write(f.body)
	return err
}

// VisitGetOrderSlipResponse writes the file.
func (f bytesFile) VisitGetOrderSlipResponse(w http.ResponseWriter) error { return f.send(w) }

// VisitExportDayResponse writes the file.
func (f bytesFile) VisitExportDayResponse(w http.ResponseWriter) error { return f.send(w) }

// VisitGetOrderSlipResponse writes the file.
func (f file) VisitGetOrderSlipResponse(w http.ResponseWriter) error { return f.send(w) }

// VisitExportOrdersResponse writes the file.
func (f file) VisitExportOrdersResponse(w http.ResponseWriter) error { return f.send(w) }

// VisitGetOrderSlipResponse writes the file.
func (f jsonFile) VisitGetOrderSlipResponse(w http.ResponseWriter) error {
	return f.VisitExportAuditResponse(w)
}

// VisitExportOrdersResponse writes the file.
func (f jsonFile) VisitExportOrdersResponse(w http.ResponseWriter) error {
	return f.VisitExportAuditResponse(w)
}

// OrderColumns heads the lines of orders as a table.
var OrderColumns = []string{"order", "customer", "due", "state", "product", "product_key", "ordered_kg", "packs",
	"pieces_per_pack", "packed_kg", "packs_made", "price_per_kg", "amount", "note"}

// orderRows writes the lines of orders.
func orderRows(sh shop.Shop, list []orders.Order) func(put func([]string) error) error {
	return func(put func([]string) error) error {
		for _, o := range list {
			for _, l := range o.Lines {
				row := orderLine(l)
				err := put([]string{o.Number, o.Customer, sh.Local(o.DueAt).Format("2006-01-02 15:04"), o.State, l.Name, l.Key,
					kilos(row.WeightG), number(l.Packs), number(l.Pieces), kilos(row.PackedG), number(l.PacksMade),
					from(row.PricePerKg), from(row.Amount), l.Note})
				if err != nil {
					return err
				}
			}
		}
		return nil
	}
}

func number(n int) string {
	if n == 0 {
		return ""
	}
	return fmt.Sprint(n)
}

// ExportOrders gives the lines of all open orders.
func (h *handlers) ExportOrders(ctx context.Context,
	r contract.ExportOrdersRequestObject) (contract.ExportOrdersResponseObject, error) {
	list, err := h.work.Orders.Open(ctx)
	if err != nil {
		return nil, err
	}
	sh, err := h.work.Shop.Current(ctx)
	if err != nil {
		return nil, err
	}
	if r.Params.Format == "json" {
		return jsonFile{"orders", h.eachOrder(sh, list), h.log}, nil
	}
	if err := tableFormat(r.Params.Format); err != nil {
		return nil, err
	}
	return file{r.Params.Format, "orders", "Orders", OrderColumns, orderRows(sh, list), h.log}, nil
}

func (h *handlers) eachOrder(sh shop.Shop, list []orders.Order) func(put func(any) error) error {
	return func(put func(any) error) error {
		for _, o := range list {
			if err := put(h.order(sh, o)); err != nil {
				return err
			}
		}
		return nil
	}
}

// GetOrderSlip gives the delivery slip of an order.
func (h *handlers) GetOrderSlip(ctx context.Context,
	r contract.GetOrderSlipRequestObject) (contract.GetOrderSlipResponseObject, error) {
	o, err := h.work.Orders.Order(ctx, r.OrderId)
	if err != nil {
		return nil, err
	}
	sh, err := h.work.Shop.Current(ctx)
	if err != nil {
		return nil, err
	}
	name := "order-" + o.Number
	switch r.Params.Format {
	case "json":
		return jsonFile{name, h.eachOrder(sh, []orders.Order{o}), h.log}, nil
	case "csv", "xlsx":
		return file{r.Params.Format, name, "Order", OrderColumns, orderRows(sh, []orders.Order{o}), h.log}, nil
	case "pdf":
		var out bytes.Buffer
		err := paper.WriteWorksheets(&out, "Delivery slip "+o.Number, []paper.Worksheet{slip(sh, o)})
		return bytesFile{"pdf", name, out.Bytes()}, err
	}
	return nil, fault.New("format", "unknown", "is not a format", "Use pdf, csv, xlsx or json.")
}

// slip is the delivery slip of an order: what is packed, by weight.
func slip(sh shop.Shop, o orders.Order) paper.Worksheet {
	kg := func(m measure.Mass) string { return m.Text(sh.Unit, 3) }
	t := paper.WorkTable{Columns: []string{"What", "Packs", "Weight", "Price a kg", sh.Currency},
		Wide: []float64{42, 10, 18, 15, 15}, Right: []bool{false, true, true, true, true}}
	total := measure.Mass(0)
	for _, l := range o.Lines {
		if l.Packed == 0 {
			continue
		}
		row := orderLine(l)
		total += l.Packed
		price, amount := from(row.PricePerKg), from(row.Amount)
		if o.Whole != nil {
			price, amount = "", ""
		}
		t.Rows = append(t.Rows, []string{l.Name, number(l.PacksMade), kg(l.Packed), price, amount})
	}
	sum := o.Total.String()
	if o.Whole == nil {
		only := sh.Money.Of(measure.Money{})
		for _, l := range o.Lines {
			if l.Packed > 0 && l.Amount != nil {
				only = only.Add(*l.Amount)
			}
		}
		sum = sh.Money.Of(only).String()
	}
	t.Foot = []string{"Together", "", kg(total), "", sum}
	s := paper.Worksheet{Shop: sh.Name, Title: "Delivery slip " + o.Number, Tables: []paper.WorkTable{t},
		Lines: []string{o.Customer, "Due " + sh.Local(o.DueAt).Format("Monday 2 January 2006, 15:04")},
		Sign:  "Received", Notes: []string{"Keep it cold: raw meat at 4 °C or below, mince at 2 °C; local rules come first."}}
	if o.Whole != nil {
		s.Lines = append(s.Lines, fmt.Sprintf("%s, %s, at %s a kg: %s", o.Whole.Name, kg(o.Whole.Mass), o.Whole.PerKg, sum))
	}
	if o.Note != "" {
		s.Lines = append(s.Lines, o.Note)
	}
	return s
}

// GetOrderSheet writes the cutting sheet of an order.
func (h *handlers) GetOrderSheet(ctx context.Context,
	r contract.GetOrderSheetRequestObject) (contract.GetOrderSheetResponseObject, error) {
	o, err := h.work.Orders.Order(ctx, r.OrderId)
	if err != nil {
		return nil, err
	}
	sh, err := h.work.Shop.Current(ctx)
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	err = paper.WriteWorksheets(&out, "Cutting sheet "+o.Number, []paper.Worksheet{cuttingSheet(sh, o)})
	return contract.GetOrderSheet200ApplicationpdfResponse{Body: &out, ContentLength: int64(out.Len())}, err
}

// cuttingSheet is what hangs at the bench: what is to be cut how, and into which packs.
func cuttingSheet(sh shop.Shop, o orders.Order) paper.Worksheet {
	kg := func(m measure.Mass) string { return m.Text(sh.Unit, 2) }
	s := paper.Worksheet{Shop: sh.Name, Title: "To cut for " + o.Customer, Lines: []string{"Order " + o.Number + ", due " +
		sh.Local(o.DueAt).Format("Monday 2 January, 15:04")}, Notes: []string{knifeCaution}}
	if o.Note != "" {
		s.Lines = append(s.Lines, o.Note)
	}
	var pieces []string
	for _, p := range o.Pieces {
		pieces = append(pieces, fmt.Sprintf("%s / %d", p.Lot.LotNumber, p.Piece.Number))
	}
	if len(pieces) > 0 {
		s.Lines = append(s.Lines, "From "+strings.Join(pieces, ", "))
	}
	if w := o.Whole; w != nil {
		s.Lines = append(s.Lines, fmt.Sprintf("%s, %s, about %.0f minutes", w.Name, kg(w.Mass), w.Minutes))
		t := paper.WorkTable{Title: "How it is cut", Columns: []string{"Piece", "Each", "How", "In a pack", "Wish"},
			Wide: []float64{28, 14, 34, 12, 28}, Right: []bool{false, true, false, true, false}}
		for _, c := range w.Cuts {
			t.Rows = append(t.Rows, []string{fmt.Sprintf("%d × %s", c.Count, c.Name), kg(c.Each), c.PlanName, number(c.Pieces),
				c.Note})
		}
		s.Tables = append(s.Tables, t)
	}
	t := paper.WorkTable{Title: "Packs", Columns: []string{"What", "Wanted", "Packs", "In each", "Wish", "Weighed"},
		Wide: []float64{34, 15, 9, 9, 25, 18}, Right: []bool{false, true, true, true, false, false}}
	for _, l := range o.Lines {
		weighed := ""
		if l.Packed > 0 {
			weighed = kg(l.Packed)
		}
		t.Rows = append(t.Rows, []string{l.Name, kg(l.Mass), number(l.Packs), number(l.Pieces), l.Note, weighed})
	}
	s.Tables = append(s.Tables, t)
	return s
}

// knifeCaution stands on what hangs at a bench.
const knifeCaution = "Free hand out of the blade's path, glove and apron on; on the saw guards down and the push " +
	"block. " +
	"Local codes come first."

// GetOrdersCalendar gives when open orders are due.
func (h *handlers) GetOrdersCalendar(ctx context.Context,
	_ contract.GetOrdersCalendarRequestObject) (contract.GetOrdersCalendarResponseObject, error) {
	list, err := h.work.Orders.Open(ctx)
	if err != nil {
		return nil, err
	}
	sh, err := h.work.Shop.Current(ctx)
	if err != nil {
		return nil, err
	}
	cal := ics.NewCalendarFor("-//Falda//Orders//EN")
	cal.SetMethod(ics.MethodPublish)
	cal.SetName(sh.Name + ": orders")
	for _, o := range list {
		e := cal.AddEvent(o.PublicID + "@falda")
		e.SetDtStampTime(h.work.Now())
		e.SetStartAt(o.DueAt)
		e.SetEndAt(o.DueAt)
		e.SetSummary(o.Number + ": " + o.Customer)
		var what []string
		for _, l := range o.Lines {
			what = append(what, l.Mass.Text(sh.Unit, 2)+" "+l.Name)
		}
		e.SetDescription(strings.Join(what, ", ") + ". " + words.Count(len(o.Packed), "packing", "packings") + " booked.")
	}
	text := cal.Serialize()
	return contract.GetOrdersCalendar200TextcalendarResponse{Body: io.Reader(strings.NewReader(text)),
		ContentLength: int64(len(text))}, nil
}
