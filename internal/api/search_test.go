package api

import (
	"fmt"
	"net/url"
	"slices"
	"testing"

	"falda/internal/api/contract"
)

// A search finds a lot by any part of its number or by its supplier, its pieces with it, and by any name of a cut the
// pieces of that kind; what is not done comes first; nothing that is void, and nothing for an empty question.
func TestSearchFindsLotsPiecesAndCuts(t *testing.T) {
	r := newRig(t)
	first, other := r.received("FIND-17"), r.received("OTHER_2")
	find := func(q string) (f contract.Found) {
		t.Helper()
		r.ok("GET", base+"/search?q="+url.QueryEscape(q), nil, &f)
		return f
	}
	lots := func(f contract.Found) (out []string) {
		for _, l := range f.Lots {
			out = append(out, l.LotNumber)
		}
		return out
	}
	pieces := func(f contract.Found) (out []string) {
		for _, p := range f.Pieces {
			out = append(out, p.LotNumber)
		}
		slices.Sort(out)
		return out
	}
	both := []string{"FIND-17", "OTHER_2"}
	for q, want := range map[string][]string{"find": {"FIND-17"}, "D-17": {"FIND-17"}, "R_2": {"OTHER_2"}, "%": nil,
		"_": {"OTHER_2"}, "  ": nil, `\`: nil, "'; --": nil} {
		f := find(q)
		if fmt.Sprint(lots(f)) != fmt.Sprint(want) || fmt.Sprint(pieces(f)) != fmt.Sprint(want) {
			t.Errorf("%q finds lots %v and pieces %v, want %v", q, lots(f), pieces(f), want)
		}
	}
	if f := find(first.Supplier); len(f.Lots) != 2 || f.Lots[0].Id != other.Id {
		t.Errorf("the supplier: %v", lots(f))
	}
	f := find("top butt") // what another market calls it
	if got := pieces(f); !slices.Equal(got, both) || len(f.Atlas) == 0 || f.Atlas[0].Id != "beef.top_sirloin" {
		t.Errorf("by a name: pieces %v, %v", got, f.Atlas)
	}
	r.ok("PUT", base+"/lots/"+first.Id+"/void", map[string]any{"voided": true, "reason": "sent back", "version": 1}, nil)
	if got := pieces(find("top butt")); !slices.Equal(got, both[1:]) {
		t.Errorf("void: pieces %v", got)
	}
	if got := pieces(find("find")); len(got) != 0 {
		t.Errorf("void: pieces of the lot %v", got)
	}
	r.cutHand(r.onBench("DONE-1", "seamed"))
	r.onBench("NEW-1", "seamed")
	stages := []contract.PieceCardStage{}
	for _, p := range find("top butt").Pieces {
		stages = append(stages, p.Stage)
	}
	if len(stages) != 3 || stages[2] == "plan" || stages[2] == "bench" {
		t.Errorf("stages %v, want what is done last", stages)
	}
}
