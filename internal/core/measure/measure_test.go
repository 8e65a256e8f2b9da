package measure

import (
	"errors"
	"math"
	"math/big"
	"math/rand/v2"
	"testing"

	"falda/internal/core/fault"
)

// Source: international yard and pound agreement, 1959: 1 lb = 0.45359237 kg exactly; 1 oz = 1/16 lb. The pairs of
// weights are those of job.md's rules of thumb (common practice, no source), which give both units rounded.
func TestUnits(t *testing.T) {
	for _, c := range []struct {
		text string
		unit Unit
		mg   Mass
	}{
		{"1", UnitPound, 453_592}, {"100", UnitPound, 45_359_237}, {"16", UnitOunce, 453_592},
		{"1600", UnitOunce, 45_359_237}, {"1", UnitKilogram, 1_000_000}, {"6,60", UnitKilogram, 6_600_000},
		{"5", UnitGram, 5000}, {"0.0005", UnitGram, 1},
	} {
		got, err := ParseMass(c.text, c.unit)
		if err != nil || got != c.mg {
			t.Errorf("ParseMass(%q, %s) = %d, %v; want %d mg", c.text, c.unit, got, err, c.mg)
		}
	}
	for pounds, kg := range map[string]string{"25": "11.3 kg", "33": "15.0 kg", "2": "0.9 kg", "3.5": "1.6 kg",
		"1.5": "0.7 kg"} {
		m, err := ParseMass(pounds, UnitPound)
		if err != nil || m.Text(UnitKilogram, 1) != kg {
			t.Errorf("%s lb = %s, %v; want %s", pounds, m.Text(UnitKilogram, 1), err, kg)
		}
	}
	if lb, oz := Mass(45_359_237).PoundsOunces(); lb != 100 || oz != 0 {
		t.Errorf("100 lb splits into %d lb %.1f oz", lb, oz)
	}
	if lb, oz := Mass(453_591).PoundsOunces(); lb != 1 || oz != 0 {
		t.Errorf("15.99996 oz shows as %d lb %.1f oz, want 1 lb 0 oz", lb, oz)
	}
}

func TestParseNumberRefuses(t *testing.T) {
	for text, code := range map[string]string{
		"": "required", "  ": "required", "abc": "not_a_number", "1.2.3": "not_a_number", "1,000.5": "not_a_number",
		"1e5": "not_a_number", "--1": "not_a_number", "+-1": "not_a_number", ".": "not_a_number", "1/2": "not_a_number",
		"0x10": "not_a_number", "١٢": "not_a_number", "1234567890123456789012": "too_long", "1 000": "not_a_number",
		"Inf": "not_a_number", "NaN": "not_a_number", "1_0": "not_a_number",
	} {
		_, err := ParseNumber(text)
		if f := fault.Of(err); len(f) != 1 || f[0].Code != code {
			t.Errorf("ParseNumber(%q) gave %v, want code %s", text, err, code)
		}
	}
	for text, want := range map[string]string{"12": "12", "-3.50": "-7/2", "0,25": "1/4", ".5": "1/2", "7.": "7",
		"+1": "1", " 2 ": "2", "−4.5": "-9/2"} {
		got, err := ParseNumber(text)
		if err != nil || got.RatString() != want {
			t.Errorf("ParseNumber(%q) = %v, %v; want %s", text, got, err, want)
		}
	}
	if _, err := ParseMass("10001", UnitKilogram); fault.Of(err) == nil {
		t.Error("more than ten tonnes was accepted")
	}
	if _, err := ParsePrice("-1", UnitKilogram); fault.Of(err) == nil {
		t.Error("a price below zero was accepted")
	}
	if _, err := ParsePrice("1", UnitOunce); fault.Of(err) == nil {
		t.Error("a price per ounce was accepted")
	}
}

