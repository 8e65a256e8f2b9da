package measure

import (
	"math"
	"testing"
)

// The fixed points of the Fahrenheit scale (NIST Special Publication 811, appendix B.8: t/°C = (t/°F − 32)/1.8), and
// back.
func TestTemperatureScales(t *testing.T) {
	for f, c := range map[float64]float64{32: 0, 212: 100, -40: -40, 44.6: 7, 145: 62.77778, 160: 71.11111,
		165: 73.88889} {
		if got := Celsius(f); math.Abs(got-c) > 1e-5 {
			t.Errorf("%g °F is %g °C, want %g", f, got, c)
		}
		if back := Fahrenheit(Celsius(f)); math.Abs(back-f) > 1e-9 {
			t.Errorf("%g °F came back as %g", f, back)
		}
	}
}
