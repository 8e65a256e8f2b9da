package api

import (
	"context"
	"errors"
	"net/http"
	"slices"
	"strings"
	"time"

	"falda/internal/api/contract"
	"falda/internal/core/demand"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/till"
	"falda/internal/device"
	"falda/internal/store"
	"falda/internal/work/sales"
	"falda/internal/work/shop"
)

// VisitExportSalesResponse writes the file.
func (f file) VisitExportSalesResponse(w http.ResponseWriter) error { return f.send(w) }

// VisitExportSalesResponse writes the file.
func (f jsonFile) VisitExportSalesResponse(w http.ResponseWriter) error {
	return f.VisitExportAuditResponse(w)
}

func packForecast(f demand.Forecast) contract.PackForecast {
	return contract.PackForecast{Mean: round(f.Mean, 2), Low: f.Low, High: f.High}
}

// soldProduct says how a product sells.
func soldProduct(sh shop.Shop, p sales.Product) contract.SoldProduct {
	out := contract.SoldProduct{Key: p.Key, Name: p.Name, Species: p.Species, Forecast: packForecast(p.Forecast),
		PackG: p.Pack.Grams(), MeanG: p.Kg(p.Mean).Grams(), LowG: p.Kg(float64(p.Low)).Grams(),
		HighG: p.Kg(float64(p.High)).Grams(), N: p.N, Packs: p.Sum.Packs, SoldG: p.Sum.Full.Grams(),
		ReducedG: p.Sum.Reduced.Grams(), ReturnedG: p.Sum.Returned.Grams(), WastedG: p.Sum.Wasted.Grams(),
		Takings: sh.Money.Round(p.Sum.Takings).String()}
	out.Weekdays = each(p.Weekday[:], packForecast)
	out.Weeks = each(p.Weeks, func(c demand.Came) contract.SoldWeek {
		w := contract.SoldWeek{Monday: day(c.Monday), Packs: c.Packs, MassG: c.Mass.Grams()}
		if c.Forecast != nil {
			f, within := packForecast(*c.Forecast), c.Within()
			w.Forecast, w.Within = &f, &within
		}
		return w
	})
	if share, ok := p.Sum.FullShare(); ok {
		pct := round(share*100, 1)
		out.FullPct = &pct
	}
	if v := p.Sum.PerKg(); v != nil {
		out.PerKg = some(sh.Money.Round(*v).String())
	}
	return out
}

func namingTrial(sh shop.Shop, t sales.Trial) contract.NamingTrial {
	out := contract.NamingTrial{Id: t.PublicID, Product: t.Product, NameA: t.NameA, NameB: t.NameB, Begins: day(t.Begins),
		Weeks: t.Weeks, State: contract.NamingTrialState(t.State), Verdict: contract.NamingTrialVerdict(t.Verdict),
		ThisWeek: some(t.This), PacksA: t.A.Count, PacksB: t.B.Count, DaysA: t.A.Days, DaysB: t.B.Days,
		TakingsA: sh.Money.Round(t.TakingsA).String(), TakingsB: sh.Money.Round(t.TakingsB).String(), P: 1}
	if t.PriceA != nil && t.PriceB != nil {
		out.PriceA, out.PriceB = some(sh.Shown(*t.PriceA)), some(sh.Shown(*t.PriceB))
	}
	if r := t.Ratio; r != nil {
		out.Ratio, out.Low, out.High, out.P = r.Ratio, r.Low, r.High, r.P
	}
	return out
}

// salesNow gives how the shop sells, as every change answers.
func (h *handlers) salesNow(ctx context.Context) (contract.Sales, error) {
	s, err := h.work.Sales.Sales(ctx)
	if err != nil {
		return contract.Sales{}, err
	}
	sh, err := h.work.Shop.Current(ctx)
	set := s.Settings
	return contract.Sales{First: dayOf(s.First), Last: dayOf(s.Last), Today: day(s.Today), Monday: day(s.Monday),
		Season: some(s.Season), Weeks: s.Weeks, HasTill: h.till != nil,
		Products: each(s.Products, func(p sales.Product) contract.SoldProduct { return soldProduct(sh, p) }),
		Files: each(s.Files, func(f store.SaleFile) contract.SaleFile {
			return contract.SaleFile{Id: f.PublicID, Till: f.Till, Name: f.Name, Lines: f.LinesRead, First: day(f.FirstDay),
				Last: day(f.LastDay), ReadAt: f.ReadAt, Undone: f.UndoneAt != nil, OutOfStock: f.Booked != nil}
		}),
		Trials: each(s.Trials, func(t sales.Trial) contract.NamingTrial { return namingTrial(sh, t) }),
		Settings: contract.SaleSettings{Packs: set.Packs, Weeks: set.Weeks, HalfLife: set.HalfLife,
			Elasticity: set.Elasticity, Steps: set.Steps, PackG: set.PackG, Version: set.Version}}, err
}

