package eating

import (
	"testing"

	"falda/internal/core/measure"
)

// By hand: a plate of 200 g at 30 a kilo is 6.00. What is cheaper and as sure is offered, the cheapest first; what is
// better in the mean and less sure is not, nor what is dearer.
func TestInsteadByHand(t *testing.T) {
	offer := func(key string, mean, sd float64, perKg string) Offer {
		return Offer{Key: key, Score: Score{Method: "grill", Mean: mean, SD: sd}, Edible: measure.MustMoney(perKg),
			EachG: 200}
	}
	of := offer("sirloin", 70, 4, "30")
	if p := of.Plate(); p.Text(2) != "6.00" {
		t.Fatal(p)
	}
	got := Instead(of, []Offer{of, offer("flat iron", 71, 4, "22"), offer("bavette", 75, 12, "18"),
		offer("fillet", 90, 4, "55"), offer("cap", 70, 4, "20")})
	if len(got) != 2 || got[0].Key != "cap" || got[1].Key != "flat iron" {
		t.Errorf("%+v", got)
	}
}
