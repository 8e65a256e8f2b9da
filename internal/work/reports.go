package work

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strconv"
	"strings"
	"time"

	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/report"
	"falda/internal/secret"
	"falda/internal/store"
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
	shop, err := s.shop(ctx)
	if err != nil {
		return r, nil, err
	}
	w := words{shop: shop}
	switch in.Kind {
	case ReportComparison:
		r, of, err = made(w.comparison)(s.CompareSides(ctx, in.Desk))
	case ReportTrial:
		r, of, err = made(w.trial)(s.Trial(ctx, in.TrialID))
	case ReportCarcass:
		r, of, err = made(w.carcass)(s.CarcassValue(ctx, in.CarcassID, in.Carcass))
	case ReportBestUse:
		r, of, err = made(w.best)(s.BestUse(ctx, in.Best))
	default:
		err = fault.New("kind", "unknown", "“"+clip(in.Kind)+"” is not a kind of report", "Use comparison, trial, carcass or best_use.")
	}
	r.Shop, r.MadeAt = shop.Name, s.now()
	return r, of, err
}

// made writes a view as a report where there is one.
func made[V any](write func(V) report.Report) func(V, error) (report.Report, any, error) {
	return func(v V, err error) (report.Report, any, error) {
		if err != nil {
			return report.Report{}, nil, err
		}
		return write(v), v, nil
	}
}

// words writes amounts as the shop sets them.
type words struct{ shop Shop }

func (w words) money(m measure.Money) string { return w.shop.Money.Text(m) }

// signed is an amount with its sign.
func (w words) signed(m measure.Money) string {
	switch m.Sign() {
	case 1:
		return "+" + w.money(m)
	case -1:
		return "−" + w.money(m.Abs())
	}
	return w.money(m)
}

// per is an amount per kg in the shop's unit.
func (w words) per(m measure.Money) measure.Money {
	return m.Times(w.shop.Unit.Kilograms())
}

func (w words) mass(m measure.Mass) string { return m.Text(w.shop.Unit, 2) }

func (w words) unit() string { return string(w.shop.Unit) }

func pctText(f float64) string { return strconv.FormatFloat(f, 'f', 1, 64) + " %" }

// shownLeast is the least that a bar shows: half a cent.
var shownLeast = measure.MoneyOf(5, 1000)

func (w words) comparison(v DeskView) report.Report {
	p := v.Pairs[len(v.Pairs)-1]
	r := report.Report{Title: "Comparison: " + v.Sides[0].Piece.Name, Sentence: p.Sentence, Notes: v.Basis, BarsTitle: "From " + p.A.Name + " to " + p.B.Name + ", muscle by muscle, a " + w.unit() + " of block"}
	r.Figures = []report.Figure{{Label: "a " + w.unit() + " of block", Value: w.signed(w.per(p.Lead))}, {Label: "on the piece", Value: w.signed(p.PerPiece)}}
	if p.PerHour != nil {
		r.Figures = append(r.Figures, report.Figure{Label: "an extra bench hour", Value: w.signed(*p.PerHour)})
	}
	if p.PerSide != nil {
		r.Figures = append(r.Figures, report.Figure{Label: "a " + v.Sides[0].SideOf, Value: w.signed(*p.PerSide)})
	}
	for _, s := range p.ByPart {
		if s.Change.Abs().Cmp(shownLeast) >= 0 {
			r.Bars = append(r.Bars, report.Bar{Name: s.Name, Value: s.Change.Float(), Text: w.signed(w.per(s.Change))})
		}
	}
	sides := report.Table{Title: "The sides, a " + w.unit() + " of block", Columns: []string{"", "Sales", "Packaging", "Labour", "Discard", "Block", "Value", "Worth at most"}}
	for _, s := range v.Sides {
		row := []string{s.Name}
		for _, m := range []measure.Money{s.Sales(), s.Packaging, s.Labour, s.Discard, s.Purchase, s.Value()} {
			row = append(row, w.money(w.per(s.PerKg(m))))
		}
		sides.Rows = append(sides.Rows, append(row, w.money(w.per(s.MaxBlock))))
	}
	causes := report.Table{Title: "By cause, a " + w.unit() + " of block", Columns: []string{"", "Change"}}
	for _, s := range p.ByCause {
		causes.Rows = append(causes.Rows, []string{s.Name, w.signed(w.per(s.Change))})
	}
	last := v.Sides[len(v.Sides)-1]
	costs := report.Table{Title: "What each product of " + last.Name + " cost, a " + w.unit(), Columns: []string{"", "Weight", "Sells at", "Cost", "Margin", "At least"}}
	for _, c := range last.Costs.Products {
		if kg := c.Mass.In(measure.UnitKilogram); kg.Sign() > 0 {
			margin := ""
			if c.MarginPct != nil {
				f, _ := c.MarginPct.Float64()
				margin = pctText(f * 100)
			}
			costs.Rows = append(costs.Rows, []string{c.Name, w.mass(c.Mass), w.money(w.per(c.Sales.Over(kg))), w.money(w.per(c.Cost().Over(kg))), margin, w.money(w.per(c.MinPerKg))})
		}
	}
	r.Tables = []report.Table{sides, causes, costs}
	if len(v.Pairs) > 1 {
		all := report.Table{Title: "All against " + v.Sides[0].Name, Columns: []string{"", "a " + w.unit() + " of block", "on the piece"}}
		for _, x := range v.Pairs {
			all.Rows = append(all.Rows, []string{x.B.Name, w.signed(w.per(x.Lead)), w.signed(x.PerPiece)})
		}
		r.Tables = append([]report.Table{all}, r.Tables...)
	}
	return r
}

