package judge

import (
	"testing"
	"time"
)

func TestMoments(t *testing.T) {
	for text, want := range map[string]time.Duration{"90": 90 * time.Second, "1,5": 1500 * time.Millisecond, "0": 0} {
		if d, at, ok := readMoment(text, 0); !ok || d != want || !at.IsZero() {
			t.Errorf("%q: %v %v %v", text, d, at, ok)
		}
	}
	for _, text := range []string{"18:00", "18:00:30", "2026-03-20 18:00", "2026-03-20T18:00:00Z"} {
		if _, at, ok := readMoment(text, time.Minute); !ok || at.IsZero() {
			t.Errorf("%q: %v %v", text, at, ok)
		}
	}
	for _, text := range []string{"", "noon", "-1", "1e9", "NaN", "25:00", "2026-02-30 10:00"} {
		if d, at, ok := readMoment(text, 0); ok {
			t.Errorf("%q was taken for %v %v", text, d, at)
		}
	}
}

// Rule: a time of a log is read as one of the two, or refused; no text brings the program down, and none gives a time
// before the start.
func FuzzMoment(f *testing.F) {
	for _, text := range []string{"90", "1,5", "18:00:30", "2026-03-20T18:00:00+02:00", "Inf", "0x1p-2", "9999999"} {
		f.Add(text, int64(time.Minute))
	}
	f.Fuzz(func(t *testing.T, text string, unit int64) {
		if unit < 0 || unit > int64(time.Hour) {
			return
		}
		d, at, ok := readMoment(text, time.Duration(unit))
		if ok && (d < 0 || d > 0 && !at.IsZero()) {
			t.Fatalf("%q gave %v and %v", text, d, at)
		}
	})
}