// GetSales gives how the shop sells.
func (h *handlers) GetSales(ctx context.Context, _ contract.GetSalesRequestObject) (contract.GetSalesResponseObject,
	error) {
	out, err := h.salesNow(ctx)
	return contract.GetSales200JSONResponse(out), err
}

// SetSales sets how the shop reckons with its sales.
func (h *handlers) SetSales(ctx context.Context, r contract.SetSalesRequestObject) (contract.SetSalesResponseObject,
	error) {
	b := r.Body
	err := h.work.Sales.SaveSettings(ctx, sales.Settings{Packs: b.Packs, Weeks: b.Weeks, HalfLife: b.HalfLife,
		Elasticity: b.Elasticity, Steps: b.Steps, PackG: b.PackG, Version: b.Version})
	if err != nil {
		return nil, err
	}
	out, err := h.salesNow(ctx)
	return contract.SetSales200JSONResponse(out), err
}

// maxShownLines bounds the lines of a file that are shown.
const maxShownLines = 300

// saleSheet says what a file of a till is: lines with faults first, then those that are kept, then those left out.
func (h *handlers) saleSheet(ctx context.Context, f sales.File) (contract.SaleSheet, error) {
	sh, err := h.work.Shop.Current(ctx)
	c := f.Way.Columns
	out := contract.SaleSheet{Heading: texts(f.Heading), Missing: texts(f.Way.Missing()), Unit: string(f.Way.Unit),
		MonthFirst: f.Way.MonthFirst, Till: f.Till, Good: f.Good, Bad: f.Bad, Left: f.Left,
		Covered: each(f.Covered, day), Takings: sh.Money.Round(f.Takings).String(),
		Columns: contract.SaleColumns{Day: c.Day, Item: c.Item, Name: c.Name, Packs: c.Packs, Weight: c.Weight,
			Amount: c.Amount, Kind: c.Kind, Reason: c.Reason},
		Unknown: each(f.Unknown, func(u sales.Unknown) contract.UnknownName {
			return contract.UnknownName{Said: u.Said, Lines: u.Lines}
		}),
		Short: each(f.Short, func(s sales.Short) contract.ShortStock {
			return contract.ShortStock{Name: s.Name, ByG: s.By.Grams()}
		})}
	if !f.First.IsZero() {
		out.First, out.Last = some(day(f.First)), some(day(f.Last))
	}
	if f.Read != nil {
		out.Kept = &f.Read.PublicID
	}
	out.Lines = each(f.Lines, func(l sales.Line) contract.SaleLine { return saleLine(sh, l) })
	slices.SortStableFunc(out.Lines, func(a, b contract.SaleLine) int { return rank(a) - rank(b) })
	out.Lines = out.Lines[:min(len(out.Lines), maxShownLines)]
	return out, err
}

// rank orders the lines of a file.
func rank(l contract.SaleLine) int {
	switch {
	case l.Fault != nil:
		return 0
	case l.Left == nil:
		return 1
	}
	return 2
}

func saleLine(sh shop.Shop, l sales.Line) contract.SaleLine {
	out := contract.SaleLine{Line: l.No, Said: l.Said(), Product: some(l.Product), Kind: l.Kind, Packs: l.Packs,
		MassG: l.Mass.Grams(), Amount: sh.Money.Round(l.Amount).String(), Reason: some(l.Reason)}
	if !l.Day.IsZero() {
		out.Day = some(day(l.Day))
	}
	switch {
	case len(l.Faults) > 0:
		said := make([]string, len(l.Faults))
		for i, f := range l.Faults {
			said[i] = strings.TrimSpace(f.Field + " " + f.Message + ". " + f.Hint)
		}
		out.Fault = some(strings.Join(said, " "))
	case l.Skip:
		out.Left = some("not of the counter")
	case l.Today:
		out.Left = some("today is not over")
	case l.Covered:
		out.Left = some("this day was read in before")
	}
	return out
}

