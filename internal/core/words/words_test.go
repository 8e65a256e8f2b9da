package words

import "testing"

func TestCount(t *testing.T) {
	for n, want := range map[int]string{0: "0 pieces", 1: "1 piece", 2: "2 pieces", 21: "21 pieces"} {
		if got := Count(n, "piece", "pieces"); got != want {
			t.Errorf("%d: %q, want %q", n, got, want)
		}
	}
}

func TestTexts(t *testing.T) {
	for _, c := range []struct{ what, got, want string }{
		{"short", Short("Eye of round (semitendinosus)"), "Eye of round"},
		{"short as it is", Short("Heart"), "Heart"},
		{"capital beyond ASCII", Capitalised("éclanche"), "Éclanche"},
		{"small letter", Uncapitalised("Öl"), "öl"},
		{"empty", Capitalised("") + Uncapitalised(""), ""},
		{"characters, not bytes", Truncate("żółw", 3), "żół"},
		{"short enough", Truncate("ab", 3), "ab"},
	} {
		if c.got != c.want {
			t.Errorf("%s: %q, want %q", c.what, c.got, c.want)
		}
	}
}
