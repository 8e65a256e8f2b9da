package value

import (
	"testing"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/measure"
	"falda/internal/core/seam"
)

// booked folds weighings of a rump of 6.6 kg, in grams.
func booked(p atlas.Piece, events ...seam.Event) seam.Board {
	at := time.Date(2026, 3, 2, 7, 0, 0, 0, time.UTC)
	log := []seam.Event{{ID: "root", Kind: seam.Opened, At: at, Net: 6600 * measure.Gram}}
	for i, e := range events {
		if e.ID == "" {
			e.ID = string(rune('a' + i))
		}
		e.At, e.Net = at.Add(time.Duration(i+1)*time.Minute), e.Net*measure.Gram
		log = append(log, e)
	}
	return seam.Fold(p, append(log, seam.Event{ID: "end", Kind: seam.Closed, At: at.Add(time.Hour), Reason: "as found"}))
}

// Rule: what was weighed is what is valued. A rump as it was cut: the heart opened into six steaks, the cap into six,
// the fillet side into four medallions, 600 g of cover fat into its tub, trim, and a tri-tip that was not opened. By
// hand, at 20, 24, 26, 17, 16, 10 and 0.50 a kilogram: steaks 2.000 · 20 = 40.00; cap 0.940 · 24 = 22.56; medallions
// 0.800 · 26 = 20.80; fat 0.600 · 0.50 = 0.30; trim 0.600 · 10 = 6.00; the tri-tip's 1.000 kg by the plan's shares, 94
// % whole 15.98. None of the fat is sold as steak.
func TestWhatWasWeighedIsWhatIsValued(t *testing.T) {
	p := rump(t)
	pl := plan(t, p, "seamed")
	board := booked(p,
		seam.Event{ID: "heart", Kind: seam.SeamedOff, Part: "heart_main", Net: 2200},
		seam.Event{Kind: seam.Portioned, Node: "heart", Product: "heart_steak", Net: 2000, Count: 6},
		seam.Event{Kind: seam.Closed, Node: "heart", Reason: "drip"},
		seam.Event{ID: "cap", Kind: seam.SeamedOff, Part: "cap", Net: 960},
		seam.Event{Kind: seam.Portioned, Node: "cap", Product: "cap_steak", Net: 940, Count: 6},
		seam.Event{Kind: seam.Closed, Node: "cap"},
		seam.Event{Kind: seam.Portioned, Product: "side_medallion", Net: 800, Count: 4},
		seam.Event{Kind: seam.Trimmed, Part: "cover_fat", Net: 600},
		seam.Event{Kind: seam.Trimmed, Part: "trim", Net: 600},
		seam.Event{Kind: seam.SeamedOff, Part: "tri_tip", Net: 1000})
	cells, with := Recorded(p, pl, board)
	s := Sheet{Atlas: p, Plan: with, Cells: cells,
		Prices: map[string]measure.Price{"beef.heart_steak": perKg("20"), "beef.cap_steak": perKg("24"),
			"beef.side_medallion": perKg("26"), "beef.tri_tip_whole": perKg("17"), "beef.mince_trim": perKg("10"),
			"beef.fat": perKg("0.50"), "beef.lean_mince_trim": perKg("11")}}
	for product, want := range map[string]measure.Mass{"heart_steak": 2000, "cap_steak": 940, "side_medallion": 800} {
		if got := s.ProductMass(product); got != want*measure.Gram || s.Weighed(product) != got {
			t.Errorf("%s: %d g of %d weighed, %d weighed", product, got/measure.Gram, s.Weighed(product)/measure.Gram, want)
		}
	}
	inFat := measure.Mass(0)
	for _, c := range cells {
		if c.Part == "cover_fat" && c.Fate == Sold {
			pr, _ := with.Product(c.Product)
			if !pr.ByProduct() {
				t.Errorf("%d g of the fat that was weighed are sold as %s", c.Mass/measure.Gram, pr.Name)
			}
			inFat += c.Mass
		}
		if (c.Part == "tri_tip") != c.Estimated && c.Fate == Sold {
			t.Errorf("%s of %s: estimated %v", c.Product, c.Part, c.Estimated)
		}
	}
	if inFat != 600*measure.Gram {
		t.Errorf("%d g of fat in the tub", inFat/measure.Gram)
	}
	alternative := s.Alternative("", false)
	lines := map[string]string{"beef.heart_steak": "40.00", "beef.cap_steak": "22.56", "beef.side_medallion": "20.80",
		"beef.fat": "0.30"}
	if tip := s.ProductMass("tri_tip_whole"); tip != 870*measure.Gram {
		t.Errorf("the tri-tip gives %d g whole", tip/measure.Gram)
	} else {
		lines["beef.tri_tip_whole"] = "14.79"
	}
	for key, want := range lines {
		got := s.Prices[key].Of(massOf(alternative, key)).Round(2).Text(2)
		if got != want {
			t.Errorf("%s brings %s, by hand %s", key, got, want)
		}
	}
	// one loss: 6,600 less what came off is 440 g on the board, and 200 + 20 g inside what was opened
	if lost := s.FateMass(Loss); lost != board.Lost() || lost != 660*measure.Gram {
		t.Errorf("lost: %d g in the sheet, %d g on the board, by hand 660", lost/measure.Gram, board.Lost()/measure.Gram)
	}
	b := board.Balance("", 0, 1.5)
	if b.Loss() != 660*measure.Gram || b.Verdict != "loss_high" {
		t.Errorf("the limit is asked of %d g: %s", b.Loss()/measure.Gram, b.Verdict)
	}
	for product, want := range map[string]int{"heart_steak": 6, "cap_steak": 6, "side_medallion": 4} {
		if n, known := board.Counted(product); n != want || !known {
			t.Errorf("%s: %d were counted, %d booked", product, n, want)
		}
	}
}

// massOf is how much of a product an alternative sells.
func massOf(s Alternative, key string) (m measure.Mass) {
	for _, c := range s.Cells {
		if c.Key == key {
			m += c.Mass
		}
	}
	return m
}
