package eating

import "math"

// Portion is how much of a muscle is in what is eaten together, and how it eats as that is cooked.
type Portion struct {
	Muscle string
	Mass   float64 // in any unit
	Score  Score
}

// Mixed is how something eats that several muscles are in.
type Mixed struct {
	Score          // the mean by weight
	Worst  string  // the muscle that counts and eats worst
	Least  float64 // its score
	Spoilt float64 // the chance that a bite is below 3, in percent
}

// Counts is the share from which on a muscle counts as one that an eater meets.
const Counts = 0.05

// Mix gives how portions eat together; ok is false where nothing is known of any. What is known of one muscle is taken
// for independent of the next; the chance that a bite disappoints is the mean of the muscles' chances by weight.
func Mix(portions []Portion) (m Mixed, ok bool) {
	total, variance := 0.0, 0.0
	for _, p := range portions {
		total += p.Mass
	}
	if total <= 0 {
		return m, false
	}
	m.Least = math.Inf(1)
	m.Basis = "measured"
	for _, p := range portions {
		share := p.Mass / total
		m.Mean += share * p.Score.Mean
		variance += share * share * p.Score.SD * p.Score.SD
		m.Spoilt += share * p.Score.Chances()[BelowThree]
		if m.Method = p.Score.Method; p.Score.Basis != "measured" {
			m.Basis = "estimated"
		}
		if share >= Counts && p.Score.Mean < m.Least {
			m.Least, m.Worst = p.Score.Mean, p.Muscle
		}
	}
	m.SD = math.Sqrt(variance)
	return m, true
}
