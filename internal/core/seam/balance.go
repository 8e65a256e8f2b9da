package seam

import (
	"math"

	"falda/internal/core/measure"
)

// Verdict is what a balance says.
type Verdict string

// The verdicts.
const (
	Balanced Verdict = "balanced"  // the residual is within the loss limit
	LossHigh Verdict = "loss_high" // more is missing than the limit allows: it needs a reason
	Gain     Verdict = "gain"      // more came out than went in: weighed twice, or a tare forgotten
)

// Balance is a node's input against what came out of it.
type Balance struct {
	Input     measure.Mass
	Output    measure.Mass
	Residual  measure.Mass // Input − Output, exactly
	Inner     measure.Mass // lost inside what was opened and finished: part of the node's loss, not of its residual
	Tolerance measure.Mass // of the scale, for all weighings together
	LimitPct  float64
	Verdict   Verdict
}

// Weigh balances an input against its outputs. Division is the scale's division e, limitPct the loss limit in percent
// of the input. Tolerance is 3·e·√((n+1)/12) for n outputs. A residual below −tolerance is a gain; one above the limit
// is a high loss, unless the tolerance of the scale alone explains it. What was lost inside opened parts counts to the
// loss.
func Weigh(input measure.Mass, outputs []measure.Mass, division measure.Mass, limitPct float64) Balance {
	return weigh(input, outputs, 0, division, limitPct)
}

// WeighAdded is Weigh where something was added to the input, such as a stuffing, in so many weighings: what went in is
// both together, and the tolerance counts those weighings too.
func WeighAdded(input, added measure.Mass, weighings int, outputs []measure.Mass, division measure.Mass,
	limitPct float64) Balance {
	return weighAll(input+added, outputs, 0, weighings, division, limitPct)
}

// weighAll is weigh with more weighings than those of the outputs and the input.
func weighAll(in measure.Mass, outputs []measure.Mass, inner measure.Mass, more int, division measure.Mass,
	limitPct float64) Balance {
	b := weigh(in, outputs, inner, division, limitPct)
	if more > 0 {
		b.Tolerance = Tolerance(division, len(outputs)+more)
		b.judge()
	}
	return b
}

// weigh is Weigh with what was lost inside what came off.
func weigh(input measure.Mass, outputs []measure.Mass, inner, division measure.Mass, limitPct float64) Balance {
	b := Balance{Input: input, Inner: inner, LimitPct: limitPct, Tolerance: Tolerance(division, len(outputs))}
	for _, m := range outputs {
		b.Output += m
	}
	b.Residual = b.Input - b.Output
	b.judge()
	return b
}

// judge says what the residual means beside the tolerance and the limit.
func (b *Balance) judge() {
	switch {
	case b.Residual < -b.Tolerance:
		b.Verdict = Gain
	case b.LossPct() > b.LimitPct && b.Loss() > b.Tolerance:
		b.Verdict = LossHigh
	default:
		b.Verdict = Balanced
	}
}

// ResidualPct is the residual in percent of the input; 0 for an input of nothing.
func (b Balance) ResidualPct() float64 { return b.pct(b.Residual) }

func (b Balance) pct(m measure.Mass) float64 {
	if b.Input == 0 {
		return 0
	}
	return float64(m) / float64(b.Input) * 100
}

// Loss is all that is lost of the node once it is closed: its residual and what was lost inside what came off it.
func (b Balance) Loss() measure.Mass { return b.Residual + b.Inner }

// LossPct is the loss in percent of the input; 0 for an input of nothing.
func (b Balance) LossPct() float64 { return b.pct(b.Loss()) }

// Tolerance is three standard deviations of the rounding of n outputs and the input to a division e: 3·e·√((n+1)/12).
func Tolerance(division measure.Mass, n int) measure.Mass {
	return measure.Mass(math.Round(3 * float64(division) * math.Sqrt(float64(n+1)/12)))
}
