package seam

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/steps"
)

// Rules are the shop's rules for closing a node.
type Rules struct {
	LossLimitPct float64      // above it a close needs a reason
	Division     measure.Mass // taken where no weighing names one
}

// maxText bounds reasons and notes, in bytes.
const maxText = 500

// maxMinutes bounds bench minutes given by hand: a day.
const maxMinutes = 1440

// Check says whether an event may be booked on this board: nil, or faults that name the field. The plan says which
// products there are. It does not know of repeated ids; the caller does.
func Check(p atlas.Piece, plan atlas.Plan, b Board, e Event, rules Rules) error {
	faults, known := checkFields(e)
	if !known {
		return faults
	}
	if b.Closed() && e.Kind != Reopened {
		faults.Add("",
			fault.NewConflict("", "closed", "This breakdown is closed; nothing can be booked on it any more.",
				"Reopen it with a reason; what was booked before the close is kept."))
		return faults
	}
	if b.Root == "" && e.Kind != Opened && e.Kind != Noted && e.Kind != Undone && e.Kind != Inspected {
		faults.Add("kind",
			fault.NewConflict("", "not_opened", "the piece has not been weighed yet", "Weigh the whole piece first."))
		return faults
	}
	switch {
	case e.Kind.Weighs():
		checkWeighing(&faults, p, plan, b, e)
	case e.Kind == WeighedAgain:
		checkWeighedAgain(&faults, b, e)
	case e.Kind == Undone:
		checkUndo(&faults, b, e)
	case e.Kind == Moved:
		checkMove(&faults, p, plan, b, e)
	case e.Kind == Reopened:
		checkReopen(&faults, b, e)
	case e.Kind == Inspected:
		for _, id := range strings.Fields(e.Note) {
			if !slices.ContainsFunc(p.Inspect, func(i atlas.Inspect) bool { return i.ID == id }) {
				faults.Add("note",
					fault.New("", "unknown", fmt.Sprintf("“%s” is not an inspection point of this piece", id), "Leave it out."))
			}
		}
	case e.Kind == Measured:
		checkTemp(&faults, b, e)
	case e.Kind == Noted:
		if e.Note == "" {
			faults.Add("note", fault.New("", "required", "is empty", "Write the note."))
		}
	case e.Kind == Paused && b.Paused:
		faults.Add("kind", fault.NewConflict("", "paused", "the clock stands already", "Resume first."))
	case e.Kind == Resumed && !b.Paused:
		faults.Add("kind", fault.NewConflict("", "running", "the clock runs already", ""))
	case e.Kind == Closed:
		checkClose(&faults, p, plan, b, e, rules)
	case e.Kind == Joined:
		checkJoin(&faults, b, e)
	case e.Kind == Ticked || e.Kind == Skipped:
		checkTick(&faults, p, plan, b, e)
	}
	return faults.Err()
}

// checkFields checks what every event has; known is false where its kind is none.
func checkFields(e Event) (faults fault.List, known bool) {
	if e.ID == "" {
		faults.Add("id", fault.New("", "required", "is empty", "Send a UUID of version 7."))
	}
	if !slices.Contains(Kinds, e.Kind) {
		faults.Add("kind", fault.New("", "unknown", fmt.Sprintf("“%s” is not a kind of bench event", e.Kind), ""))
		return faults, false
	}
	if e.At.IsZero() {
		faults.Add("at", fault.New("", "required", "is empty", "Send the bench's time."))
	}
	if len(e.Reason) > maxText {
		faults.Add("reason", fault.New("", "too_long", "is longer than 500 characters", "Shorten it."))
	}
	if len(e.Note) > maxText {
		faults.Add("note", fault.New("", "too_long", "is longer than 500 characters", "Shorten it."))
	}
	return faults, true
}

func checkWeighedAgain(faults *fault.List, b Board, e Event) {
	checkNet(faults, e)
	if n, ok := b.Node(e.Target); e.Target == "" || !ok {
		faults.Add("target",
			fault.New("", "unknown", "is not a weighing on this board", "Name the event whose weight is wrong."))
	} else if b.settled(n) {
		faults.Add("target", fault.NewConflict("", "closed", "is part of a balance that is closed", "Undo the close first."))
	}
}