func (w words) trial(v TrialView) report.Report {
	r := report.Report{Title: "Trial: " + v.Name, Sentence: v.Sentence, BarsTitle: "“" + v.NameB + "” less “" + v.NameA + "”, a kilogram, pair by pair", Bars: []report.Bar{},
		Notes: []string{"Value a kilogram after all costs, at the prices of the day each piece was closed. Which side was cut which way was drawn.", "A pair far from the rest is marked and counts; a piece without its mate does not."}}
	pairs := report.Table{Title: "Pairs", Columns: []string{"Pair", v.NameA, v.NameB, "Difference"}}
	text := func(f float64) string { return strconv.FormatFloat(f, 'f', 2, 64) }
	for _, p := range v.Pairs {
		row := []string{strconv.Itoa(p.Number), "to cut", "to cut", "waits for its mate"}
		if p.A.Closed {
			row[1] = text(p.A.PerKg)
		}
		if p.B.Closed {
			row[2] = text(p.B.PerKg)
		}
		if p.Complete {
			row[3] = fmt.Sprintf("%+.2f", p.Difference)
			if p.Outlier {
				row[3] += ", far from the rest"
			}
			r.Bars = append(r.Bars, report.Bar{Name: "Pair " + row[0], Value: p.Difference, Text: fmt.Sprintf("%+.2f", p.Difference)})
		}
		pairs.Rows = append(pairs.Rows, row)
	}
	r.Tables = append(r.Tables, pairs)
	if x := v.Result; x != nil && x.Enough {
		r.Figures = []report.Figure{{Label: "mean difference", Value: fmt.Sprintf("%+.2f", x.Mean)}, {Label: "95 % interval", Value: fmt.Sprintf("%+.2f to %+.2f", x.Low, x.High)}, {Label: "t, degrees, p", Value: fmt.Sprintf("%.2f, %g, %.4f", x.T, x.DF, x.P)}}
	}
	if len(v.Muscles) > 0 {
		t := report.Table{Title: "Yield of each muscle, percentage points", Columns: []string{"Muscle", "Difference", "p", "p, corrected"}}
		for _, m := range v.Muscles {
			t.Rows = append(t.Rows, []string{m.Muscle.Name, fmt.Sprintf("%+.2f", m.Result.Mean), fmt.Sprintf("%.3f", m.Result.P), fmt.Sprintf("%.3f", m.P)})
		}
		r.Tables = append(r.Tables, t)
		r.Notes = append(r.Notes, "Whoever asks of many muscles finds something by chance: p is corrected for that (Holm).")
	}
	return r
}

func (w words) carcass(v CarcassView) report.Report {
	t := v.Roll.Totals
	r := report.Report{Title: v.Carcass.Name + ", " + w.mass(v.Weight), Sentence: v.Sentence, Notes: []string{v.Basis}, BarsTitle: "What each piece brings, a head, at full prices"}
	r.Figures = []report.Figure{{Label: "a head", Value: w.money(v.Roll.PerHead(t.Value))}, {Label: fmt.Sprintf("a week of %d", v.Roll.Heads), Value: w.money(t.Value)}, {Label: "a year", Value: w.money(v.Year)}, {Label: "minutes a head", Value: strconv.FormatFloat(v.Minutes, 'f', 0, 64)}}
	pieces := report.Table{Title: "Pieces, a head", Columns: []string{"Piece", "Weight", "Cut by", "Brings"}}
	for i, p := range v.Roll.Pieces {
		sales := v.Roll.PerHead(p.Sales)
		r.Bars = append(r.Bars, report.Bar{Name: v.Pieces[i].Piece.Name, Value: sales.Float(), Text: w.money(sales)})
		pieces.Rows = append(pieces.Rows, []string{v.Pieces[i].Piece.Name, w.mass(p.Mass), p.Plan.Name, w.money(sales)})
	}
	lines := report.Table{Title: "Products, a week", Columns: []string{"Product", "Weight", "Beyond demand", "Brings"}}
	for _, l := range v.Roll.Lines {
		beyond := ""
		if l.Beyond > 0 {
			beyond = w.mass(l.Beyond)
		}
		lines.Rows = append(lines.Rows, []string{l.Name, w.mass(l.Mass), beyond, w.money(l.Sales)})
	}
	r.Tables = []report.Table{pieces, lines}
	return r
}

