package compare

import (
	"context"
	"fmt"
	"math"
	"strconv"
	"strings"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/report"
	"falda/internal/work/shop"
	"falda/internal/work/stock"
)

// The kinds of report.
const (
	ReportComparison = "comparison"
	ReportTrial      = "trial"
	ReportCarcass    = "carcass"
	ReportBestUse    = "best_use"
)

// ReportAsk says which report is wanted.
type ReportAsk struct {
	Kind      string
	Desk      Desk
	TrialID   string
	CarcassID string
	Carcass   CarcassAsk
	Best      BestAsk
}

// Report makes a report, and gives what it was made of: a DeskView, TrialView, CarcassView or BestView.
func (s *Service) Report(ctx context.Context, in ReportAsk) (r report.Report, of any, err error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return r, nil, err
	}
	w := reportWriter{shop: shop}
	switch in.Kind {
	case ReportComparison:
		r, of, err = written(w.comparison)(s.CompareAlternatives(ctx, in.Desk))
	case ReportTrial:
		r, of, err = written(w.trial)(s.Trial(ctx, in.TrialID))
	case ReportCarcass:
		r, of, err = written(w.carcass)(s.CarcassValue(ctx, in.CarcassID, in.Carcass))
	case ReportBestUse:
		r, of, err = written(w.best)(s.BestUse(ctx, in.Best))
	default:
		err = fault.New("kind", "unknown", fault.Quote(in.Kind)+" is not a kind of report",
			"Use comparison, trial, carcass or best_use.")
	}
	r.Shop, r.MadeAt = shop.Name, s.now()
	r.Made = shop.Local(r.MadeAt).Format("2 January 2006, 15:04") + ", " + shop.TimeZone
	return r, of, err
}

// written writes a view as a report where there is one.
func written[V any](write func(V) report.Report) func(V, error) (report.Report, any, error) {
	return func(v V, err error) (report.Report, any, error) {
		if err != nil {
			return report.Report{}, nil, err
		}
		return write(v), v, nil
	}
}

// reportWriter writes amounts as the shop sets them.
type reportWriter struct{ shop shop.WithPlans }

func (w reportWriter) money(m measure.Money) string { return w.shop.Money.Text(m) }

// signed is an amount with its sign; what rounds to nothing has none.
func (w reportWriter) signed(m measure.Money) string {
	if text := w.money(m); m.Sign() > 0 && strings.ContainsAny(text, "123456789") {
		return "+" + text
	}
	return w.money(m)
}

// per is an amount per kg in the shop's unit.
func (w reportWriter) per(m measure.Money) measure.Money {
	return w.shop.Money.Round(m.Times(w.shop.Unit.Kilograms()))
}

func (w reportWriter) mass(m measure.Mass) string { return m.Text(w.shop.Unit, 2) }

func (w reportWriter) unit() string { return string(w.shop.Unit) }

func pctText(f float64) string { return strconv.FormatFloat(f, 'f', 1, 64) + " %" }

// format is how a spreadsheet shows amounts of the shop's currency: with its decimals, and as many as the text has.
func (w reportWriter) format() string {
	places := w.shop.Money.Places()
	if places == 0 {
		return "#,##0"
	}
	return "#,##0." + strings.Repeat("0", places)
}

// The same as cells that are figures.
func (w reportWriter) moneyCell(m measure.Money) report.Cell {
	return report.Number(w.money(m), w.shop.Money.Round(m).Float(), w.format())
}

func (w reportWriter) signedCell(m measure.Money) report.Cell {
	return report.Number(w.signed(m), w.shop.Money.Round(m).Float(), "+"+w.format()+";-"+w.format()+";"+w.format())
}

func (w reportWriter) massCell(m measure.Mass) report.Cell {
	f, _ := m.In(w.shop.Unit).Float64()
	return report.Number(w.mass(m), math.Round(f*1000)/1000, `0.000 "`+w.unit()+`"`)
}

func pctCell(f float64) report.Cell { return report.Number(pctText(f), f/100, "0.0%") }

func plainCell(text string, f float64, format string) report.Cell {
	return report.Number(text, f, format)
}

