package shop

import "slices"

// NamesOf gives whose names for cuts a shop of a market uses: its own, or the house's where the atlas has none of it.
func (s *Service) NamesOf(market string) string {
	known := slices.ContainsFunc(UsualOf, func(u UsualCosts) bool { return u.Market == market })
	if known && !slices.Contains(s.Markets(), market) {
		return "house"
	}
	return market
}

// UsualCosts is what a shop of a market usually reckons with, to begin from: money in the market's currency, without
// tax.
type UsualCosts struct {
	Market   string // of the atlas' names
	Currency string
	Unit     string
	Labour   string  // an hour, with what an employer pays on top
	Pack     string  // a kilogram of meat packed
	Discard  string  // a kilogram thrown away
	TaxPct   float64 // on meat that is eaten at home
}

// UsualOf lists the usual costs by market. From memory, in round steps; every shop has its own.
var UsualOf = []UsualCosts{
	{"us", "USD", "lb", "28.00", "0.30", "0.20", 0},
	{"uk", "GBP", "kg", "19.00", "0.25", "0.20", 0},
	{"ie", "EUR", "kg", "22.00", "0.25", "0.20", 0},
	{"de", "EUR", "kg", "27.00", "0.25", "0.20", 7},
	{"fr", "EUR", "kg", "27.00", "0.25", "0.20", 5.5},
	{"es", "EUR", "kg", "20.00", "0.25", "0.20", 10},
	{"it", "EUR", "kg", "23.00", "0.25", "0.20", 10},
	{"au", "AUD", "kg", "42.00", "0.40", "0.30", 0},
	{"nz", "NZD", "kg", "36.00", "0.40", "0.30", 15},
	{"ca", "CAD", "kg", "32.00", "0.40", "0.25", 0},
	{"za", "ZAR", "kg", "95.00", "3.00", "2.00", 15},
	{"br", "BRL", "kg", "28.00", "1.20", "0.60", 0},
	{"ar", "ARS", "kg", "9000", "300", "150", 10.5},
	{"house", "EUR", "kg", "24.00", "0.25", "0.20", 0},
}
