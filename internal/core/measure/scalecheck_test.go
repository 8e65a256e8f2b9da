package measure

import "testing"

// The maximum permissible errors of OIML R 76-1:2006, table 6, for class III: 0.5 e, 1 e and 1.5 e up to 500, 2,000 and
// 10,000 intervals e; in service (3.5.2) twice as much. The table is from memory.
func TestMaxScaleErrorIsTheTablesInService(t *testing.T) {
	for _, c := range []struct {
		load, e, want Mass
	}{
		{Kilogram, 5 * Gram, 5 * Gram},                // 200 e
		{2500 * Gram, 5 * Gram, 5 * Gram},             // 500 e, both ends belong to the lower step
		{2500*Gram + 1, 5 * Gram, 10 * Gram},          // a milligram over
		{10 * Kilogram, 5 * Gram, 10 * Gram},          // 2,000 e
		{10*Kilogram + 1, 5 * Gram, 15 * Gram},        // over
		{15 * Kilogram, 5 * Gram, 15 * Gram},          // a usual 15 kg scale full
		{Kilogram, Gram, 2 * Gram},                    // 1,000 e
		{Kilogram, 2 * Gram, 2 * Gram},                // 500 e
		{Kilogram, 500 * Milligram, Gram},             // 2,000 e
		{5 * Kilogram, 500 * Milligram, 3 * Gram / 2}, // 10,000 e
	} {
		if got := MaxScaleError(c.load, c.e); got != c.want {
			t.Errorf("%d mg on a scale of %d mg: %d mg, want %d", c.load, c.e, got, c.want)
		}
	}
}

func TestCheckScale(t *testing.T) {
	for _, c := range []struct {
		shown Mass
		fits  bool
	}{{1000 * Gram, true}, {1005 * Gram, true}, {995 * Gram, true}, {1006 * Gram, false}, {994 * Gram, false}} {
		if got := CheckScale(Kilogram, c.shown, 5*Gram); got.Fits() != c.fits || got.Off() != c.shown-Kilogram {
			t.Errorf("%d mg: fits %t, off by %d", c.shown, got.Fits(), got.Off())
		}
	}
}
