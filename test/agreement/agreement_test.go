// Package agreement holds every figure of a piece that a screen or a report shows against every other one that answers
// the same question.
package agreement

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"math"
	"math/big"
	"math/rand/v2"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"sync/atomic"
	"testing"
	"testing/fstest"
	"time"

	"falda/internal/api"
	"falda/internal/api/contract"
	"falda/internal/core/atlas"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
	"falda/internal/device"
	"falda/internal/store"
	"falda/internal/testdb"
	"falda/internal/work"
	"falda/internal/work/audit"
	"falda/internal/work/bench"
	"falda/internal/work/pricing"
	"falda/internal/work/stock"
)

func TestMain(m *testing.M) { os.Exit(testdb.Run(m)) }

// everyPiece is how many pieces each of the nine shops cuts.
const everyPiece = 24

// Rule: the same question has the same answer everywhere, to the smallest coin. Random pieces of every kind are cut at
// random, in shops of three currencies (of two, no and three decimals) and three time zones, over the change of the
// clocks; and what the page of the piece, the plans, the comparison, the desk, the history, a group of one, the board
// and the report say of each is held against each other. None of these questions writes.
func TestEveryScreenGivesTheSameFigure(t *testing.T) {
	seed := uint64(20261029)
	closed, kinds := 0, map[string]bool{}
	for i, currency := range []string{"EUR", "JPY", "KWD"} {
		for j, zone := range []string{"Pacific/Auckland", "America/Los_Angeles", "Europe/Dublin"} {
			t.Run(currency+" "+zone, func(t *testing.T) {
				s := open(t, currency, zone, rand.New(rand.NewPCG(seed, uint64(3*i+j))))
				for n := range everyPiece {
					closed += s.try(everyPiece*(3*i+j)+n, kinds)
				}
			})
		}
	}
	t.Logf("%d closed pieces of %d kinds agree", closed, len(kinds))
	if closed < 180 {
		t.Errorf("only %d pieces were closed", closed)
	}
}

// shop is a shop that cuts at random.
type shop struct {
	*testing.T
	w        *work.Rooms
	url      string
	owner    string
	token    string // of a session; days pass, and it is signed in anew for each piece
	ctx      context.Context
	now      time.Time
	bench    string
	currency measure.Currency
	places   int
	rng      *rand.Rand
	pieces   []atlas.Piece
	asking   atomic.Bool // what goes on is a question, which writes nothing
}

// writes are statements that change what is kept.
var writes = regexp.MustCompile(`(?i)^\s*(insert|update|delete|replace|truncate|alter|create|drop)\b`)

func open(t *testing.T, currency, zone string, rng *rand.Rand) *shop {
	t.Helper()
	gate, through := testdb.NewGate(t, testdb.DSN(t))
	// two days before Dublin's clocks change, two weeks after those of Los Angeles, nine days before Auckland's
	s := &shop{T: t, rng: rng, now: time.Date(2026, 3, 27, 5, 10, 0, 0, time.UTC), currency: measure.Currency(currency)}
	s.places = s.currency.Places()
	gate.Before(func(statement string) error {
		// a session notes when it was last used
		if s.asking.Load() && writes.MatchString(statement) && !strings.Contains(statement, "sessions") {
			t.Errorf("a question writes: %.200s", statement)
		}
		return nil
	})
	_, s.w = testdb.Bare(t, through, func() time.Time { return s.now })
	in := testdb.Shop
	in.Currency, in.TimeZone = currency, zone
	in.LabourRate, in.PackagingPerKg, in.DiscardPerKg = s.amount(9, 40), s.amount(0.02, 0.3), s.amount(0.05, 0.4)
	if _, err := s.w.People.SetUp(t.Context(), in, testdb.Accounts...); err != nil {
		t.Fatal(err)
	}
	who, err := s.w.People.First(t.Context(), "owner")
	if err != nil {
		t.Fatal(err)
	}
	s.ctx = audit.As(t.Context(), who)
	s.owner = who.Member
	quiet := slog.New(slog.NewTextHandler(io.Discard, nil))
	srv := httptest.NewServer(api.Handler(api.Options{Work: s.w, Log: quiet,
		Web: fstest.MapFS{"index.html": {Data: []byte("x")}}, Scales: func(store.Bench) *device.Scale { return nil }}))
	t.Cleanup(srv.Close)
	s.url = srv.URL + "/api/v1"
	view, err := s.w.Shop.Shop(s.ctx)
	if err != nil {
		t.Fatal(err)
	}
	s.bench = view.Benches[0].PublicID
	for _, p := range s.w.Atlas().Pieces {
		if len(p.Plans) > 1 {
			s.pieces = append(s.pieces, p)
		}
	}
	products, err := s.w.Pricing.Prices(s.ctx)
	if err != nil {
		t.Fatal(err)
	}
	list := [][]string{pricing.PriceColumns[:4]}
	for _, p := range products {
		list = append(list, []string{p.Key, p.Name, s.amount(0.4, 60), []string{"kg", "kg", "lb"}[rng.IntN(3)]})
	}
	lines, err := s.w.Pricing.ImportPrices(s.ctx, list, true)
	if err != nil {
		t.Fatal(err)
	}
	for _, l := range lines {
		if l.Fault != nil {
			t.Fatalf("price of %s: %v", l.Named, l.Fault)
		}
	}
	return s
}