func figure(label string, c report.Cell) report.Figure {
	return report.Figure{Label: label, Value: c.Text, Number: c.Number, Format: c.Format}
}

func (w reportWriter) comparison(v DeskView) report.Report {
	p := v.Pairs[len(v.Pairs)-1]
	r := report.Report{Title: "Comparison: " + v.Alternatives[0].Piece.Name, Sentence: p.Sentence, Notes: v.Basis,
		BarsTitle: "From " + p.A.Name + " to " + p.B.Name + ", muscle by muscle, a " + w.unit() + " of block"}
	r.Figures = []report.Figure{figure("a "+w.unit()+" of block", w.signedCell(w.per(p.Lead))),
		figure("on the piece", w.signedCell(p.PerPiece))}
	if p.PerHour != nil {
		r.Figures = append(r.Figures, figure("an extra bench hour", w.signedCell(*p.PerHour)))
	}
	if p.PerCarcassSide != nil {
		r.Figures = append(r.Figures, figure("a "+v.Alternatives[0].CarcassSide, w.signedCell(*p.PerCarcassSide)))
	}
	for _, s := range p.ByPart { // all that change anything, so that the bars add up to what the sentence says
		if s.Change.Sign() != 0 {
			r.Bars = append(r.Bars, report.Bar{Name: s.Name, Value: w.per(s.Change).Float(), Text: w.signed(w.per(s.Change))})
		}
	}
	alternatives := report.Table{Title: "The alternatives, a " + w.unit() + " of block",
		Columns: []string{"", "Sales", "Packaging", "Labour", "Discard", "Ingredients", "Block", "Value", "Worth at most"}}
	for _, s := range v.Alternatives {
		row := []report.Cell{report.Text(s.Name)}
		t := s.LinesPer(w.shop.Unit)
		for _, m := range []measure.Money{t.Sales, t.Packaging, t.Labour, t.Discard, t.Ingredients, t.Purchase, t.Value} {
			row = append(row, w.moneyCell(m))
		}
		alternatives.Rows = append(alternatives.Rows, append(row, w.moneyCell(w.per(s.MaxBlock))))
	}
	causes := report.Table{Title: "By cause, a " + w.unit() + " of block", Columns: []string{"", "Change"}}
	for _, s := range p.ByCause {
		causes.Rows = append(causes.Rows, []report.Cell{report.Text(s.Name), w.signedCell(w.per(s.Change))})
	}
	last := v.Alternatives[len(v.Alternatives)-1]
	costs := report.Table{Title: "What each product of " + last.Name + " cost, a " + w.unit(),
		Columns: []string{"", "Weight", "Sells at", "Cost", "Margin", "At least"}}
	for _, c := range last.Costs.Products {
		if c.Mass > 0 {
			margin := report.Text("")
			if c.MarginPct != nil {
				f, _ := c.MarginPct.Float64()
				margin = pctCell(f * 100)
			}
			costs.Rows = append(costs.Rows,
				[]report.Cell{report.Text(c.Name), w.massCell(c.Mass), w.moneyCell(w.per(c.SellsAt)), w.moneyCell(w.per(c.PerKg)),
					margin, w.moneyCell(w.per(c.MinPerKg))})
		}
	}
	r.Tables = []report.Table{alternatives, causes, costs}
	if len(v.Pairs) > 1 {
		all := report.Table{Title: "All beside " + v.Alternatives[0].Name,
			Columns: []string{"", "a " + w.unit() + " of block", "on the piece"}}
		for _, x := range v.Pairs {
			all.Rows = append(all.Rows,
				[]report.Cell{report.Text(x.B.Name), w.signedCell(w.per(x.Lead)), w.signedCell(x.PerPiece)})
		}
		r.Tables = append([]report.Table{all}, r.Tables...)
	}
	return r
}

// perKgCell is a figure a kilogram of statistics, by the unit that the shop weighs in.
func (w reportWriter) perKgCell(perKg float64, sign bool) report.Cell {
	m, ok := measure.MoneyFromFloat(perKg)
	if !ok {
		return report.Text("–")
	}
	if sign {
		return w.signedCell(w.per(m))
	}
	return w.moneyCell(w.per(m))
}