func checkWeighing(faults *fault.List, p atlas.Piece, plan atlas.Plan, b Board, e Event) {
	checkNet(faults, e)
	if e.Count < 0 || e.Count > 10_000 {
		faults.Add("count", fault.New("", "out_of_range", "must be from 0 to 10,000", ""))
	}
	if e.Kind == Opened {
		if b.Root != "" {
			faults.Add("kind",
				fault.NewConflict("", "opened", "the piece has been weighed already",
					"Weigh it again, or undo that weighing first."))
		}
		checkSize(faults, p, e.Net)
		return
	}
	if n, ok := b.Node(e.Node); !ok {
		faults.Add("node", fault.New("", "unknown", "is not on this board", "Leave it empty to take from the piece."))
	} else if n.Closed {
		faults.Add("node", fault.NewConflict("", "closed", "is closed already", "Undo its close first."))
	}
	parent, _ := b.Node(e.Node)
	checkPart(faults, p, plan, e.Kind, e.Part, e.Product, parent)
	switch e.Kind {
	case SeamedOff, Trimmed:
		if parent.ID == b.Root && b.inBlocks(p, e.Part) {
			faults.Add("part",
				fault.NewConflict("", "not_there", "left the piece in a block already",
					"Take it from that block, or undo the block."))
		}
	case Parted:
		checkBlock(faults, p, b, e)
	case Tubbed:
		if parent.ID != b.Root {
			faults.Add("node",
				fault.New("", "not_the_piece", "is not the piece: tubs fill from all of it", "Leave it empty."))
		}
	case Added:
		if parent.Mass > 0 && e.Net > maxAdded*parent.Mass {
			faults.Add("net_g", fault.New("", "too_large", "is more than five times what it goes into", "Check the unit."))
		}
	}
	if e.Step != "" && !planned(p, plan, e.Step) {
		faults.Add("step",
			fault.New("", "unknown", fault.Quote(e.Step)+" is not a step of this plan",
				"Leave it empty, or name one of its steps."))
	}
	if e.Kind == Discarded {
		part, known := partOf(p, e.Part, parent)
		if e.Reason == "" && (!known || part.Kind != atlas.KindWaste) {
			faults.Add("reason", fault.New("", "required", "is empty", "Say why it is thrown away."))
		}
	}
}

// partOf finds a part that comes off a node: of the piece, an end of the muscle that is open, or of what comes off any
// muscle when it is dressed.
func partOf(p atlas.Piece, id string, parent Node) (atlas.AnyPart, bool) {
	if part, ok := p.Part(id); ok {
		return part, true
	}
	if muscle, end, ok := p.End(id); ok {
		return atlas.AnyPart{ID: id, Name: end.Name, Kind: atlas.KindMuscle}, parent.Part == muscle.ID
	}
	if parent.Part != "" {
		for _, d := range Dressing {
			if d.ID == id {
				return d, true
			}
		}
	}
	return atlas.AnyPart{}, false
}

// checkPart checks what a weighing of a kind, taken from a node, says it is.
func checkPart(faults *fault.List, p atlas.Piece, plan atlas.Plan, kind Kind, id, product string, parent Node) {
	part, known := partOf(p, id, parent)
	switch kind {
	case SeamedOff:
		if !known || part.Kind != atlas.KindMuscle {
			faults.Add("part",
				fault.New("", "unknown", fmt.Sprintf("“%s” is not a muscle of this piece", id), "Choose a muscle on the map."))
		}
	case Trimmed:
		if !known || (part.Kind != atlas.KindFat && part.Kind != atlas.KindBone && part.Kind != atlas.KindTrim) {
			faults.Add("part",
				fault.New("", "unknown", fmt.Sprintf("“%s” is not fat, bone or trim of this piece", id),
					"Choose one from the list."))
		}
	case Discarded:
		if id != "" && (!known || part.Kind == atlas.KindLoss) {
			faults.Add("part",
				fault.New("", "unknown", fmt.Sprintf("“%s” is not a part of this piece", id),
					"Leave it empty, or choose one from the list."))
		}
	case Portioned:
		if _, ok := Sold(p, plan, product); !ok {
			faults.Add("product",
				fault.New("", "unknown", fmt.Sprintf("“%s” is not a product of this piece", product), "Choose one from the list."))
		}
	case Tubbed:
		if !slices.Contains(steps.Tubs, steps.Tub(id)) {
			faults.Add("part",
				fault.New("", "unknown", fmt.Sprintf("“%s” is not a tub", id),
					"Choose mince_trim, sausage_trim, fat, stock or discard."))
		}
	case Added:
		if id == "" || len(id) > maxName {
			faults.Add("part", fault.New("", "required", "names no ingredient", "Name what was added."))
		}
	}
}