// amount is a random amount of the currency, about as much as so many euros.
func (s *shop) amount(low, high float64) string {
	rate := map[measure.Currency]float64{"EUR": 1, "JPY": 170, "KWD": 0.36}[s.currency]
	least := math.Pow10(-s.currency.Places())
	return strconv.FormatFloat(max(least, (low+s.rng.Float64()*(high-low))*rate), 'f', s.currency.Places(), 64)
}

// get asks for a page, or sends a question; it must be answered.
func (s *shop) get(method, path string, body, out any) {
	s.Helper()
	raw, err := json.Marshal(body)
	if err != nil {
		s.Fatal(err)
	}
	req, err := http.NewRequestWithContext(s.Context(), method, s.url+path, bytes.NewReader(raw))
	if err != nil {
		s.Fatal(err)
	}
	req.Header.Set("Content-Type", "application/json")
	req.AddCookie(&http.Cookie{Name: "falda-session", Value: s.token})
	s.asking.Store(true)
	defer s.asking.Store(false)
	res, err := http.DefaultClient.Do(req)
	if err != nil {
		s.Fatal(err)
	}
	defer res.Body.Close()
	answer, err := io.ReadAll(res.Body)
	if err != nil || res.StatusCode != http.StatusOK {
		s.Fatalf("%s %s: %d %s", method, path, res.StatusCode, answer)
	}
	var all any
	if err := json.Unmarshal(answer, &all); err != nil {
		s.Fatalf("%s %s: %v", method, path, err)
	}
	s.decimals(path, all)
	if err := json.Unmarshal(answer, out); err != nil {
		s.Fatalf("%s %s: %v", method, path, err)
	}
}

// decimals finds every amount in an answer, which are texts of digits, and looks that it has the decimals of the
// currency.
func (s *shop) decimals(at string, v any) {
	s.Helper()
	switch v := v.(type) {
	case map[string]any:
		for k, x := range v {
			if !slices.Contains(notAmounts, k) {
				s.decimals(at+"."+k, x)
			}
		}
	case []any:
		for _, x := range v {
			s.decimals(at, x)
		}
	case string:
		if isAmount.MatchString(v) {
			s.amountOf(at, v)
		}
	}
}

var isAmount = regexp.MustCompile(`^-?\d+(\.\d+)?$`)

// notAmounts are fields whose texts of digits are no amounts.
var notAmounts = []string{"item_numbers", "code", "weight", "grade"}

// amountOf reads an amount, which must have the decimals of its currency where it is one.
func (s *shop) amountOf(what, text string) *big.Rat {
	s.Helper()
	r, ok := new(big.Rat).SetString(text)
	if !ok {
		s.Fatalf("%s is no amount: %q", what, text)
	}
	if _, decimals, _ := strings.Cut(text, "."); len(decimals) != s.places {
		s.Errorf("%s is %s: it has not the %d decimals of %s", what, text, s.places, s.currency)
	}
	return r
}

// same holds two figures for the same question against each other.
func (s *shop) same(what, a, b string) {
	s.Helper()
	if a != b {
		s.Errorf("%s: %s and %s", what, a, b)
	}
}

// adds holds a sum of shown figures against the total that is shown.
func (s *shop) adds(what, total string, parts ...string) {
	s.Helper()
	sum := new(big.Rat)
	for _, p := range parts {
		sum.Add(sum, s.amountOf(what, p))
	}
	if sum.Cmp(s.amountOf(what, total)) != 0 {
		s.Errorf("%s: the lines add up to %s, the total is %s", what, sum.FloatString(s.places), total)
	}
}

