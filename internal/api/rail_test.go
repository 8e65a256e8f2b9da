package api

import (
	"slices"
	"testing"

	"falda/internal/api/contract"
)

// The card of a piece that is being cut says which muscles are off it, an undone one not; a finished one says none.
func TestACardSaysWhatIsOff(t *testing.T) {
	r := newRig(t)
	b := r.onBench("OFF-1", "seamed")
	off := func() []string {
		for _, c := range r.queue() {
			if c.LotNumber == "OFF-1" && c.Off != nil {
				return *c.Off
			}
		}
		return nil
	}
	r.book(b.Id, r.event("inspected", 1, nil))
	r.book(b.Id, r.event("opened", 2, map[string]any{"net_g": 6600, "source": "typed"}))
	if got := off(); len(got) != 0 {
		t.Errorf("before the first cut: %v", got)
	}
	for i, part := range []string{"tri_tip", "mouse"} {
		r.book(b.Id, r.event("seamed_off", 3+i, map[string]any{"part": part, "net_g": 500, "source": "typed"}))
	}
	if got := off(); !slices.Equal(got, []string{"tri_tip", "mouse"}) {
		t.Errorf("two are off: %v", got)
	}
	board := r.book(b.Id, r.event("paused", 6, nil))
	last := board.Rows[len(board.Rows)-1].EventId
	r.book(b.Id, r.event("undone", 7, map[string]any{"target": last}))
	if got := off(); !slices.Equal(got, []string{"tri_tip"}) {
		t.Errorf("one was undone: %v", got)
	}
	r.cutHand(r.onBench("OFF-2", "seamed"))
	for _, c := range r.queue() {
		if c.LotNumber == "OFF-2" && c.Off != nil {
			t.Errorf("a finished piece says %v", *c.Off)
		}
	}
}

// The maps come all at once, and are those of each piece.
func TestAllMapsAreThoseOfEach(t *testing.T) {
	r := newRig(t)
	var all []contract.PieceMap
	r.ok("GET", base+"/atlas/maps", nil, &all)
	var list []contract.AtlasEntry
	r.ok("GET", base+"/atlas/pieces", nil, &list)
	if len(all) != len(list) {
		t.Fatalf("%d maps of %d pieces", len(all), len(list))
	}
	var p contract.AtlasPiece
	r.ok("GET", base+"/atlas/pieces/"+all[0].Id, nil, &p)
	if len(p.SeamMap.Areas) != len(all[0].Map.Areas) || p.SeamMap.Areas[0].SharePct != all[0].Map.Areas[0].SharePct {
		t.Errorf("%s: %+v, alone %+v", all[0].Id, all[0].Map.Areas, p.SeamMap.Areas)
	}
}
