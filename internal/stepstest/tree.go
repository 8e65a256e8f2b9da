// Package stepstest makes random trees of steps for the tests of everything that rests on steps.
package stepstest

import (
	"fmt"
	"maps"
	"math/rand/v2"
	"slices"

	"falda/internal/core/steps"
)

// Tree makes random steps on a random set of parts; walked, they leave nothing behind and have no fault.
func Tree(rng *rand.Rand) (steps.Content, []steps.Step) {
	start := steps.Content{}
	for i := range 3 + rng.IntN(6) {
		start[fmt.Sprintf("p%d", i)] = steps.Whole
	}
	var list []steps.Step
	for range 2 + rng.IntN(14) {
		left := steps.Walk(start, list, nil, nil).Left
		blocks := slices.Sorted(maps.Keys(left))
		if len(blocks) == 0 {
			break
		}
		of := blocks[rng.IntN(len(blocks))]
		list = append(list, step(rng, fmt.Sprintf("s%d", len(list)), of, left[of]))
	}
	for _, of := range slices.Sorted(maps.Keys(steps.Walk(start, list, nil, nil).Left)) {
		list = append(list, steps.Step{ID: fmt.Sprintf("s%d", len(list)), Do: steps.Keep, Of: steps.Names{of},
			Gives: []steps.Give{{Product: "rest_" + of}}})
	}
	return start, list
}

// step is one random step on a block.
func step(rng *rand.Rand, id, of string, holds steps.Content) steps.Step {
	things := holds.Things()
	thing := things[rng.IntN(len(things))]
	pct := float64(holds[thing]) / 1000
	if rng.IntN(2) == 0 {
		pct = float64(1+rng.Int64N(holds[thing])) / 1000
	}
	s := steps.Step{ID: id, Of: steps.Names{of}}
	switch rng.IntN(4) {
	case 0:
		s.Do, s.Parts, s.As = steps.TakeOff, steps.Shares{thing: pct}, steps.Blocks{{Block: "b" + id}}
	case 1:
		to := string(steps.Tubs[rng.IntN(len(steps.Tubs))])
		s.Do, s.Takes = steps.Dress, []steps.Take{{Part: thing, Pct: pct, To: to}}
	case 2:
		s.Do, s.As = steps.Part, steps.Blocks{{Block: "b" + id, Pct: float64(1 + rng.IntN(99))}}
	default:
		s.Do, s.Gives = steps.Keep, []steps.Give{{Product: "x" + id, Pct: float64(1 + rng.IntN(99))}}
	}
	return s
}