// ImportSales reads a till's file.
func (h *handlers) ImportSales(ctx context.Context,
	r contract.ImportSalesRequestObject) (contract.ImportSalesResponseObject, error) {
	rows, err := readTable(ctx, r.Body)
	if err != nil {
		return nil, err
	}
	q := r.Params
	f, err := h.work.Sales.Import(ctx, rows, sales.Ask{Till: from(q.Till), Name: from(q.File), Save: from(q.Save),
		Stock: from(q.Stock), Given: from(q.Mapped), Way: till.Way{Unit: measure.Unit(from(q.Unit)),
			MonthFirst: from(q.MonthFirst), Columns: till.Columns{Day: from(q.Day), Item: from(q.Item), Name: from(q.Name),
				Packs: from(q.Packs), Weight: from(q.Weight), Amount: from(q.Amount), Kind: from(q.Kind),
				Reason: from(q.Reason)}}})
	if err != nil {
		return nil, err
	}
	out, err := h.saleSheet(ctx, f)
	return contract.ImportSales200JSONResponse(out), err
}

// ReadTill fetches the sales of the till.
func (h *handlers) ReadTill(ctx context.Context, r contract.ReadTillRequestObject) (contract.ReadTillResponseObject,
	error) {
	if h.till == nil {
		return nil, fault.New("", "no_till", "The program was started without a till.",
			"Start it with --till, or read a file in.")
	}
	silent := fault.New("", "till_silent", "The till does not answer.",
		"Look whether it runs, and try again; nothing was changed.")
	body, err := h.till.Read(ctx)
	if err != nil {
		return nil, silent
	}
	defer body.Close()
	rows, err := readTable(ctx, body)
	switch {
	case errors.Is(err, device.ErrLongFeed):
		return nil, fault.New("", "till_too_long", "The till gives more than 2 MiB.", "Have it give fewer days.")
	case err != nil && fault.Of(err) == nil && ctx.Err() == nil:
		return nil, silent
	case err != nil:
		return nil, err
	}
	f, err := h.work.Sales.Import(ctx, rows, sales.Ask{Till: "Till", Name: "sales.csv", Save: from(r.Params.Save),
		Stock: from(r.Params.Stock)})
	if err != nil {
		return nil, err
	}
	out, err := h.saleSheet(ctx, f)
	return contract.ReadTill200JSONResponse(out), err
}

// SetSaleName remembers what a till means by a name.
func (h *handlers) SetSaleName(ctx context.Context,
	r contract.SetSaleNameRequestObject) (contract.SetSaleNameResponseObject, error) {
	if err := h.work.Sales.Means(ctx, r.Body.Said, from(r.Body.ProductKey)); err != nil {
		return nil, err
	}
	return contract.SetSaleName204Response{}, nil
}

// UndoSales takes a file back.
func (h *handlers) UndoSales(ctx context.Context, r contract.UndoSalesRequestObject) (contract.UndoSalesResponseObject,
	error) {
	if err := h.work.Sales.Undo(ctx, r.FileId); err != nil {
		return nil, err
	}
	out, err := h.salesNow(ctx)
	return contract.UndoSales200JSONResponse(out), err
}

// BeginNaming begins a trial of names.
func (h *handlers) BeginNaming(ctx context.Context,
	r contract.BeginNamingRequestObject) (contract.BeginNamingResponseObject, error) {
	b := r.Body
	err := h.work.Sales.Begin(ctx, sales.NewTrial{Key: b.ProductKey, NameA: b.NameA, NameB: b.NameB,
		PriceA: from(b.PriceA), PriceB: from(b.PriceB), Begins: b.Begins, Weeks: b.Weeks})
	if err != nil {
		return nil, err
	}
	out, err := h.salesNow(ctx)
	return contract.BeginNaming200JSONResponse(out), err
}

// StopNaming stops one before its time.
func (h *handlers) StopNaming(ctx context.Context,
	r contract.StopNamingRequestObject) (contract.StopNamingResponseObject, error) {
	if err := h.work.Sales.StopTrial(ctx, r.NamingId); err != nil {
		return nil, err
	}
	out, err := h.salesNow(ctx)
	return contract.StopNaming200JSONResponse(out), err
}

