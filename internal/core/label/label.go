package label

import (
	"fmt"
	"math/big"
	"strings"
	"time"

	"falda/internal/core/fault"
)

// CheckDigit is the last digit of a GTIN or another GS1 number whose other digits are given: from the right, every
// other one counts three times; what is missing to a multiple of ten.
func CheckDigit(digits string) byte {
	sum := 0
	for i := range len(digits) {
		d := int(digits[len(digits)-1-i] - '0')
		if i%2 == 0 {
			d *= 3
		}
		sum += d
	}
	return byte('0' + (10-sum%10)%10)
}

// isDigits says whether a text is of so many digits.
func isDigits(text string, many ...int) bool {
	ok := false
	for _, n := range many {
		ok = ok || len(text) == n
	}
	return ok && strings.Trim(text, "0123456789") == ""
}

// GTIN14 gives a GTIN of 8, 12, 13 or 14 digits as one of 14; the fault names no field.
func GTIN14(gtin string) (string, error) {
	if !isDigits(gtin, 8, 12, 13, 14) {
		return "", fault.New("", "not_a_gtin", "must be 8, 12, 13 or 14 digits", "Read it from the article's code.")
	}
	body := gtin[:len(gtin)-1]
	if want := CheckDigit(body); want != gtin[len(gtin)-1] {
		return "", fault.New("", "check_digit", fmt.Sprintf("ends in %c, and its check digit is %c", gtin[len(gtin)-1], want),
			"A digit is wrong: type it again.")
	}
	return strings.Repeat("0", 14-len(gtin)) + gtin, nil
}

// Pack is what a label is made for.
type Pack struct {
	GTIN    string
	WeightG int // net
	UseBy   time.Time
	Lot     string
}

// maxWeightG is the most grams that six digits with three decimals of a kilogram hold.
const maxWeightG = 999_999

// lotLetters are what a lot number may hold here: of GS1's set what every reader and file takes.
const lotLetters = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789-/._"

// Element is one application identifier with its value.
type Element struct{ AI, Value string }

// Elements gives what a GS1-128 holds, in the order of a label: what has a length of its own first, the lot last.
// Faults name gtin, weight_g, use_by and lot.
func (p Pack) Elements() ([]Element, error) {
	var faults fault.List
	gtin, err := GTIN14(p.GTIN)
	faults.Add("gtin", err)
	if p.WeightG < 1 || p.WeightG > maxWeightG {
		faults.Add("weight_g", fault.New("", "out_of_range", "must be from 1 to 999,999", "Weigh it in grams."))
	}
	if p.UseBy.IsZero() || p.UseBy.Year() < 2000 || p.UseBy.Year() > 2049 {
		faults.Add("use_by", fault.New("", "out_of_range", "must be a day from 2000 to 2049", "Write it as 2026-12-03."))
	}
	if n := len(p.Lot); n < 1 || n > 20 || strings.Trim(p.Lot, lotLetters) != "" {
		faults.Add("lot", fault.New("", "not_a_lot", "must be 1 to 20 of letters, digits and - / . _",
			"Shorten it, or leave other signs out."))
	}
	if err := faults.Err(); err != nil {
		return nil, err
	}
	return []Element{{"01", gtin}, {"3103", fmt.Sprintf("%06d", p.WeightG)}, {"17", p.UseBy.Format("060102")},
		{"10", p.Lot}}, nil
}

// Text writes elements as they stand below a code, each identifier in brackets.
func Text(elements []Element) string {
	var b strings.Builder
	for _, e := range elements {
		fmt.Fprintf(&b, "(%s)%s", e.AI, e.Value)
	}
	return b.String()
}

// InStore is an article number of a shop's own scale: two digits 20 to 29, five of the article, five of the price in
// the currency's smallest coin or of the weight in grams.
type InStore struct {
	Prefix, Item string
	Price        *big.Rat // in the currency; exactly one of the two
	WeightG      *int
}

// EAN13 gives the number with its check digit; decimals are those of the currency. Faults name prefix, item, price and
// weight_g.
func (s InStore) EAN13(decimals int) (string, error) {
	var faults fault.List
	if !isDigits(s.Prefix, 2) || s.Prefix[0] != '2' {
		faults.Add("prefix", fault.New("", "out_of_range", "must be from 20 to 29", "Take one that your shop uses."))
	}
	if !isDigits(s.Item, 5) {
		faults.Add("item", fault.New("", "not_digits", "must be five digits", "Fill it up with zeros in front."))
	}
	value := int64(0)
	switch {
	case (s.Price == nil) == (s.WeightG == nil):
		faults.Add("price", fault.New("", "one_of_two", "must stand alone: a price or a weight, one of the two",
			"Leave one of them out."))
	case s.Price != nil:
		coins := new(big.Rat).Mul(s.Price, new(big.Rat).SetInt(new(big.Int).Exp(big.NewInt(10), big.NewInt(int64(decimals)),
			nil)))
		if !coins.IsInt() || coins.Sign() < 0 || coins.Cmp(big.NewRat(99_999, 1)) > 0 {
			faults.Add("price", fault.New("", "out_of_range", "does not fit five digits of the smallest coin",
				"Take a weight in its place, or a smaller pack."))
			break
		}
		value = coins.Num().Int64()
	case *s.WeightG < 1 || *s.WeightG > 99_999:
		faults.Add("weight_g", fault.New("", "out_of_range", "must be from 1 to 99,999", "It does not fit five digits."))
	default:
		value = int64(*s.WeightG)
	}
	if err := faults.Err(); err != nil {
		return "", err
	}
	body := fmt.Sprintf("%s%s%05d", s.Prefix, s.Item, value)
	return body + string(CheckDigit(body)), nil
}
