package measure

// Currency is an ISO 4217 code.
type Currency string

// symbols are shown before the amount; other currencies are shown by their code.
var symbols = map[Currency]string{"EUR": "€", "GBP": "£", "USD": "$", "AUD": "A$", "NZD": "NZ$", "CAD": "C$", "BRL": "R$"}

// Places is the number of decimals the currency is counted in (ISO 4217 minor units, from memory).
func (c Currency) Places() int {
	switch c {
	case "JPY", "KRW", "ISK", "CLP":
		return 0
	case "BHD", "KWD", "JOD", "TND":
		return 3
	}
	return 2
}

// Text shows an amount with its symbol: "€1.84", "−€0.40", "NOK 12.00".
func (c Currency) Text(m Money) string {
	sign := ""
	text := m.Abs().Text(c.Places())
	if m.Sign() < 0 && !allZero(text) {
		sign = "−"
	}
	if s, ok := symbols[c]; ok {
		return sign + s + text
	}
	return sign + string(c) + " " + text
}

func allZero(s string) bool {
	for _, r := range s {
		if r >= '1' && r <= '9' {
			return false
		}
	}
	return true
}