func minus(a string) string {
	if rest, ok := strings.CutPrefix(a, "-"); ok {
		return rest
	}
	return "-" + a
}

// try receives, plans, cuts and closes a piece at random and holds its figures against each other. It gives the number
// of pieces that agree.
func (s *shop) try(n int, kinds map[string]bool) int {
	s.Helper()
	s.now = s.now.Add(time.Duration(s.rng.IntN(14*60)) * time.Minute)
	var err error
	if s.token, err = s.w.People.SignInDemo(s.Context(), s.owner, audit.Where{}); err != nil {
		s.Fatal(err)
	}
	p := s.pieces[n%len(s.pieces)]
	kinds[p.ID] = true
	plan := p.Plans[s.rng.IntN(len(p.Plans))]
	other := p.Plans[(s.rng.IntN(len(p.Plans)-1)+1+indexOf(p, plan))%len(p.Plans)]
	weight := fmt.Sprintf("%.3f", p.WeightKg.Typical*(0.8+0.4*s.rng.Float64()))
	paid := s.amount(5, 25)
	supplier := fmt.Sprintf("Farm %d", n)
	lot, err := s.w.Stock.Receive(s.ctx,
		stock.Arrival{AtlasID: p.ID, Pieces: 1, Weight: weight, WeightUnit: "kg", Price: paid, PricePer: "kg",
			SlaughteredOn: s.now.AddDate(0, 0, -30).Format(time.DateOnly),
			PackedOn:      s.now.AddDate(0, 0, -28).Format(time.DateOnly), Supplier: supplier,
			LotNumber: fmt.Sprintf("A-%d", n)})
	if err != nil {
		s.Fatalf("%s: %v", p.ID, err)
	}
	piece := lot.Pieces[0].PublicID
	s.forecasts(p, piece, plan.ID, other.ID, weight, paid)
	v, err := s.w.Compare.Piece(s.ctx, piece)
	if err != nil {
		s.Fatal(err)
	}
	if err := s.w.Stock.ChoosePlan(s.ctx, piece, stock.PlanPick{PlanID: plan.ID}, v.Card.Row.Piece.Version); err != nil {
		s.Fatalf("%s %s: %v", p.ID, plan.ID, err)
	}
	board := s.cut(piece, plan)
	if s.Failed() {
		return 0
	}
	s.agree(p, board.Breakdown.PublicID, other.ID, supplier, lot.Cost.String())
	if s.Failed() {
		s.Fatalf("piece %d: %s by %s", n, p.ID, plan.ID)
	}
	return 1
}

func indexOf(p atlas.Piece, plan atlas.Plan) int {
	for i := range p.Plans {
		if p.Plans[i].ID == plan.ID {
			return i
		}
	}
	return 0
}

// forecasts holds what the page of a piece says of two plans before it is cut against the page of plans and the desk.
func (s *shop) forecasts(p atlas.Piece, piece, a, b, weight, paid string) {
	s.Helper()
	var page contract.PieceDetail
	s.get("GET", "/pieces/"+piece, nil, &page)
	var pair contract.PlanComparison
	s.get("POST", "/plans/"+p.ID+"/compare",
		map[string]any{"a": map[string]any{"plan_id": a}, "b": map[string]any{"plan_id": b}, "weight": weight,
			"weight_unit": "kg", "price": paid, "price_per": "kg"}, &pair)
	var desk contract.Desk
	alternative := func(plan string) map[string]any {
		return map[string]any{"kind": "plan", "atlas_id": p.ID, "plan_id": plan, "weight": weight, "weight_unit": "kg"}
	}
	s.get("POST", "/comparisons",
		map[string]any{"alternatives": []any{alternative(a), alternative(b)}, "block_price": paid, "block_price_per": "kg"},
		&desk)
	for i, plan := range []string{a, b} {
		said := []contract.PlanForecast{pair.A, pair.B}[i]
		found := false
		for _, f := range page.Forecast.Plans {
			if f.Plan.Id != plan {
				continue
			}
			found = true
			s.same("value by plan, piece and plans", f.Totals.Value, said.Totals.Value)
			s.same("sales by plan, piece and plans", f.Totals.Sales, said.Totals.Sales)
			s.same("value by plan, piece and desk", f.Totals.Value, desk.Alternatives[i].Totals.Value)
			s.same("a kilogram by plan, piece and desk", f.Totals.PerKg, desk.Alternatives[i].Totals.PerKg)
		}
		if !found {
			s.Errorf("the page of the piece lacks the plan %s", plan)
		}
		s.statement("forecast of "+plan, said)
	}
	s.adds("two plans, difference", pair.Difference, pair.B.Totals.Value, minus(pair.A.Totals.Value))
	s.same("two plans, difference a kilogram, plans and desk", pair.DifferencePerKg, desk.Pairs[0].PerKg)
	s.same("two plans, difference, plans and desk", pair.Difference, desk.Pairs[0].PerPiece)
}