func (w reportWriter) trial(v TrialView) report.Report {
	r := report.Report{Title: "Trial: " + v.Name, Sentence: v.Sentence,
		BarsTitle: "“" + v.NameB + "” less “" + v.NameA + "”, a " + w.unit() + ", pair by pair", Bars: []report.Bar{},
		Notes: []string{"Value a " + w.unit() +
			" after all costs, at the prices of the day each piece was closed. Which side was cut which way was drawn.",
			"A pair far from the rest is marked and counts; a piece without its mate does not."}}
	pairs := report.Table{Title: "Pairs, a " + w.unit(), Columns: []string{"Pair", v.NameA, v.NameB, "Difference"}}
	for _, p := range v.Pairs {
		row := report.Texts(strconv.Itoa(p.Number), "to cut", "to cut", "waits for its mate")
		if p.A.Closed {
			row[1] = w.perKgCell(p.A.PerKg, false)
		}
		if p.B.Closed {
			row[2] = w.perKgCell(p.B.PerKg, false)
		}
		if p.Complete {
			row[3] = w.perKgCell(p.Difference, true)
			r.Bars = append(r.Bars, report.Bar{Name: "Pair " + row[0].Text, Value: p.Difference, Text: row[3].Text})
			if p.Outlier {
				row[3].Text += ", far from the rest"
			}
		}
		pairs.Rows = append(pairs.Rows, row)
	}
	r.Tables = append(r.Tables, pairs)
	if x := v.Result; x != nil && x.Enough {
		r.Figures = []report.Figure{figure("mean difference", w.perKgCell(x.Mean, true)),
			{Label: "95 % interval", Value: w.perKgCell(x.Low, true).Text + " to " + w.perKgCell(x.High, true).Text},
			{Label: "t, degrees, p", Value: fmt.Sprintf("%.2f, %g, %.4f", x.T, x.DF, x.P)}}
	}
	if len(v.Muscles) > 0 {
		t := report.Table{Title: "Yield of each muscle, percentage points",
			Columns: []string{"Muscle", "Difference", "p", "p, corrected"}}
		number := func(f float64, format string, excel string) report.Cell {
			return plainCell(fmt.Sprintf(format, f), f, excel)
		}
		for _, m := range v.Muscles {
			t.Rows = append(t.Rows,
				[]report.Cell{report.Text(m.Muscle.Name), number(m.Result.Mean, "%+.2f", "+0.00;-0.00;0.00"),
					number(m.Result.P, "%.3f", "0.000"), number(m.P, "%.3f", "0.000")})
		}
		r.Tables = append(r.Tables, t)
		r.Notes = append(r.Notes, "Whoever asks of many muscles finds something by chance: p is corrected for that (Holm).")
	}
	return r
}