// SaleFileColumns heads a list of sales; it can be read in again.
var SaleFileColumns = []string{"day", "item", "name", "packs", "kg", "amount", "kind", "reason"}

// ExportSales gives what was sold, line by line.
func (h *handlers) ExportSales(ctx context.Context,
	r contract.ExportSalesRequestObject) (contract.ExportSalesResponseObject, error) {
	format, days := r.Params.Format, sales.MaxRealised
	if r.Params.Days != nil {
		days = *r.Params.Days
	}
	if days < 1 || days > sales.MaxRealised {
		return nil, fault.New("days", "out_of_range", "must be from 1 to 366", "Ask for fewer days.")
	}
	if format != "json" {
		if err := tableFormat(format); err != nil {
			return nil, fault.New("format", "unknown", "is not a format", "Use csv, xlsx or json.")
		}
	}
	sh, err := h.work.Shop.Current(ctx)
	if err != nil {
		return nil, err
	}
	last := sh.Day(h.work.Now())
	row := func(x store.Sale, name string) []string {
		amount, _ := measure.MoneyFromDecimal(x.Amount)
		return []string{day(x.Day), x.ProductKey, name, itoa(x.Packs), kilos(measure.Mass(x.MassMg).Grams()),
			sh.Money.Round(amount).String(), x.Kind, x.Reason}
	}
	rows := func(put func([]string) error) error {
		return h.work.Sales.Lines(ctx, last.AddDate(0, 0, 1-days), last,
			func(x store.Sale, product string) error { return put(row(x, product)) })
	}
	name := "sales-" + last.Format(time.DateOnly)
	if format == "json" {
		return jsonRows(name, SaleFileColumns, rows, h.log), nil
	}
	return file{format, name, "Sales", SaleFileColumns, rows, h.log}, nil
}

// GetMarkdowns says what should be sold for less.
func (h *handlers) GetMarkdowns(ctx context.Context,
	_ contract.GetMarkdownsRequestObject) (contract.GetMarkdownsResponseObject, error) {
	list, set, err := h.work.Sales.Advise(ctx)
	if err != nil {
		return nil, err
	}
	sh, err := h.work.Shop.Current(ctx)
	today := sh.Day(h.work.Now())
	return contract.GetMarkdowns200JSONResponse{Steps: set.Steps, Elasticity: set.Elasticity,
		Tubs: each(list, func(a sales.Advice) contract.MarkdownAdvice { return advice(sh, a, today) })}, err
}

func advice(sh shop.Shop, a sales.Advice, today time.Time) contract.MarkdownAdvice {
	cash := func(f float64) string {
		m, _ := measure.MoneyFromFloat(f)
		return sh.Money.Round(m).String()
	}
	packs := func(n float64) float64 { return round(n*a.Pack.Grams(), 0) }
	keep := min(packs(float64(a.Plan.Keep)), a.Tub.Left.Grams())
	if a.Plan.Keep == a.Packs {
		keep = a.Tub.Left.Grams()
	}
	out := contract.MarkdownAdvice{Tub: tub(a.Tub, today), OffPct: a.Tub.Off, NowPct: a.Plan.Now, Away: a.Plan.Away,
		KeepG: keep, AwayG: a.Tub.Left.Grams() - keep, Days: a.Days, Packs: a.Packs, PackG: a.Pack.Grams(),
		PerDay: round(a.PerDay, 2), N: a.Weeks, Price: priceText(a.Price), Asked: priceText(a.Asked),
		PricePer: string(a.Price.Per), Brings: cash(a.Plan.Brings), Held: cash(a.Plan.Held),
		Gain: cash(a.Plan.Brings - a.Plan.Held), Elsewhere: sh.Money.Round(a.Elsewhere).String(),
		LeftG: packs(a.Plan.LeftMean), HeldLeftG: packs(a.Plan.HeldLeft), LowerIn: a.Plan.LowerFrom}
	for i, d := range a.Plan.Days {
		out.Plan = append(out.Plan, contract.MarkdownDay{Day: day(today.AddDate(0, 0, i)), Packs: round(d.Packs, 1),
			OffPct: round(d.Off, 0), Sells: round(d.Sells, 1)})
	}
	return out
}
