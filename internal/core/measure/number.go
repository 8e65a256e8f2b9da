package measure

import (
	"math/big"
	"strings"

	"falda/internal/core/fault"
)

// maxDigits bounds what a person can have meant to type as one number.
const maxDigits = 18

// ParseNumber reads a plain decimal number as people type it: digits with at most one decimal point or comma, an
// optional sign (the printed minus too), blanks around it. No exponents, no thousands separators, no fractions. It
// answers with a fault without a field: "required", "too_long" or "not_a_number".
func ParseNumber(s string) (*big.Rat, error) {
	s = strings.TrimSpace(s)
	if s == "" {
		return nil, fault.New("", "required", "is empty", "Enter a number.")
	}
	if len(s) > 4*maxDigits {
		return nil, tooLong()
	}
	if printed, ok := strings.CutPrefix(s, "−"); ok {
		s = "-" + printed
	}
	body := strings.TrimPrefix(strings.TrimPrefix(s, "+"), "-")
	if len(s)-len(body) > 1 {
		return nil, notANumber(s)
	}
	digits, points := 0, 0
	for _, c := range body {
		switch {
		case c >= '0' && c <= '9':
			digits++
		case c == '.' || c == ',':
			points++
		default:
			return nil, notANumber(s)
		}
	}
	if digits == 0 || points > 1 {
		return nil, notANumber(s)
	}
	if digits > maxDigits {
		return nil, tooLong()
	}
	plain := strings.Replace(s, ",", ".", 1)
	plain = strings.TrimSuffix(plain, ".")
	if i := strings.IndexByte(plain, '.'); i >= 0 && (i == 0 || plain[i-1] < '0' || plain[i-1] > '9') {
		plain = plain[:i] + "0" + plain[i:]
	}
	r, ok := new(big.Rat).SetString(plain)
	if !ok {
		return nil, notANumber(s)
	}
	return r, nil
}

func tooLong() error {
	return fault.New("", "too_long", "has too many digits", "Enter at most 18 digits.")
}

func notANumber(s string) error {
	return fault.New("", "not_a_number", "“"+s+"” is not a number",
		"Enter digits with at most one point or comma, such as 6.60.")
}