func (w words) best(v BestView) report.Report {
	r := report.Report{Title: "Best use of what is ready", Sentence: v.Sentence, Notes: v.Notes, Figures: []report.Figure{{Label: "brings", Value: w.money(v.Solution.Value)}, {Label: "bench minutes", Value: strconv.FormatFloat(float64(v.Solution.Minutes)/100, 'f', 0, 64)}}, BarsTitle: "What each product brings", Bars: []report.Bar{}}
	if v.Hour != nil {
		r.Figures = append(r.Figures, report.Figure{Label: "one more bench hour", Value: w.signed(*v.Hour)})
	}
	pieces := report.Table{Title: "Each piece", Columns: []string{"Piece", "Lot", "Plan", "Why"}}
	for _, p := range v.Pieces {
		pieces.Rows = append(pieces.Rows, []string{p.Card.Piece.Name, pieceName(p.Card.Hung), p.PlanName, p.Sentence})
	}
	sales := report.Table{Title: "Products", Columns: []string{"Product", "Weight", "At full price", "At the fallback", "Brings"}}
	for _, x := range v.Sales {
		sales.Rows = append(sales.Rows, []string{x.Name, w.mass(x.Made), w.mass(x.Full), w.mass(x.Fallback), w.money(x.Value)})
		r.Bars = append(r.Bars, report.Bar{Name: x.Name, Value: x.Value.Float(), Text: w.money(x.Value)})
	}
	r.Tables = []report.Table{pieces, sales}
	return r
}

// The longest that a report is shared, in days, and the most that are at once.
const (
	mostShareDays = 90
	mostReport    = 1 << 20
)

// ShareReport keeps a report as it is now and gives the secret of the link that shows it; it is given here and never again.
func (s *Service) ShareReport(ctx context.Context, in ReportAsk, days int) (row store.Share, link string, err error) {
	who, err := caller(ctx)
	if err != nil {
		return row, "", err
	}
	if days < 1 || days > mostShareDays {
		return row, "", fault.New("days", "out_of_range", fmt.Sprintf("must be from 1 to %d", mostShareDays), "Say for how many days it is to be shown.")
	}
	r, _, err := s.Report(ctx, in)
	if err != nil {
		return row, "", err
	}
	raw, err := json.Marshal(r)
	if err != nil {
		return row, "", err
	}
	if len(raw) > mostReport {
		return row, "", fault.New("report", "too_large", "is too large to share", "Compare less at once.")
	}
	link = secret.NewToken("fr_")
	row = store.Share{PublicID: NewID(), ShopID: who.ShopID, Secret: secret.Digest(link), Title: strings.ToValidUTF8(clip(r.Title), ""), Report: raw, MadeBy: who.Name, CreatedAt: s.now(), ExpiresAt: s.now().AddDate(0, 0, days)}
	if who.MemberID != 0 {
		row.MemberID = &who.MemberID
	}
	err = s.recorded(ctx, func(tx *store.Store) (change, error) {
		row.ID = 0
		return change{Action: "report.shared", Subject: row.PublicID, SubjectName: row.Title, Became: map[string]any{"days": days, "kind": in.Kind}}, tx.CreateShare(ctx, &row)
	})
	return row, link, err
}

// Shares lists what is shared, or was.
func (s *Service) Shares(ctx context.Context) ([]store.Share, error) {
	who, err := caller(ctx)
	if err != nil {
		return nil, err
	}
	return s.store.Shares(ctx, who.ShopID)
}

// EndShare ends a share before its time.
func (s *Service) EndShare(ctx context.Context, id string) error {
	who, err := caller(ctx)
	if err != nil {
		return err
	}
	return s.recorded(ctx, func(tx *store.Store) (change, error) {
		if err := tx.EndShare(ctx, who.ShopID, id, s.now()); err != nil {
			if errors.Is(err, store.ErrConflict) { // there is none, or it has ended
				err = store.ErrNotFound
			}
			return change{}, err
		}
		return change{Action: "report.unshared", Subject: id, SubjectName: id}, nil
	})
}

// Shared gives a shared report by the secret of its link, to whoever has it.
func (s *Service) Shared(ctx context.Context, link string) (report.Report, time.Time, error) {
	var r report.Report
	x, err := s.store.SharedBy(ctx, secret.Digest(link), s.now())
	if err != nil {
		return r, time.Time{}, err
	}
	return r, x.ExpiresAt, json.Unmarshal(x.Report, &r)
}
