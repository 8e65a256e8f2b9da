package demo

import (
	"strconv"
	"testing"

	"falda/internal/core/atlas"
)

// priceOf is what the demo's counter asks for a product, a kilogram.
func priceOf(t *testing.T, p atlas.Piece, pr atlas.Product) float64 {
	t.Helper()
	text, ok := prices[p.Key(pr)]
	if !ok {
		text = usual[p.Species][pr.Form]
	}
	f, err := strconv.ParseFloat(text, 64)
	if err != nil {
		t.Fatalf("%s: %v", p.Key(pr), err)
	}
	return f
}

// Rule: the demo's prices make sense to whoever sells meat (common practice, no source): a dressed fillet steak costs
// more than one with its strap on, a whole fillet more than one sold with strap and chain, and of what is sold of a
// lamb as meat on the bone the rib tips are the cheapest, below the riblets, which are below the neck.
func TestPricesMakeSense(t *testing.T) {
	a, err := atlas.Load()
	if err != nil {
		t.Fatal(err)
	}
	at := map[string]float64{}
	for _, p := range a.Pieces {
		for _, pl := range p.Plans {
			for _, pr := range pl.Products {
				if pr.Form == atlas.FormPiece { // priced by what it is cut into
					continue
				}
				at[p.Key(pr)] = priceOf(t, p, pr)
				if p.Species == "lamb" && !pr.ByProduct() && !pr.IsTrim() && pr.Form != "offal" && pr.ID != "rib_tips" &&
					at[p.Key(pr)] <= 6.90 {
					t.Errorf("%s costs %.2f, no more than rib tips", p.Key(pr), at[p.Key(pr)])
				}
			}
		}
	}
	cost := func(key string) float64 { // one that only a choice within a plan makes stands in the list alone
		if f, ok := at[key]; ok {
			return f
		}
		f, err := strconv.ParseFloat(prices[key], 64)
		if err != nil {
			t.Fatalf("%s: %v", key, err)
		}
		return f
	}
	for _, ascending := range [][]string{
		{"beef.fillet_strap_on", "beef.whole_fillet", "beef.fillet_steak"}, {"beef.fillet_steak_on", "beef.fillet_steak"},
		{"lamb.rib_tips", "lamb.riblets", "lamb.neck_slice"}, {"beef.fat", "beef.mince_trim", "beef.dice", "beef.rump_steak"},
	} {
		for i, key := range ascending[1:] {
			if low, high := cost(ascending[i]), cost(key); low >= high {
				t.Errorf("%s at %.2f is not below %s at %.2f", ascending[i], low, key, high)
			}
		}
	}
}