// statement holds the lines of a statement against its totals.
func (s *shop) statement(what string, f contract.PlanForecast) {
	s.Helper()
	var values []string
	for _, r := range f.Products {
		if r.Key != "" {
			values = append(values, r.Value)
		}
	}
	s.adds(what+", sales", f.Totals.Sales, values...)
	s.adds(what+", value", f.Totals.Value, f.Totals.Sales, minus(f.Totals.Packaging), minus(f.Totals.Labour),
		minus(f.Totals.Discard), minus(f.Totals.Purchase))
}

// cut cuts a piece at random: things are weighed out of proportion, in parts, left out, undone, thrown away, and
// muscles are opened.
func (s *shop) cut(piece string, plan atlas.Plan) bench.BoardView {
	s.Helper()
	b, err := s.w.Bench.StartBreakdown(s.ctx, piece, s.bench)
	if err != nil {
		s.Fatal(err)
	}
	id := b.Breakdown.PublicID
	book := func(e seam.Event) bool {
		s.Helper()
		s.now = s.now.Add(time.Duration(20+s.rng.IntN(100)) * time.Second)
		e.ID, e.At, e.Bench = store.NewID(), s.now, s.bench
		if e.Net > 0 {
			e.Gross, e.Division, e.Source = e.Net, 5*measure.Gram, "typed"
		}
		next, err := s.w.Bench.Book(s.ctx, id, e)
		if err != nil {
			s.Errorf("%s %s%s: %v", e.Kind, e.Part, e.Product, err)
			return false
		}
		b = next
		return true
	}
	whole := func(m float64) measure.Mass { return measure.Mass(max(1, math.Round(m/5000))) * 5 * measure.Gram }
	if !book(seam.Event{Kind: seam.Opened, Net: whole(float64(b.Card.Weight) * (0.97 + 0.03*s.rng.Float64()))}) {
		return b
	}
	share := 0.95 + 0.05*s.rng.Float64()
	for _, e := range b.Expected {
		m := whole(float64(e.Mass) * share * (0.8 + 0.2*s.rng.Float64()))
		ev := e.Booked(m)
		switch ev.Kind {
		case seam.Portioned:
			ev.Count = s.rng.IntN(5)
		case seam.Parted: // no less than what is then cut from it
			ev.Net = whole(float64(e.Mass))
		}
		switch chance := s.rng.IntN(12); {
		case chance == 0: // not weighed
			continue
		case chance == 1 && m > 20*measure.Gram && ev.Kind != seam.SeamedOff && ev.Kind != seam.Parted: // in two goes
			half := ev
			half.Net = whole(float64(m) / 2)
			if book(half) {
				ev.Net = m - half.Net
			}
		case chance == 2: // on the wrong one, and back
			if book(ev) {
				book(seam.Event{Kind: seam.Undone, Target: b.Board.Nodes[len(b.Board.Nodes)-1].ID})
			}
		}
		if !book(ev) {
			return b
		}
		if ev.Kind == seam.SeamedOff && s.rng.IntN(3) == 0 {
			s.open(b.Board.Nodes[len(b.Board.Nodes)-1].ID, ev, plan, book)
		}
	}
	end := seam.Event{Kind: seam.Closed, Reason: "as found"}
	if s.rng.IntN(2) == 0 {
		minutes := float64(s.rng.IntN(400)) / 10
		end.Minutes = &minutes
	}
	book(end)
	if !b.Board.Closed() && !s.Failed() {
		s.Error("it is not closed")
	}
	return b
}