func (w reportWriter) carcass(v CarcassView) report.Report {
	head := v.Roll.Head()
	r := report.Report{Title: v.Carcass.Name + ", " + w.mass(v.Weight), Sentence: v.Sentence, Notes: []string{v.Basis},
		BarsTitle: "What each piece brings, per carcass"}
	r.Figures = []report.Figure{figure("per carcass", w.moneyCell(head.Value)),
		figure(fmt.Sprintf("a week of %d", v.Roll.Heads), w.moneyCell(v.Roll.Totals.Value)),
		figure("a year", w.moneyCell(v.Year)),
		{Label: "minutes per carcass", Value: strconv.FormatFloat(v.Minutes, 'f', 0, 64)}}
	sums := report.Table{Title: "Sales and costs", Columns: []string{"", "A head", "A week"}}
	for _, x := range []struct {
		name       string
		head, week measure.Money
	}{{"Sales, demand counted", head.Sales, v.Roll.Totals.Sales}, {"Packaging", head.Packaging, v.Roll.Totals.Packaging},
		{"Labour", head.Labour, v.Roll.Totals.Labour}, {"Discard", head.Discard, v.Roll.Totals.Discard},
		{"Ingredients", head.Ingredients, v.Roll.Totals.Ingredients},
		{"The carcass", head.Purchase, v.Roll.Totals.Purchase}, {"Value", head.Value, v.Roll.Totals.Value}} {
		sums.Rows = append(sums.Rows, []report.Cell{report.Text(x.name), w.moneyCell(x.head), w.moneyCell(x.week)})
	}
	seasons := report.Table{Title: "The year: each season’s week by its weeks",
		Columns: []string{"Season", "Weeks", "A week", "In the season"}}
	for _, x := range v.Seasons {
		name := x.Name
		if name == "" {
			name = "the rest of the year"
		}
		seasons.Rows = append(seasons.Rows,
			[]report.Cell{report.Text(name), plainCell(strconv.FormatFloat(x.Weeks, 'f', 1, 64), x.Weeks, "0.0"),
				w.moneyCell(x.Roll.Totals.Value), w.moneyCell(x.Value)})
	}
	seasons.Rows = append(seasons.Rows,
		[]report.Cell{report.Text("The year"), report.Text(""), report.Text(""), w.moneyCell(v.Year)})
	pieces := report.Table{Title: "Pieces, per carcass", Columns: []string{"Piece", "Weight", "Cut by", "Brings"}}
	for i, p := range v.Roll.Pieces {
		sales := p.Sales
		name, by := v.Pieces[i].Name(), p.Plan.Name
		if p.Whole != nil {
			by = "sold whole"
		}
		r.Bars = append(r.Bars, report.Bar{Name: name, Value: sales.Float(), Text: w.money(sales)})
		pieces.Rows = append(pieces.Rows,
			[]report.Cell{report.Text(name), w.massCell(p.Mass), report.Text(by), w.moneyCell(sales)})
	}
	lines := report.Table{Title: "Products, a week", Columns: []string{"Product", "Weight", "Beyond demand", "Brings"}}
	for _, l := range v.Roll.Lines {
		beyond := report.Text("")
		if l.Beyond > 0 {
			beyond = w.massCell(l.Beyond)
		}
		lines.Rows = append(lines.Rows, []report.Cell{report.Text(l.Name), w.massCell(l.Mass), beyond, w.moneyCell(l.Sales)})
	}
	r.Tables = []report.Table{sums, seasons, pieces, lines}
	return r
}

func (w reportWriter) best(v BestView) report.Report {
	minutes := float64(v.Solution.Minutes) / 100
	r := report.Report{Title: "Best use of what is ready", Sentence: v.Sentence, Notes: v.Notes,
		Figures: []report.Figure{figure("brings", w.moneyCell(v.Brings)),
			figure("bench minutes", plainCell(strconv.FormatFloat(minutes, 'f', 0, 64), minutes, "0"))},
		BarsTitle: "What each product brings", Bars: []report.Bar{}}
	if v.Hour != nil {
		r.Figures = append(r.Figures, figure("one more bench hour", w.signedCell(*v.Hour)))
	}
	pieces := report.Table{Title: "Each piece", Columns: []string{"Piece", "Lot", "Plan", "Why"}}
	for _, p := range v.Pieces {
		pieces.Rows = append(pieces.Rows,
			report.Texts(p.Card.Piece.Name, stock.PieceName(p.Card.Row), p.PlanName, p.Sentence))
	}
	sales := report.Table{Title: "Products",
		Columns: []string{"Product", "Weight", "At full price", "At the fallback", "Brings"}}
	for _, x := range v.Sales {
		sales.Rows = append(sales.Rows,
			[]report.Cell{report.Text(x.Name), w.massCell(x.Made), w.massCell(x.Full), w.massCell(x.Fallback),
				w.moneyCell(x.Value)})
		r.Bars = append(r.Bars, report.Bar{Name: x.Name, Value: x.Value.Float(), Text: w.money(x.Value)})
	}
	for _, x := range []struct {
		name string
		m    measure.Money
	}{{"Sales altogether", v.Brought}, {"Cutting, packaging and the bin", v.Costs.Neg()},
		{"Brings, before what the pieces cost", v.Brings}} {
		sales.Rows = append(sales.Rows,
			[]report.Cell{report.Text(x.name), report.Text(""), report.Text(""), report.Text(""), w.moneyCell(x.m)})
	}
	r.Tables = []report.Table{pieces, sales}
	return r
}

// The longest that a report is shared, in days, and the most that are at once.
const (
	maxShareDays = 90
	maxReport    = 1 << 20
)