func checkNet(faults *fault.List, e Event) {
	switch {
	case e.Net <= 0:
		faults.Add("net_g", fault.New("", "not_positive", "must be above zero", "Put it on the scale, or type its weight."))
	case e.Net > measure.MaxMass:
		faults.Add("net_g", fault.New("", "too_large", "is more than ten tonnes", "Check the number and the unit."))
	}
	if e.Tare < 0 || e.Gross < 0 {
		faults.Add("tare_g", fault.New("", "negative", "tare and gross must not be below zero", ""))
	}
	if e.Gross != 0 && e.Gross-e.Tare != e.Net {
		faults.Add("net_g", fault.New("", "not_net", "is not gross less tare", "Send the three as the scale gave them."))
	}
	if e.Division < 0 || e.Division > measure.Kilogram {
		faults.Add("division_g", fault.New("", "out_of_range", "must be from 0 to 1,000 g", ""))
	}
	if e.Shared < 0 || e.Shared == 1 || e.Shared > maxShared {
		faults.Add("shared", fault.New("", "out_of_range", "must be from 2 to 200, or left out", ""))
	}
	if e.Source != "" && e.Source != "scale" && e.Source != "typed" {
		faults.Add("source", fault.New("", "unknown", "must be scale or typed", ""))
	}
}

// maxShared bounds how many pieces are weighed together.
const maxShared = 200

// Temperatures that meat at a bench can have, in °C; beyond them the probe or the unit is wrong.
const (
	coldest = -40
	hottest = 60
)

func checkTemp(faults *fault.List, b Board, e Event) {
	switch {
	case e.TempC == nil:
		faults.Add("temp_c", fault.New("", "required", "is empty", "Put the probe in, or type what it shows."))
	case math.IsNaN(*e.TempC) || *e.TempC < coldest || *e.TempC > hottest:
		faults.Add("temp_c",
			fault.New("", "out_of_range", fmt.Sprintf("must be from %d to %d °C", coldest, hottest),
				"Check the probe, and whether it shows °F."))
	}
	if _, ok := b.Node(e.Node); !ok {
		faults.Add("node", fault.New("", "unknown", "is not on this board", "Leave it empty for the piece."))
	}
	if e.Source != "" && e.Source != "probe" && e.Source != "typed" {
		faults.Add("source", fault.New("", "unknown", "must be probe or typed", ""))
	}
}

// checkSize refuses a whole piece whose weight cannot be that piece: a third of the lightest or three times the
// heaviest.
func checkSize(faults *fault.List, p atlas.Piece, m measure.Mass) {
	if m > 0 && (m < p.Low()/3 || m > 3*p.High()) {
		faults.Add("net_g", fault.New("", "absurd",
			fmt.Sprintf("%s cannot be a %s, which weighs %s to %s", m.Text(measure.UnitKilogram, 3), p.Name,
				p.Low().Text(measure.UnitKilogram, 1), p.High().Text(measure.UnitKilogram, 1)),
			"Check the number, the unit and the tare."))
	}
}

func checkUndo(faults *fault.List, b Board, e Event) {
	if e.Target == "" {
		faults.Add("target", fault.New("", "required", "is empty", "Name the event to undo."))
		return
	}
	if !b.known[e.Target] {
		faults.Add("target", fault.New("", "unknown", "is not an event of this breakdown", "Name one of its log."))
		return
	}
	if b.Void[e.Target] {
		faults.Add("target", fault.NewConflict("", "undone", "was undone already", ""))
		return
	}
	switch n, ok := b.Node(e.Target); {
	case ok && (len(n.Children) > 0 || len(n.Inputs) > 0 || n.Joined != ""):
		faults.Add("target", fault.NewConflict("", "has_children", "other weighings stand on it", "Undo those first."))
	case ok && b.settled(n):
		faults.Add("target", fault.NewConflict("", "closed", "is part of a balance that is closed", "Undo the close first."))
	}
}

