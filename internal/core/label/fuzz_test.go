package label_test

import (
	"fmt"
	"testing"
	"time"

	"falda/internal/core/label"
)

// Rule: a number is taken only with its check digit, and one that is taken is of 14 digits that end the same; changing
// one digit of it is always noticed.
func FuzzGTIN(f *testing.F) {
	for _, s := range []string{"9501101530003", "96385074", "036000291452", "", "x", "00000000000000"} {
		f.Add(s, 3)
	}
	f.Fuzz(func(t *testing.T, text string, at int) {
		full, err := label.GTIN14(text)
		if err != nil {
			return
		}
		if len(full) != 14 || full[14-len(text):] != text || label.CheckDigit(full[:13]) != full[13] {
			t.Errorf("%q became %q", text, full)
		}
		i := (at%14 + 14) % 14
		wrong := []byte(full)
		wrong[i] = '0' + (wrong[i]-'0'+1)%10
		if got, err := label.GTIN14(string(wrong)); err == nil {
			t.Errorf("%s is %s with a digit changed, and was taken", got, full)
		}
	})
}

// A pack of 1.234 kg.
func ExamplePack_Elements() {
	e, err := label.Pack{GTIN: "9501101530003", WeightG: 1234, Lot: "SK-2648-02",
		UseBy: time.Date(2026, 12, 3, 0, 0, 0, 0, time.UTC)}.Elements()
	fmt.Println(label.Text(e), err)
	// Output: (01)09501101530003(3103)001234(17)261203(10)SK-2648-02 <nil>
}