// open cuts a muscle that is off into a product of the plan and fat, and finishes it with a loss.
func (s *shop) open(node string, off seam.Event, plan atlas.Plan, book func(seam.Event) bool) {
	for _, pr := range plan.Products {
		if pr.From[off.Part] > 0 && pr.Form != atlas.FormPiece {
			m := off.Net / 2 / (5 * measure.Gram) * 5 * measure.Gram
			if m > 0 && book(seam.Event{Kind: seam.Portioned, Node: node, Product: pr.ID, Net: m, Count: 1 + s.rng.IntN(4)}) {
				if rest := off.Net / 4 / (5 * measure.Gram) * 5 * measure.Gram; rest > 0 {
					book(seam.Event{Kind: seam.Discarded, Node: node, Net: rest, Reason: "blood-shot"})
				}
				book(seam.Event{Kind: seam.Closed, Node: node, Reason: "dropped"})
			}
			return
		}
	}
}

// agree holds all that is said of a closed piece against each other.
func (s *shop) agree(p atlas.Piece, id, other, supplier, cost string) {
	s.Helper()
	var c contract.Comparison
	s.get("GET", "/breakdowns/"+id+"/comparison?baseline="+other, nil, &c)
	s.statement("as cut", c.Recorded)
	s.statement("the other way", c.Baseline)
	s.adds("comparison, difference", c.Difference, c.Recorded.Totals.Value, minus(c.Baseline.Totals.Value))
	var steps []string
	for _, b := range c.Bridge {
		steps = append(steps, b.Change)
	}
	s.adds("comparison, bridge", c.Difference, steps...)
	s.same("what the piece cost, lot and comparison", cost, c.Recorded.Totals.Purchase)
	s.same("both ways pay the same for the block", c.Recorded.Totals.Purchase, c.Baseline.Totals.Purchase)
	t := c.Recorded.Totals
	var costs []string
	for _, r := range c.Costs {
		costs = append(costs, r.Cost)
	}
	if len(costs) > 0 {
		sum := new(big.Rat)
		for _, x := range []string{t.Purchase, t.Labour, t.Discard, t.Packaging} {
			sum.Add(sum, s.amountOf("costs", x))
		}
		s.adds("what each product cost", sum.FloatString(s.places), costs...)
	}

	// the desk, by the same way of sharing costs
	var d contract.Desk
	piece := map[string]any{"kind": "piece", "breakdown_id": id}
	group := map[string]any{"kind": "group", "atlas_id": p.ID, "supplier": supplier}
	ask := map[string]any{"alternatives": []any{map[string]any{"kind": "plan", "atlas_id": p.ID, "plan_id": other}, piece,
		group}, "method": c.CostMethod}
	s.get("POST", "/comparisons", ask, &d)
	for i, f := range []contract.PlanForecast{c.Baseline, c.Recorded} {
		x := d.Alternatives[i]
		s.same(x.Name+": value, comparison and desk", f.Totals.Value, x.Totals.Value)
		s.same(x.Name+": sales, comparison and desk", f.Totals.Sales, x.Totals.Sales)
		s.same(x.Name+": labour, comparison and desk", f.Totals.Labour, x.Totals.Labour)
		s.same(x.Name+": packaging, comparison and desk", f.Totals.Packaging, x.Totals.Packaging)
		s.same(x.Name+": purchase, comparison and desk", f.Totals.Purchase, x.Totals.Purchase)
		s.same(x.Name+": a kilogram, comparison and desk", f.Totals.PerKg, x.Totals.PerKg)
		s.same(x.Name+": a usable kilogram, comparison and desk", f.UsableCostPerKg, x.UsableCostPerKg)
		if math.Abs(f.SaleablePct-x.SaleablePct) > 1e-9 {
			s.Errorf("%s: saleable %v and %v", x.Name, f.SaleablePct, x.SaleablePct)
		}
	}
	for _, x := range d.Alternatives {
		for _, l := range x.Totals.Lines {
			s.adds(x.Name+": the lines for a "+l.Per, l.Value, l.Sales, minus(l.Packaging), minus(l.Labour), minus(l.Discard),
				minus(l.Purchase))
			if l.Per == "kg" {
				s.same(x.Name+": a kilogram, lines and total", l.Value, x.Totals.PerKg)
			}
		}
	}
	s.same("lead, comparison and desk", c.Difference, d.Pairs[0].PerPiece)
	s.same("lead a kilogram, comparison and desk", c.DifferencePerKg, d.Pairs[0].PerKg)
	s.same("cost rows", strconv.Itoa(len(c.Costs)), strconv.Itoa(len(d.Alternatives[1].Costs)))
	for i := range min(len(c.Costs), len(d.Alternatives[1].Costs)) {
		s.same("cost of "+c.Costs[i].Name, c.Costs[i].Cost, d.Alternatives[1].Costs[i].Cost)
		s.same("sales of "+c.Costs[i].Name, c.Costs[i].Sales, d.Alternatives[1].Costs[i].Sales)
	}
	s.same("a group of one, a kilogram", d.Alternatives[1].Totals.PerKg, d.Alternatives[2].Totals.PerKg)
	s.same("a group of one, sales", d.Alternatives[1].Totals.Sales, d.Alternatives[2].Totals.Sales)
	s.same("a group of one, value", d.Alternatives[1].Totals.Value, d.Alternatives[2].Totals.Value)
	for i, pair := range d.Pairs {
		for name, list := range map[string][]contract.BridgeStep{"muscle": pair.ByMuscle, "cause": pair.ByCause} {
			var steps []string
			for _, b := range list {
				steps = append(steps, b.Change)
			}
			s.adds(fmt.Sprintf("desk, pair %d, by %s", i, name), pair.PerKg, steps...)
		}
	}

	// the board and the log: one loss
	var b contract.Board
	s.get("GET", "/breakdowns/"+id, nil, &b)
	loss, waste := 0.0, 0.0
	for _, r := range c.Recorded.Products {
		switch r.Kind {
		case "loss":
			loss += r.WeightG
		case "waste":
			waste += r.WeightG
		}
	}
	said := 0.0
	if b.Balance.LossG != nil {
		said = *b.Balance.LossG
	}
	if math.Abs(loss-said) > 0.0005 {
		s.Errorf("lost: %v g in the comparison, %v g on the board", loss, said)
	}

	// the history of the one supplier
	var h contract.HistoryPieces
	s.get("GET",
		"/history/pieces?by=supplier&measure=value&atlas_id="+url.QueryEscape(p.ID)+"&bucket="+url.QueryEscape(supplier), nil,
		&h)
	if len(h.Pieces) != 1 || h.Pieces[0].BreakdownId != id {
		s.Fatalf("the history of %s: %+v", supplier, h.Pieces)
	}
	row := h.Pieces[0]
	s.same("a kilogram, history", strconv.FormatFloat(row.PerKg, 'f', s.places, 64), t.PerKg)
	if math.Abs(row.Minutes-t.Minutes) > 0.06 || math.Abs(row.SaleablePct-c.Recorded.SaleablePct) > 0.006 ||
		math.Abs(row.LossPct-c.Recorded.LossPct) > 0.006 {
		s.Errorf("history: %+v, comparison %v minutes, %v saleable, %v lost", row, t.Minutes, c.Recorded.SaleablePct,
			c.Recorded.LossPct)
	}

	// the report: each figure of the desk stands in it as the desk has it
	var r struct {
		Report     contract.Report
		Comparison contract.Desk
	}
	ask["alternatives"] = ask["alternatives"].([]any)[:2]
	s.get("POST", "/reports?format=json", map[string]any{"kind": "comparison", "comparison": ask}, &r)
	bars := 0.0
	for _, b := range r.Report.Bars {
		bars += b.Value
	}
	if lead, _ := s.amountOf("lead", c.DifferencePerKg).Float64(); math.Abs(bars-lead) > 1e-6 {
		s.Errorf("the bars of the report add up to %.4f, the lead is %s", bars, c.DifferencePerKg)
	}
	s.same("lead, desk and the report's data", d.Pairs[0].PerKg, r.Comparison.Pairs[0].PerKg)
	text := fmt.Sprintf("%+v", r.Report)
	for _, want := range []string{c.Difference, c.DifferencePerKg} {
		amount, ok := new(big.Rat).SetString(want)
		if !ok {
			s.Fatal(want)
		}
		m, err := measure.ParseMoney(strings.TrimPrefix(want, "-"))
		if err != nil {
			s.Fatal(err)
		}
		if words := s.currency.Text(s.currency.Of(m)); amount.Sign() != 0 && !strings.Contains(text, words) {
			s.Errorf("the report does not say %s: %s", words, text)
		}
	}
}
