package api

import (
	"bytes"
	"context"

	"falda/internal/api/contract"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/learn"
)

func (h *handlers) marked(ctx context.Context, breakdown string) (contract.PracticeMark, error) {
	row, err := h.work.Learn.Marked(ctx, breakdown)
	if err != nil || row == nil {
		return contract.PracticeMark{}, err
	}
	return practiceMark(*row), nil
}

// GetPractice says whether a piece is cut to learn.
func (h *handlers) GetPractice(ctx context.Context,
	r contract.GetPracticeRequestObject) (contract.GetPracticeResponseObject, error) {
	out, err := h.marked(ctx, r.BreakdownId)
	return contract.GetPractice200JSONResponse(out), err
}

// SetPractice makes a piece a practice piece.
func (h *handlers) SetPractice(ctx context.Context,
	r contract.SetPracticeRequestObject) (contract.SetPracticeResponseObject, error) {
	err := h.work.Learn.SetPractice(ctx, r.BreakdownId, from(r.Body.Member), learn.Level(r.Body.Level))
	if err != nil {
		return nil, err
	}
	out, err := h.marked(ctx, r.BreakdownId)
	return contract.SetPractice200JSONResponse(out), err
}

// EndPractice makes it an ordinary one again.
func (h *handlers) EndPractice(ctx context.Context,
	r contract.EndPracticeRequestObject) (contract.EndPracticeResponseObject, error) {
	return contract.EndPractice204Response{}, h.work.Learn.EndPractice(ctx, r.BreakdownId)
}

// review lays a practice piece beside the house.
func (h *handlers) review(ctx context.Context, breakdown string) (contract.PracticeReview, error) {
	v, err := h.work.Learn.Review(ctx, breakdown)
	if err != nil {
		return contract.PracticeReview{}, err
	}
	who, err := audit.Who(ctx)
	return contract.PracticeReview{BreakdownId: v.PublicID, Member: v.Member, Name: v.MemberName, Level: v.Level,
		Piece: v.AtlasID, PieceName: v.Piece, PlanName: v.Plan, LotNumber: v.LotNumber, PieceNumber: v.PieceNumber,
		Closed: v.Closed, MaySign: v.MaySign, Minutes: round(v.Minutes, 1), HouseMinutes: round(v.HouseMinutes, 1),
		Past: v.Past, Timed: v.Timed, Steps: each(v.Steps, practiceStep), Remarks: texts(v.Remarks),
		Notes: each(v.Notes, func(n store.HouseNoteRow) contract.HouseNote { return houseNote(who, n) })}, err
}

func practiceStep(s learn.StepReview) contract.PracticeStep {
	out := contract.PracticeStep{Step: s.Step, Name: s.Name, Kind: s.Kind, Minutes: round(s.Minutes, 1),
		HouseMinutes: round(s.HouseMinutes, 1), HouseTimed: s.HouseTimed, WeightG: s.Mass.Grams(), Pct: round(s.Pct, 2),
		MeanPct: round(s.Mean, 2), LowPct: round(s.Low, 2), HighPct: round(s.High, 2), N: s.N, Odd: some(s.Odd())}
	if s.Signed != nil {
		x := signOff(*s.Signed)
		out.Signed = &x
	}
	return out
}

// ReviewPractice lays a practice piece beside the house.
func (h *handlers) ReviewPractice(ctx context.Context,
	r contract.ReviewPracticeRequestObject) (contract.ReviewPracticeResponseObject, error) {
	out, err := h.review(ctx, r.BreakdownId)
	return contract.ReviewPractice200JSONResponse(out), err
}

// SignOff keeps what is said of a step.
func (h *handlers) SignOff(ctx context.Context, r contract.SignOffRequestObject) (contract.SignOffResponseObject,
	error) {
	in := learn.SignOff{Step: r.Body.Step, Signed: r.Body.Signed, Words: from(r.Body.Words)}
	if err := h.work.Learn.Sign(ctx, r.BreakdownId, in); err != nil {
		return nil, err
	}
	out, err := h.review(ctx, r.BreakdownId)
	return contract.SignOff200JSONResponse(out), err
}

func houseNote(who audit.Caller, n store.HouseNoteRow) contract.HouseNote {
	return contract.HouseNote{Id: n.PublicID, Piece: n.AtlasID, Step: n.Step, Plan: n.PlanID, Words: n.Words,
		Picture: n.Picture, By: n.ByName, At: n.At, Mine: mayTake(who, n)}
}

// ListNotes lists what the house says of the steps of a piece.
func (h *handlers) ListNotes(ctx context.Context, r contract.ListNotesRequestObject) (contract.ListNotesResponseObject,
	error) {
	list, err := h.work.Learn.Notes(ctx, r.Params.Piece)
	if err != nil {
		return nil, err
	}
	who, err := audit.Who(ctx)
	return contract.ListNotes200JSONResponse(each(list, func(n store.HouseNoteRow) contract.HouseNote {
		return houseNote(who, n)
	})), err
}

// AddNote keeps a note.
func (h *handlers) AddNote(ctx context.Context, r contract.AddNoteRequestObject) (contract.AddNoteResponseObject,
	error) {
	b := r.Body
	id, err := h.work.Learn.AddNote(ctx, learn.NewNote{AtlasID: from(b.Piece), Step: from(b.Step),
		PlanID: from(b.Plan), Breakdown: from(b.BreakdownId), Words: b.Words})
	return contract.AddNote200JSONResponse{Id: id}, err
}

// RemoveNote takes a note away.
func (h *handlers) RemoveNote(ctx context.Context,
	r contract.RemoveNoteRequestObject) (contract.RemoveNoteResponseObject, error) {
	return contract.RemoveNote204Response{}, h.work.Learn.RemoveNote(ctx, r.NoteId)
}

// AddPicture puts a photograph to a note.
func (h *handlers) AddPicture(ctx context.Context,
	r contract.AddPictureRequestObject) (contract.AddPictureResponseObject, error) {
	return contract.AddPicture204Response{}, h.work.Learn.AddPicture(ctx, r.NoteId, r.Body)
}

// GetPicture gives a photograph.
func (h *handlers) GetPicture(ctx context.Context,
	r contract.GetPictureRequestObject) (contract.GetPictureResponseObject, error) {
	raw, err := h.work.Learn.Picture(ctx, r.PictureId)
	return contract.GetPicture200ImagejpegResponse{Body: bytes.NewReader(raw), ContentLength: int64(len(raw))}, err
}
