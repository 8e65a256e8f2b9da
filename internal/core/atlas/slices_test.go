package atlas

import (
	"math"
	"testing"
)

// Rules: the slices of a plan lie end to end over the whole axis, each within the zone of its product; what the
// products are made of still adds up; and what the plan says of a part is what its slices hold of it, within 3 points.
func TestSlicesHoldWhatThePlanSays(t *testing.T) {
	a := loaded(t)
	written := map[string]Plan{}
	for _, folder := range []string{"data/beef-fore.yaml", "data/beef-loin.yaml", "data/beef-round.yaml",
		"data/beef-rump.yaml", "data/beef-whole.yaml", "data/lamb.yaml"} {
		raw, err := data.ReadFile(folder)
		if err != nil {
			t.Fatal(err)
		}
		pieces, err := Decode(folder, raw)
		if err != nil {
			t.Fatal(err)
		}
		for _, p := range pieces {
			for _, pl := range p.Plans {
				written[p.ID+" "+pl.ID] = pl
			}
		}
	}
	sliced := 0
	for _, p := range a.Pieces {
		for _, pl := range p.Plans {
			laid := p.Slices(pl)
			if laid == nil {
				continue
			}
			sliced++
			b, err := p.Inside()
			if err != nil {
				t.Fatal(err)
			}
			at := 0.0
			for _, l := range laid {
				pr, _ := pl.Product(l.Product)
				if l.FromMm != at || l.ToMm <= l.FromMm {
					t.Errorf("%s %s: a slice from %.1f to %.1f after %.1f", p.ID, pl.ID, l.FromMm, l.ToMm, at)
				}
				if l.Product != "" {
					from, to := stretch(b, *pr.Along)
					if l.FromMm < from-0.001 || l.ToMm > to+0.001 {
						t.Errorf("%s %s: %s from %.1f to %.1f lies outside of %.1f to %.1f", p.ID, pl.ID, pr.ID, l.FromMm, l.ToMm,
							from, to)
					}
				}
				at = l.ToMm
			}
			if at != b.LengthMm {
				t.Errorf("%s %s: the slices end at %.1f of %.1f mm", p.ID, pl.ID, at, b.LengthMm)
			}
			for _, fault := range ValidatePlan(p, pl) {
				t.Errorf("%s %s: %v", p.ID, pl.ID, fault)
			}
			if pl.OwnSteps() {
				asItLies(t, p, pl, laid)
				continue
			}
			was := written[p.ID+" "+pl.ID]
			for i, pr := range pl.Products {
				for _, part := range p.Parts() {
					if said, is := was.Products[i].From[part.ID], pr.From[part.ID]; math.Abs(said-is) > 3 {
						t.Errorf("%s %s: %s takes %.1f %% of %s, the plan says %.1f", p.ID, pl.ID, pr.ID, is, part.ID, said)
					}
				}
			}
		}
	}
	if sliced < 20 {
		t.Errorf("%d plans are sliced", sliced)
	}
}

// asItLies checks a plan written in steps: what its sliced products take of a part is divided among them as it lies.
func asItLies(t *testing.T, p Piece, pl Plan, laid []Laid) {
	t.Helper()
	for part, in := range p.fractions(laid) {
		taken, lying := 0.0, 0.0
		for _, pr := range pl.Products {
			if in[pr.ID] > 0 {
				taken, lying = taken+pr.From[part], lying+in[pr.ID]
			}
		}
		for _, pr := range pl.Products {
			if lying > 0 && taken > 0 && pr.sliced() && math.Abs(pr.From[part]/taken-in[pr.ID]/lying) > 0.001 {
				t.Errorf("%s %s: %s takes %.2f of what is sliced of %s, %.2f lies there", p.ID, pl.ID, pr.ID,
					pr.From[part]/taken, part, in[pr.ID]/lying)
			}
		}
	}
}

// By hand: a striploin of 440 mm, whose vein muscle shows from 302 mm on, in steaks of 30 mm before it and of 25 mm
// behind: ten to 300 mm, five to 425; the last 15 mm are less than two thirds of 25 and a rest.
func TestSlicesByHand(t *testing.T) {
	p, _ := loaded(t).Find("beef.striploin")
	pl, _ := p.Plan("traditional")
	laid := p.Slices(pl)
	if len(laid) != 16 || laid[9].ToMm != 300 || laid[10].Product != "vein_steak" || laid[14].ToMm != 425 ||
		laid[15].Product != "" {
		t.Fatalf("%+v", laid)
	}
	steak, _ := pl.Product("striploin_steak")
	vein, _ := pl.Product("vein_steak")
	if steak.Sliced != 10 || vein.Sliced != 5 {
		t.Errorf("%d and %d steaks", steak.Sliced, vein.Sliced)
	}
	// of the eye 98 of 100 stay on slices, and the fifteen steaks hold all but what lies in the last 15 mm
	b, err := p.Inside()
	if err != nil {
		t.Fatal(err)
	}
	front, back := b.Fraction("eye", 0, 300), b.Fraction("eye", 300, 425)
	if got, want := steak.From["eye"]/vein.From["eye"], front/back; math.Abs(got/want-1) > 1e-4 {
		t.Errorf("the steaks hold %.4f to 1 of the eye, lying there are %.4f to 1", got, want)
	}
	// a loin chop is one side of a slice of the saddle
	saddle, _ := loaded(t).Find("lamb.saddle")
	chops, _ := saddle.Plan("traditional")
	if pr, _ := chops.Product("loin_chop"); pr.Sliced != 14 {
		t.Errorf("%d chops", pr.Sliced)
	}
}
