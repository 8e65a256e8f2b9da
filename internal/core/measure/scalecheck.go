package measure

// MaxScaleError is how far a scale in service may be off under a load, for a scale of accuracy class III as they stand
// at a butcher's: two intervals at most up to 2,000 of them, one up to 500, three beyond. The load and the interval are
// positive. Source: OIML R 76-1:2006, table 6 (maximum permissible errors on initial verification) and 3.5.2 (in
// service twice these).
func MaxScaleError(load, interval Mass) Mass {
	switch {
	case load <= 500*interval:
		return interval
	case load <= 2000*interval:
		return 2 * interval
	default:
		return 3 * interval
	}
}

// ScaleCheck is a test weight on a scale: what it is, what the scale showed, and how far it may be off.
type ScaleCheck struct{ Weight, Shown, Allowed Mass }

// CheckScale judges a test weight on a scale of an interval; all are positive.
func CheckScale(weight, shown, interval Mass) ScaleCheck {
	return ScaleCheck{weight, shown, MaxScaleError(weight, interval)}
}

// Off is what the scale shows too much; below zero, too little.
func (c ScaleCheck) Off() Mass { return c.Shown - c.Weight }

// Fits says whether the scale is off by no more than it may be.
func (c ScaleCheck) Fits() bool { return c.Off() <= c.Allowed && -c.Off() <= c.Allowed }
