package atlas

import (
	"maps"
	"slices"
)

func (v *validator) takes(key string, t Takes) {
	for _, part := range t.Of {
		if _, ok := v.p.Part(part); !ok {
			v.add(key+".of", "“%s” is not a muscle or part of this piece", part)
		}
	}
	if t.Pct == 0 && t.To == "" {
		return
	}
	if t.Pct <= 0 || t.Pct > 50 {
		v.add(key+".pct", "must be above 0 and at most 50")
	}
	for _, to := range append([]string{t.To}, t.May...) {
		if !slices.Contains(Consequences, to) {
			v.add(key, "“%s” is not one of %v", to, Consequences)
		}
	}
}

// options checks that every choice can be made, changes something, and leaves a plan in which everything goes
// somewhere.
func (v *validator) options() {
	for _, o := range v.p.Other {
		for muscle, over := range o.Cover.Over {
			if v.known[muscle] != KindMuscle || over <= 0 || over > 100 {
				v.add("other."+o.ID+".cover.over."+muscle, "must be a muscle, above 0 and at most 100")
			}
		}
		if (o.Cover.Mm != 0 || len(o.Cover.Over) > 0) && (o.Kind != KindFat || o.Cover.Mm <= 0 || len(o.Cover.Over) == 0) {
			v.add("other."+o.ID+".cover", "is for fat, with a thickness and the muscles it lies over")
		}
	}
	seen := map[string]bool{FatCover: true}
	for _, o := range v.p.Options {
		key := "options." + o.ID
		if o.ID == "" || o.Name == "" || o.AsIs == "" || len(o.Choices) == 0 || seen[o.ID] {
			v.add(key, "needs an id of its own, name, as_is and choices")
		}
		seen[o.ID] = true
		v.moves(key, o)
		for _, id := range o.In {
			pl, ok := v.p.Plan(id)
			if !ok {
				v.add(key+".in", "“%s” is not a plan of this piece", id)
				continue
			}
			for _, c := range o.Choices {
				v.choice(key+".choices."+c.ID, pl, o, c)
			}
		}
	}
}

// moves checks that what is moved comes from and goes to products that there are, in one of the option's plans or by
// the choice.
func (v *validator) moves(key string, o Option) {
	for _, c := range o.Choices {
		made := map[string]bool{Thrown: true, "fat": true}
		for _, pr := range c.Products {
			made[pr.ID] = true
		}
		for _, pl := range v.p.Plans {
			for _, pr := range pl.Products {
				made[pr.ID] = true
			}
		}
		for _, m := range c.Moves {
			for _, id := range append([]string{m.To}, m.Of...) {
				if !made[id] {
					v.add(key+".choices."+c.ID, "“%s” is not a product", id)
				}
			}
			if m.Part != "" && v.known[m.Part] == "" {
				v.add(key+".choices."+c.ID, "“%s” is not a muscle or part of this piece", m.Part)
			}
			if m.Pct <= 0 || m.Pct > 100 {
				v.add(key+".choices."+c.ID, "moves %g %%, not above 0 and at most 100", m.Pct)
			}
		}
	}
}

func (v *validator) choice(key string, pl Plan, o Option, c Choice) {
	if c.ID == "" || c.Name == "" || c.Why == "" {
		v.add(key, "needs id, name and why")
	}
	with, err := v.p.With(pl, map[string]string{o.ID: c.ID})
	if err != nil {
		v.add(key, "cannot be made in %s: %v", pl.ID, err)
		return
	}
	changed := with.Minutes != pl.Minutes
	for _, pr := range with.Products {
		was, _ := pl.Product(pr.ID)
		changed = changed || !maps.Equal(was.From, pr.From)
	}
	if !changed {
		v.add(key, "changes nothing in %s", pl.ID)
	}
	v.plan(key+" in "+pl.ID, with)
	v.dressing(key+" in "+pl.ID, with)
}
