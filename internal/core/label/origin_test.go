package label

import (
	"slices"
	"testing"
)

// Regulation (EC) No 1760/2000, Article 13, and Implementing Regulation (EU) No 1337/2013, Article 5, from memory: what
// must stand on packed beef and sheep meat, and that one word stands for three where all is one country.
func TestOriginLines(t *testing.T) {
	cut := Cutting{"Skerrow", "SK 12"}
	all := Origin{"Skerrow", "Skerrow", "Skerrow", "SK 7"}
	for _, c := range []struct {
		name, species  string
		from           []Origin
		lines, missing []string
	}{
		{"beef of one country", "beef", []Origin{all}, []string{"Origin: Skerrow", "Slaughtered in: Skerrow SK 7",
			"Cut in: Skerrow SK 12", "Reference: R1"}, nil},
		{"beef of two", "beef", []Origin{{"Vonsey", "Skerrow", "Skerrow", "SK 7"}}, []string{"Born in: Vonsey",
			"Reared in: Skerrow", "Slaughtered in: Skerrow SK 7", "Cut in: Skerrow SK 12", "Reference: R1"}, nil},
		{"two animals in a pack", "beef", []Origin{all, {"Vonsey", "Vonsey", "Vonsey", "V 1"}},
			[]string{"Born in: Skerrow, Vonsey", "Reared in: Skerrow, Vonsey", "Slaughtered in: Skerrow, Vonsey SK 7, V 1",
				"Cut in: Skerrow SK 12", "Reference: R1"}, nil},
		{"beef of which nothing is known", "beef", nil, []string{"Cut in: Skerrow SK 12", "Reference: R1"},
			[]string{"where it was born", "where it was reared", "where it was slaughtered",
				"the approval number of the slaughterhouse"}},
		{"lamb of one", "lamb", []Origin{{"Skerrow", "Skerrow", "Skerrow", ""}}, []string{"Origin: Skerrow", "Batch: R1"},
			nil},
		{"lamb of two", "lamb", []Origin{{"", "Vonsey", "Skerrow", ""}}, []string{"Reared in: Vonsey",
			"Slaughtered in: Skerrow", "Batch: R1"}, nil},
		{"neither", "", nil, nil, nil},
	} {
		lines, missing := OriginLines(c.species, c.from, cut, "R1")
		if !slices.Equal(lines, c.lines) || !slices.Equal(missing, c.missing) {
			t.Errorf("%s: %q, lacks %q; want %q, lacking %q", c.name, lines, missing, c.lines, c.missing)
		}
	}
}