// checkMove checks that a weighing may be given to another part or product of its kind.
func checkMove(faults *fault.List, p atlas.Piece, plan atlas.Plan, b Board, e Event) {
	n, ok := b.Node(e.Target)
	switch {
	case e.Target == "" || !ok || e.Target == b.Root:
		faults.Add("target",
			fault.New("", "unknown", "is not a weighing on this board that can be moved",
				"Name the event whose weight is of something else."))
		return
	case b.settled(n):
		faults.Add("target", fault.NewConflict("", "closed", "is part of a balance that is closed", "Reopen it first."))
		return
	case len(n.Children) > 0:
		faults.Add("target", fault.NewConflict("", "has_children", "other weighings stand on it", "Undo those first."))
	}
	parent, _ := b.Node(n.Parent)
	checkPart(faults, p, plan, n.Event, e.Part, e.Product, parent)
}

// checkReopen checks that a closed node may be opened again: it says why, and what it is part of is open.
func checkReopen(faults *fault.List, b Board, e Event) {
	n, ok := b.Node(e.Node)
	switch {
	case !ok:
		faults.Add("node", fault.New("", "unknown", "is not on this board", ""))
	case !n.Closed:
		faults.Add("node", fault.NewConflict("", "open", "is not closed", ""))
	case n.ID != b.Root && b.Closed():
		faults.Add("node", fault.NewConflict("", "closed", "is part of a piece that is closed", "Reopen the piece first."))
	}
	if strings.TrimSpace(e.Reason) == "" {
		faults.Add("reason", fault.New("", "required", "is empty", "Say why it is opened again."))
	}
}

func checkClose(faults *fault.List, p atlas.Piece, plan atlas.Plan, b Board, e Event, rules Rules) {
	n, ok := b.Node(e.Node)
	if !ok {
		faults.Add("node", fault.New("", "unknown", "is not on this board", ""))
		return
	}
	if n.Closed {
		faults.Add("node", fault.NewConflict("", "closed", "is closed already", ""))
		return
	}
	if n.Event == Parted {
		faults.Add("node",
			fault.New("", "block", "is a block: it is finished with the piece", "Leave it empty to finish the piece."))
		return
	}
	if n.ID == b.Root {
		checkBlocks(faults, p, plan, b, rules)
	}
	if e.Minutes != nil && (math.IsNaN(*e.Minutes) || *e.Minutes < 0 || *e.Minutes > maxMinutes) {
		faults.Add("minutes",
			fault.New("", "out_of_range", "must be from 0 to 1,440", "Give the bench minutes, pauses left out."))
	}
	for _, c := range n.Children {
		if child, _ := b.Node(c); len(child.Children) > 0 && !child.Closed && child.Event != Parted {
			faults.Add("node",
				fault.NewConflict("", "open_children", "a muscle was opened and is not finished", "Finish what was opened first."))
			break
		}
	}
	if len(n.Children) == 0 {
		faults.Add("node", fault.New("", "nothing_booked", "nothing has come off it yet", "Book what came off, then finish."))
		return
	}
	switch bal := b.Balance(n.ID, rules.Division, rules.LossLimitPct); {
	case bal.Verdict == Gain:
		faults.Add("node", fault.New("", "gain",
			fmt.Sprintf("%s more came out than went in", (-bal.Residual).Text(measure.UnitKilogram, 3)),
			"Something was weighed twice or a tare was forgotten: undo or weigh again what is wrong, then finish."))
	case bal.Verdict == LossHigh && e.Reason == "":
		faults.Add("reason", fault.New("", "required",
			fmt.Sprintf("%s is missing (%.2f %%); the limit is %.2f %%", bal.Loss().Text(measure.UnitKilogram, 3), bal.LossPct(),
				bal.LimitPct),
			"Book what is missing, or say why it is."))
	}
}

// Undoable is the latest event that can be undone on this board: a weighing, a weight corrected, or the close of a
// muscle; nil when there is none.
func Undoable(p atlas.Piece, plan atlas.Plan, b Board, events []Event) *Event {
	for i := len(events) - 1; i >= 0; i-- {
		e := events[i]
		if b.Void[e.ID] || !(e.Kind.Weighs() || e.Kind == WeighedAgain || e.Kind == Closed || e.Kind == Joined ||
			e.Kind == Ticked || e.Kind == Skipped) {
			continue
		}
		undo := Event{ID: "undo", Kind: Undone, Target: e.ID, At: e.At}
		if Check(p, plan, b, undo, Rules{}) == nil {
			return &e
		}
	}
	return nil
}