// Rule: money rounds once, half away from zero.
func TestRounding(t *testing.T) {
	for text, want := range map[string]string{"0.005": "0.01", "-0.005": "-0.01", "2.675": "2.68", "-2.675": "-2.68",
		"0.0049": "0.00", "-0.004": "0.00", "1.005": "1.01"} {
		if got := MustMoney(text).Text(2); got != want {
			t.Errorf("%s rounds to %s, want %s", text, got, want)
		}
	}
	if got := Currency("EUR").Text(MustMoney("-1.005")); got != "−€1.01" {
		t.Errorf("shown as %s", got)
	}
	if got := Currency("JPY").Text(MustMoney("12.5")); got != "JPY 13" {
		t.Errorf("shown as %s", got)
	}
}

// By hand: 18.90 and 5 % are 19.845; 0.60 less 10 % is 0.54; 1.00 and 5 % is half-way between 1.00 and 1.10.
func TestPricesAreRaisedInSteps(t *testing.T) {
	for _, c := range []struct{ price, pct, step, want string }{{"18.90", "5", "0.10", "19.80"},
		{"18.90", "5", "0.01", "19.85"}, {"18.90", "5", "0.50", "20.00"}, {"0.60", "-10", "0.05", "0.55"},
		{"1.00", "5", "0.10", "1.10"}, {"0.02", "-90", "0.05", "0.05"}} {
		pct, err := ParseNumber(c.pct)
		if err != nil {
			t.Fatal(err)
		}
		p := Price{Amount: MustMoney(c.price), Per: UnitPound}.RaisedBy(pct, MustMoney(c.step))
		if p.Amount.Text(2) != c.want || p.Per != UnitPound {
			t.Errorf("%s changed by %s %% in steps of %s: %s per %s, want %s", c.price, c.pct, c.step, p.Amount.Text(2), p.Per,
				c.want)
		}
	}
}

// A price per pound is kept as entered and converted exactly: 4.99 per lb on exactly 100 lb is 499, not 498.99….
func TestPriceIsExact(t *testing.T) {
	p, err := ParsePrice("4.99", UnitPound)
	if err != nil {
		t.Fatal(err)
	}
	if got := p.Of(45_359_237); got.Cmp(MustMoney("499")) != 0 {
		t.Errorf("100 lb at 4.99 = %s", got.Rat().RatString())
	}
	if got := p.PerKilogram().Text(4); got != "11.0011" { // 4.99 / 0.45359237 = 11.00106…
		t.Errorf("per kg %s", got)
	}
}

// Rule: parts that are shown with their total add up to it (largest remainder), each within one unit of its exact
// share.
func TestApportionAddsUp(t *testing.T) {
	rng := rand.New(rand.NewPCG(1, 2))
	for range 2000 {
		n := 1 + rng.IntN(12)
		weights := make([]int64, n)
		sum := int64(0)
		for i := range weights {
			weights[i] = rng.Int64N(1 << (1 + rng.IntN(58)))
			sum += weights[i]
		}
		total := rng.Int64N(20_000_000) - 10_000_000
		shares, err := Apportion(total, weights)
		if sum == 0 {
			if !errors.Is(err, ErrApportion) {
				t.Fatal("shared by nothing")
			}
			continue
		}
		got := int64(0)
		for i, s := range shares {
			got += s
			exact := new(big.Rat).Mul(big.NewRat(total, 1), big.NewRat(weights[i], sum))
			if off := new(big.Rat).Sub(exact, big.NewRat(s, 1)); off.Abs(off).Cmp(big.NewRat(1, 1)) >= 0 {
				t.Fatalf("share %d is %s off", s, off.FloatString(3))
			}
		}
		if got != total {
			t.Fatalf("shares add to %d, not %d", got, total)
		}
	}
	for _, weights := range [][]int64{{-1, 2}, {}, {math.MaxInt64, 1}} {
		if _, err := Apportion(10, weights); !errors.Is(err, ErrApportion) {
			t.Errorf("shared by %v", weights)
		}
	}
}

