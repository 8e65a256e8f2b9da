// Package drill makes the questions of the trainer from the atlas, says whether an answer is right and why, and when a
// question comes back. It is pure: what is asked follows from the data of a piece alone.
package drill

import (
	"math"
	"time"
)

// The ease of a question: what it begins with, and the least. SM-2, see [State.After].
const (
	firstEase = 2.5
	leastEase = 1.3
)

// The qualities of an answer, from 0 to 5. From Passed on a question was known; below Settled it comes again in the
// same sitting.
const (
	Wrong   = 1
	Passed  = 3
	Settled = 4
	Easy    = 5
)

// State is how well a question is known.
type State struct {
	Reps  int       // answers in a row that were known
	Ease  float64   // by how much the time until it comes back grows; 0 before the first answer
	Days  int       // until it comes back
	Due   time.Time // the day on which it does
	Seen  int       // answers
	Right int       // answers that were known
}

// After is the state after an answer of a quality from 0 to 5 on a day.
//
// SM-2: the first time it comes back after a day, then after six, then each time after the days before times the ease,
// rounded up; the ease goes up with an answer that was easy and down with one that was not, and never below 1.3. An
// answer below 3 begins anew and leaves the ease. Woźniak 1990, Optimization of learning (from memory).
func (s State) After(quality int, today time.Time) State {
	if s.Ease == 0 {
		s.Ease = firstEase
	}
	s.Seen++
	if quality < Passed {
		s.Reps, s.Days = 0, 1
	} else {
		s.Right++
		s.Reps++
		switch s.Reps {
		case 1:
			s.Days = 1
		case 2:
			s.Days = 6
		default:
			s.Days = int(math.Ceil(float64(s.Days) * s.Ease))
		}
		off := float64(5 - quality)
		s.Ease = math.Max(leastEase, s.Ease+0.1-off*(0.08+off*0.02))
	}
	s.Days = min(s.Days, longest)
	s.Due = today.AddDate(0, 0, s.Days)
	return s
}

// longest is after how many days at most a question comes back.
const longest = 730

// Known says whether a question may be called known: it was right twice in a row.
func (s State) Known() bool { return s.Reps >= 2 }
