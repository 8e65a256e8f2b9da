package label

import (
	"math/big"
	"testing"
	"time"

	"falda/internal/core/fault"
)

// Source: GS1 General Specifications, examples of check digits (from memory): 629104150021-3, 9501101530003, and the
// GTIN-8 9638507-4; UPC 03600029145-2.
func TestCheckDigits(t *testing.T) {
	for body, want := range map[string]byte{"629104150021": '3', "950110153000": '3', "9638507": '4', "03600029145": '2'} {
		if got := CheckDigit(body); got != want {
			t.Errorf("%s: %c, want %c", body, got, want)
		}
	}
	for gtin, want := range map[string]string{"9501101530003": "09501101530003", "96385074": "00000096385074",
		"036000291452": "00036000291452", "09501101530003": "09501101530003"} {
		if got, err := GTIN14(gtin); err != nil || got != want {
			t.Errorf("%s: %s, %v", gtin, got, err)
		}
	}
	for _, wrong := range []string{"9501101530004", "950110153000", "12", "95011015300O3", ""} {
		if got, err := GTIN14(wrong); err == nil {
			t.Errorf("%q was taken for %s", wrong, got)
		}
	}
}

// The brief's example: 1.234 kg of article 9501101530003, use by 3 December 2026, lot SK-2648-02.
func TestElements(t *testing.T) {
	p := Pack{GTIN: "9501101530003", WeightG: 1234, UseBy: time.Date(2026, 12, 3, 0, 0, 0, 0, time.UTC), Lot: "SK-2648-02"}
	e, err := p.Elements()
	if err != nil || Text(e) != "(01)09501101530003(3103)001234(17)261203(10)SK-2648-02" {
		t.Errorf("%s, %v", Text(e), err)
	}
	for field, change := range map[string]func(*Pack){"gtin": func(p *Pack) { p.GTIN = "9501101530001" },
		"weight_g": func(p *Pack) { p.WeightG = 1_000_000 }, "lot": func(p *Pack) { p.Lot = "SK 2648" },
		"use_by": func(p *Pack) { p.UseBy = time.Time{} }} {
		wrong := p
		change(&wrong)
		if _, err := wrong.Elements(); len(fault.Of(err)) != 1 || fault.Of(err)[0].Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
}

// By hand: 24 01234 00345 is 60 and ends in 0; 21 01234 01234 is 2·1+1·3+0+1·3+2+3·3+4+0+1+2·3+3+4·3 = 45, so it ends
// in 5.
func TestInStore(t *testing.T) {
	grams := 345
	for want, s := range map[string]InStore{"2101234012345": {Prefix: "21", Item: "01234", Price: big.NewRat(1234, 100)},
		"2401234003450": {Prefix: "24", Item: "01234", WeightG: &grams}} {
		if got, err := s.EAN13(2); err != nil || got != want || CheckDigit(got[:12]) != got[12] {
			t.Errorf("%s, %v; want %s", got, err, want)
		}
	}
	heavy := 100_000
	for field, s := range map[string]InStore{"prefix": {Prefix: "30", Item: "01234", WeightG: &grams},
		"item":     {Prefix: "21", Item: "1234", WeightG: &grams},
		"weight_g": {Prefix: "21", Item: "01234", WeightG: &heavy}} {
		if _, err := s.EAN13(2); len(fault.Of(err)) != 1 || fault.Of(err)[0].Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
	for _, s := range []InStore{{Prefix: "21", Item: "01234"}, {Prefix: "21", Item: "01234", Price: big.NewRat(1000, 1)},
		{Prefix: "21", Item: "01234", Price: big.NewRat(1, 3)},
		{Prefix: "21", Item: "01234", Price: big.NewRat(1, 1), WeightG: &grams}} {
		if got, err := s.EAN13(2); err == nil || fault.Of(err)[0].Field != "price" {
			t.Errorf("%s, %v", got, err)
		}
	}
	if got, err := (InStore{Prefix: "20", Item: "00001", Price: big.NewRat(980, 1)}).EAN13(0); err != nil ||
		got[:12] != "200000100980" {
		t.Errorf("without decimals: %s, %v", got, err)
	}
}
