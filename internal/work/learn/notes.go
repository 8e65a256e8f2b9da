package learn

import (
	"context"
	"encoding/base64"
	"io"
	"slices"
	"strings"

	"falda/internal/core/fault"
	"falda/internal/core/words"
	"falda/internal/photo"
	"falda/internal/store"
	"falda/internal/work/audit"
)

// NewNote is what the house says of a step, or somebody of a practice piece.
type NewNote struct {
	AtlasID   string
	Step      string // a muscle or part of the piece, or a step of a plan in steps
	PlanID    string // empty: whatever the plan
	Breakdown string // of a practice piece; then it is about that piece alone
	Words     string
}

// The bounds of notes.
const (
	maxNote  = 500
	maxNotes = 2000 // of a shop
)

// Notes lists what the house says of the steps of a piece.
func (s *Service) Notes(ctx context.Context, atlasID string) ([]store.HouseNoteRow, error) {
	who, err := audit.Who(ctx)
	if err != nil {
		return nil, err
	}
	if _, ok := s.atlas.Find(atlasID); !ok {
		return nil, store.ErrNotFound
	}
	return s.store.HouseNotes(ctx, who.ShopID, atlasID)
}

// AddNote keeps a note and gives its public id. What the house says of a step, a lead writes; what is noted of a
// practice piece, whoever may see it.
func (s *Service) AddNote(ctx context.Context, in NewNote) (string, error) {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return "", err
	}
	who, err := audit.Who(ctx)
	if err != nil {
		return "", err
	}
	n := store.HouseNote{PublicID: store.NewID(), ShopID: sh.ID, Words: strings.TrimSpace(in.Words), ByID: who.MemberID,
		At: s.now()}
	var faults fault.List
	faults.Add("words", fault.Text(in.Words, maxNote, true))
	if in.Breakdown != "" {
		row, _, err := s.practiceRow(ctx, in.Breakdown)
		if err != nil {
			return "", err
		}
		n.AtlasID, n.PlanID, n.BreakdownID = row.AtlasID, row.PlanID, &row.BreakdownID
	} else {
		if !Leads(who) {
			return "", fault.NewConflict("", "not_yours", "What the house says of a step a head cutter writes.",
				"Ask one to write it.")
		}
		p, ok := s.atlas.Find(in.AtlasID)
		if !ok {
			return "", fault.New("piece", "unknown", "is not a piece of the atlas", "Choose one of the list.")
		}
		p = sh.AddOwn(p, in.PlanID)
		_, is := p.Part(in.Step)
		if pl, ok := p.Plan(in.PlanID); ok && !is {
			for _, step := range p.StepsOf(pl) {
				is = is || step.ID == in.Step
			}
		}
		if !is {
			faults.Add("step", fault.New("", "unknown", "is no part and no step of this piece", "Choose one of the list."))
		}
		n.AtlasID, n.Step, n.PlanID = p.ID, in.Step, in.PlanID
	}
	if err := faults.Err(); err != nil {
		return "", err
	}
	return n.PublicID, s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		count, err := tx.CountNotes(ctx, sh.ID)
		if err != nil {
			return audit.Change{}, err
		}
		if count >= maxNotes {
			return audit.Change{}, fault.NewConflict("", "too_many", "The house has 2,000 notes.", "Take some away first.")
		}
		return audit.Change{Action: "note.added", Subject: n.PublicID, SubjectName: words.Truncate(n.Words, 80)},
			tx.AddHouseNote(ctx, &n)
	})
}

// note gives a note that the caller may change: their own, or any to a lead.
func (s *Service) note(ctx context.Context, id string) (store.HouseNoteRow, audit.Caller, error) {
	who, err := audit.Who(ctx)
	if err != nil {
		return store.HouseNoteRow{}, who, err
	}
	n, err := s.store.HouseNote(ctx, who.ShopID, id)
	if err == nil && n.ByID != who.MemberID && !Leads(who) {
		err = store.ErrNotFound
	}
	return n, who, err
}

// RemoveNote takes a note away, with its picture.
func (s *Service) RemoveNote(ctx context.Context, id string) error {
	n, _, err := s.note(ctx, id)
	if err != nil {
		return err
	}
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		return audit.Change{Action: "note.removed", Subject: id, SubjectName: words.Truncate(n.Words, 80)},
			tx.RemoveHouseNote(ctx, n.HouseNote)
	})
}

// AddPicture puts a photograph to a note, in the place of the one it had.
func (s *Service) AddPicture(ctx context.Context, note string, r io.Reader) error {
	n, who, err := s.note(ctx, note)
	if err != nil {
		return err
	}
	p, err := photo.Read(r)
	if err != nil {
		return err
	}
	row := store.Picture{PublicID: store.NewID(), ShopID: who.ShopID, Wide: p.Wide, High: p.High,
		Jpeg: base64.StdEncoding.EncodeToString(p.JPEG)}
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		return audit.Change{Action: "note.picture", Subject: note, SubjectName: words.Truncate(n.Words, 80)},
			tx.SetNotePicture(ctx, n.HouseNote, &row)
	})
}

// Picture gives a photograph as JPEG: one of the house's steps to everybody of the shop, one of a practice piece to
// whoever may see that.
func (s *Service) Picture(ctx context.Context, id string) ([]byte, error) {
	who, err := audit.Who(ctx)
	if err != nil {
		return nil, err
	}
	p, err := s.store.Picture(ctx, who.ShopID, id)
	if err != nil {
		return nil, err
	}
	of, err := s.store.PracticesOfPicture(ctx, who.ShopID, p.ID)
	if err != nil {
		return nil, err
	}
	if len(of) > 0 && !Leads(who) && !slices.Contains(of, who.MemberID) {
		return nil, store.ErrNotFound
	}
	return base64.StdEncoding.DecodeString(p.Jpeg)
}
