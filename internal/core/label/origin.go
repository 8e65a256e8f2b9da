package label

import (
	"slices"
	"strings"
)

// Origin is where an animal was born, reared and slaughtered, as it is known at arrival; empty where nobody said.
type Origin struct{ Born, Reared, Slaughtered, Plant string }

// Cutting is where the meat is cut: the country, and the approval number of the plant.
type Cutting struct{ Country, Plant string }

// OriginLines are the lines that the law of the European Union asks for on packed beef (Regulation (EC) No 1760/2000,
// Article 13: reference, slaughterhouse, cutting plant, born, reared; one word "origin" where all three are one) and on
// packed sheep meat (Implementing Regulation (EU) No 1337/2013, Article 5: reared, slaughtered, batch), both from
// memory; other markets have others. What lies in one pack may be of several animals: their countries stand together.
// Missing names what the lines lack. Other species have none.
func OriginLines(species string, from []Origin, cut Cutting, reference string) (lines, missing []string) {
	beef := species == "beef"
	if !beef && species != "lamb" {
		return nil, nil
	}
	put := func(lead, value string) {
		if value != "" {
			lines = append(lines, lead+": "+value)
		}
	}
	missing = lacking(from, cut, beef)
	born, reared := joined(from, func(o Origin) string { return o.Born }),
		joined(from, func(o Origin) string { return o.Reared })
	killed := joined(from, func(o Origin) string { return o.Slaughtered })
	one := born != "" && born == reared && reared == killed && !strings.Contains(born, ",")
	switch {
	case one:
		put("Origin", born)
	case beef:
		put("Born in", born)
		put("Reared in", reared)
	default:
		put("Reared in", reared)
	}
	if beef {
		put("Slaughtered in", strings.TrimSpace(killed+" "+joined(from, func(o Origin) string { return o.Plant })))
		put("Cut in", strings.TrimSpace(cut.Country+" "+cut.Plant))
		put("Reference", reference)
		return lines, missing
	}
	if !one {
		put("Slaughtered in", killed)
	}
	put("Batch", reference)
	return lines, missing
}

// lacking names what the lines need and nobody said.
func lacking(from []Origin, cut Cutting, beef bool) (missing []string) {
	need := func(what, value string) {
		if value == "" && !slices.Contains(missing, what) {
			missing = append(missing, what)
		}
	}
	if len(from) == 0 {
		from = []Origin{{}}
	}
	for _, o := range from {
		if beef {
			need("where it was born", o.Born)
		}
		need("where it was reared", o.Reared)
		need("where it was slaughtered", o.Slaughtered)
		if beef {
			need("the approval number of the slaughterhouse", o.Plant)
		}
	}
	if beef {
		need("the country of the cutting plant", cut.Country)
		need("the approval number of the cutting plant", cut.Plant)
	}
	return missing
}

// joined names each of several places once.
func joined(from []Origin, of func(Origin) string) string {
	var out []string
	for _, o := range from {
		if v := strings.TrimSpace(of(o)); v != "" && !slices.Contains(out, v) {
			out = append(out, v)
		}
	}
	return strings.Join(out, ", ")
}