func TestRoundTogether(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 4))
	for range 2000 {
		parts := make([]Money, 1+rng.IntN(10))
		var exact, shown Money
		for i := range parts {
			parts[i] = MoneyOf(rng.Int64N(2_000_000)-1_000_000, 1+rng.Int64N(900))
			exact = exact.Add(parts[i])
		}
		for i, r := range RoundTogether(parts, 2) {
			shown = shown.Add(r)
			if r.Sub(parts[i]).Abs().Cmp(MustMoney("0.01")) >= 0 {
				t.Fatalf("%s shown as %s", parts[i].Text(6), r)
			}
		}
		if shown.Cmp(MustMoney(exact.Text(2))) != 0 {
			t.Fatalf("parts add to %s, total shown is %s", shown.Text(4), exact.Text(2))
		}
	}
}

func TestFromGrams(t *testing.T) {
	if m, err := FromGrams(453.59237); err != nil || m != 453_592 {
		t.Errorf("%d %v", m, err)
	}
	for _, g := range []float64{1e300, -1e300} {
		if _, err := FromGrams(g); fault.Of(err) == nil {
			t.Errorf("%g g was accepted", g)
		}
	}
}

// The parser never panics, and what it reads it can show and read again.
func FuzzParseNumber(f *testing.F) {
	for _, s := range []string{"1", "-0.5", "1,5", ".", "1e9", "٣", "", "999999999999999999", "+.1"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		r, err := ParseNumber(s)
		if err != nil {
			if fault.Of(err) == nil {
				t.Fatalf("%q: an error that is no fault: %v", s, err)
			}
			return
		}
		places, exact := r.FloatPrec()
		shown := r.FloatString(places)
		if !exact {
			t.Fatalf("%q read as %s, which is no decimal", s, r)
		}
		if len(shown) > maxDigits { // a leading zero more than was typed
			return
		}
		if again, err := ParseNumber(shown); err != nil || again.Cmp(r) != 0 {
			t.Fatalf("%q read as %s, then %v, %v", s, shown, again, err)
		}
	})
}

// Rule: amounts have the decimals of their currency, and none is lost or made up. The decimals are those of ISO 4217
// (from memory): two for most, none for the yen, the won and the Chilean peso, three for the dinars of Kuwait, Bahrain
// and Tunisia and the rial of Oman.
func TestDecimalsOfCurrencies(t *testing.T) {
	for code, want := range map[Currency]int{"EUR": 2, "GBP": 2, "USD": 2, "CHF": 2, "JPY": 0, "KRW": 0, "CLP": 0,
		"KWD": 3, "BHD": 3, "OMR": 3, "TND": 3, "XXQ": 2} {
		if got := code.Places(); got != want {
			t.Errorf("%s has %d decimals, by the standard %d", code, got, want)
		}
	}
	for _, c := range []struct {
		currency Currency
		exact    string
		shown    string
		text     string
	}{{"EUR", "1234567.895", "1234567.90", "€1,234,567.90"}, {"JPY", "13333.5", "13334", "JPY 13,334"},
		{"KWD", "69.17457", "69.175", "KWD 69.175"}, {"EUR", "-0.004", "0.00", "€0.00"}, {"JPY", "-0.5", "-1", "−JPY 1"}} {
		m, err := MoneyFromDecimal(c.exact)
		if err != nil {
			t.Fatal(err)
		}
		got := c.currency.Round(m)
		if got.String() != c.shown || c.currency.Text(got) != c.text {
			t.Errorf("%s %s is shown as %s and %s, want %s and %s", c.currency, c.exact, got, c.currency.Text(got), c.shown,
				c.text)
		}
	}
	// sums go beyond what a single price may be: a year's of a large house
	big, err := MoneyFromDecimal("1234567890123.45")
	if err != nil || big.Add(big).Text(2) != "2469135780246.90" {
		t.Errorf("%v %v", big, err)
	}
}
