package atlas

import (
	"os"
	"testing"

	"falda/internal/core/measure"
)

// Rules: a file of one's own is read or refused, and never brings the program down; what is read is valid, and its
// shares divide any weight to the milligram.
func FuzzDecode(f *testing.F) {
	for _, name := range []string{"data/beef-rump.yaml", "data/lamb.yaml"} {
		raw, err := os.ReadFile(name)
		if err != nil {
			f.Fatal(err)
		}
		f.Add(raw)
	}
	f.Add([]byte("- id: x\n  names: {}\n  muscles: [{id: a, share_pct: 1e309}]\n"))
	f.Add([]byte("- &a [*a]"))
	f.Add([]byte("{}"))
	f.Fuzz(func(t *testing.T, raw []byte) {
		pieces, err := Decode("own.yaml", raw)
		if err != nil {
			return
		}
		for _, p := range pieces {
			if faults := Validate(p); len(faults) > 0 {
				t.Fatalf("%s is read with %v", p.ID, faults)
			}
			for _, whole := range []int64{1, 999, 6_600_001} {
				sum := int64(0)
				for _, m := range p.Split(measure.Mass(whole)) {
					sum += int64(m)
				}
				if sum != whole {
					t.Fatalf("%s: the parts of %d mg weigh %d", p.ID, whole, sum)
				}
			}
		}
	})
}
