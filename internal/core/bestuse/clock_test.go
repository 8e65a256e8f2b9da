package bestuse

import "time"

// now is seconds, for ratios.
func now() float64 { return float64(time.Now().UnixNano()) / 1e9 }
