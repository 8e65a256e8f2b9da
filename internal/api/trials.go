package api

import (
	"context"

	"falda/internal/api/contract"
	"falda/internal/store"
	"falda/internal/work/compare"
)

func (h *handlers) ListTrials(ctx context.Context,
	r contract.ListTrialsRequestObject) (contract.ListTrialsResponseObject, error) {
	list, next, err := h.work.Compare.Trials(ctx, from(r.Params.After))
	if err != nil {
		return nil, err
	}
	return contract.ListTrials200JSONResponse{Next: some(next), Trials: each(list, func(t store.Trial) contract.TrialCard {
		p, _ := h.work.Atlas().Find(t.AtlasID)
		return contract.TrialCard{Id: t.PublicID, Name: t.Name, AtlasId: t.AtlasID, Piece: p.Name,
			State: contract.TrialCardState(t.State), Reason: some(t.Reason), Version: t.Version}
	})}, nil
}

func (h *handlers) DesignTrial(ctx context.Context,
	r contract.DesignTrialRequestObject) (contract.DesignTrialResponseObject, error) {
	b := r.Body
	v, err := h.work.Compare.DesignTrial(ctx,
		compare.NewTrial{Name: b.Name, AtlasID: b.AtlasId, PlanA: b.PlanA, PlanB: b.PlanB, Seed: uint64(from(b.Seed)),
			Pairs: each(b.Pairs, func(p contract.PieceTwo) [2]string { return [2]string{p.One, p.Other} })})
	if err != nil {
		return nil, err
	}
	return contract.DesignTrial200JSONResponse(trialOut(v)), nil
}

func (h *handlers) PairsNeeded(ctx context.Context,
	r contract.PairsNeededRequestObject) (contract.PairsNeededResponseObject, error) {
	n, by, err := h.work.Compare.PairsNeeded(ctx, r.Params.AtlasId, from(r.Params.PlanA), from(r.Params.PlanB),
		r.Params.Difference)
	if err != nil {
		return nil, err
	}
	return contract.PairsNeeded200JSONResponse{Needed: n, Past: by.N, Sd: round(by.SD, 4), Trial: some(by.Trial)}, nil
}

func (h *handlers) GetTrial(ctx context.Context, r contract.GetTrialRequestObject) (contract.GetTrialResponseObject,
	error) {
	v, err := h.work.Compare.Trial(ctx, r.TrialId)
	if err != nil {
		return nil, err
	}
	return contract.GetTrial200JSONResponse(trialOut(v)), nil
}

func (h *handlers) VoidTrial(ctx context.Context, r contract.VoidTrialRequestObject) (contract.VoidTrialResponseObject,
	error) {
	v, err := h.work.Compare.VoidTrial(ctx, r.TrialId, r.Body.Voided, r.Body.Reason, r.Body.Version)
	if err != nil {
		return nil, err
	}
	return contract.VoidTrial200JSONResponse(trialOut(v)), nil
}

func trialOut(v compare.TrialView) contract.Trial {
	out := contract.Trial{Id: v.PublicID, Name: v.Name, AtlasId: v.AtlasID, Piece: v.Piece.Name, PlanA: v.PlanA,
		PlanB: v.PlanB, NameA: v.NameA, NameB: v.NameB, State: contract.TrialState(v.State), Reason: some(v.Reason),
		Version: v.Version, Sentence: v.Sentence, Pairs: []contract.TrialPair{}, Muscles: []contract.TrialMuscle{}}
	if v.Result != nil {
		r := trialResult(*v.Result, true)
		out.Result = &r
	}
	alternative := func(p compare.TrialPiece) contract.TrialArm {
		s := contract.TrialArm{Piece: card(p.Card), Closed: p.Closed}
		if p.Closed {
			f := round(p.PerKg, 4)
			s.PerKg = &f
		}
		return s
	}
	for _, p := range v.Pairs {
		x := contract.TrialPair{Number: p.Number, A: alternative(p.A), B: alternative(p.B), Complete: p.Complete,
			Outlier: p.Outlier}
		if p.Complete {
			d := round(p.Difference, 4)
			x.Difference = &d
		}
		out.Pairs = append(out.Pairs, x)
	}
	for _, m := range v.Muscles {
		out.Muscles = append(out.Muscles,
			contract.TrialMuscle{Part: m.Muscle.ID, Name: m.Muscle.Name, Result: trialResult(m.Result, true), PCorrected: m.P})
	}
	return out
}
