package atlas

import (
	"fmt"
	"maps"
	"slices"

	"falda/internal/core/steps"
)

// everyChoice lists every way to answer options, the defaults first; at most so many.
func everyChoice(options []steps.Option, most int) []map[string]string {
	out := []map[string]string{{}}
	for _, o := range options {
		var next []map[string]string
		for _, chosen := range out {
			for _, c := range o.Choices {
				with := maps.Clone(chosen)
				with[o.ID] = c.ID
				next = append(next, with)
			}
		}
		if out = next; len(out) > most {
			return out[:most]
		}
	}
	return out
}

// validateSteps holds a plan's steps to the grammar and walks them under every choice of its options: everything goes
// somewhere, every product is made by some choice, and nothing is named that is not there.
func (v *validator) validateSteps(key string, pl Plan) {
	for _, err := range steps.Check(pl.Steps, pl.Options) {
		v.add(key, "%v", err)
	}
	known := func(field, part string) {
		if kind := v.known[part]; (kind == "" && v.p.Missing[part] == 0) || kind == KindLoss {
			v.add(key+"."+field, "“%s” is not a muscle or part of this piece that can leave", part)
		}
	}
	given := map[string]bool{}
	for _, s := range pl.Steps {
		at := "steps." + s.ID
		for part := range s.Parts {
			known(at+".parts", part)
		}
		for _, t := range s.Takes {
			known(at+".takes", t.Part)
		}
		for _, part := range s.Where {
			known(at+".where", part)
		}
		for _, g := range s.Gives {
			given[g.Product+g.Piece] = true
			if pr, ok := declared(pl, g.Piece); g.Piece != "" && (!ok || pr.Form != FormPiece) {
				v.add(key+"."+at+".gives", "“%s” is a piece: it must be among the plan's products with the form piece", g.Piece)
			}
			if g.Product != "" && !slices.ContainsFunc(pl.All(), func(pr Product) bool { return pr.ID == g.Product }) {
				v.add(key+"."+at+".gives", "“%s” is not among the plan's products", g.Product)
			}
		}
	}
	for _, pr := range pl.All() {
		if tub := pr.IsTrim() || pr.ByProduct(); !given[pr.ID] && !tub {
			v.add(key+".products."+pr.ID, "no step gives it")
		}
	}
	said := map[string]bool{}
	for _, chosen := range everyChoice(pl.Options, maxChoices) {
		with := pl
		with.Chosen = chosen
		f := v.p.Flow(with)
		faults := f.Faults
		for _, block := range slices.Sorted(maps.Keys(f.Left)) {
			for _, part := range f.Left[block].Things() {
				faults = append(faults, fmt.Errorf("steps: %s %% of %s is left in %s", share(f.Left[block][part]), part, block))
			}
		}
		for _, err := range faults {
			if !said[err.Error()] {
				said[err.Error()] = true
				v.add(key, "%v (under %v)", err, chosen)
			}
		}
	}
}

// declared gives a product of the plan under any choice.
func declared(pl Plan, id string) (Product, bool) {
	all := pl.All()
	i := slices.IndexFunc(all, func(pr Product) bool { return pr.ID == id })
	if i < 0 {
		return Product{}, false
	}
	return all[i], true
}

// maxChoices bounds how many ways of answering a plan's options are walked.
const maxChoices = 600

func share(thousandths int64) string { return fmt.Sprintf("%g", float64(thousandths)/1000) }
