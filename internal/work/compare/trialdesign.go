package compare

import (
	"context"
	"fmt"
	"strings"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/judge"
	"falda/internal/work/shop"
	"falda/internal/work/stock"
)

// NewTrial is a trial that is designed: which pieces make a pair; which of the two is cut which way is drawn.
type NewTrial struct {
	Name, AtlasID, PlanA, PlanB string
	Pairs                       [][2]string // public ids of pieces
	Seed                        uint64      // 0 for a random one
}

// DesignTrial makes a trial: it checks the pairs, draws which piece of each is cut which way, and plans the pieces so.
func (s *Service) DesignTrial(ctx context.Context, in NewTrial) (TrialView, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return TrialView{}, err
	}
	var faults fault.List
	in.Name = strings.TrimSpace(in.Name)
	faults.Add("name", fault.Text(in.Name, maxTrialName, true))
	p, ok := s.atlas.Find(in.AtlasID)
	if !ok {
		return TrialView{},
			fault.New("atlas_id", "unknown", fault.Quote(in.AtlasID)+" is not a piece of the atlas", "Choose one of the list.")
	}
	p = shop.AddOwn(p, "")
	for _, x := range [][2]string{{"plan_a", in.PlanA}, {"plan_b", in.PlanB}} {
		if _, ok := p.Plan(x[1]); !ok {
			faults.Add(x[0],
				fault.New("", "unknown", fault.Quote(x[1])+" is not a plan of this piece", "Choose one of its plans."))
		}
	}
	if in.PlanA == in.PlanB {
		faults.Add("plan_b", fault.New("", "same", "is the same way as the first", "Choose another."))
	}
	if len(in.Pairs) == 0 || len(in.Pairs) > maxPairs {
		faults.Add("pairs",
			fault.New("", "out_of_range", fmt.Sprintf("must be from 1 to %d", maxPairs),
				"Choose the two sides of at least one carcass."))
	}
	if in.Seed == 0 {
		in.Seed = uint64(s.now().UnixNano())
	}
	pairs, err := s.drawPairs(ctx, shop, in, &faults)
	if err == nil {
		err = faults.Err()
	}
	if err != nil {
		return TrialView{}, err
	}
	t := store.Trial{PublicID: store.NewID(), ShopID: shop.ID, Name: in.Name, AtlasID: in.AtlasID, PlanA: in.PlanA,
		PlanB: in.PlanB, State: "open", Version: 1, CreatedAt: s.now()}
	if err := s.startTrial(ctx, shop, p, &t, pairs); err != nil {
		return TrialView{}, err
	}
	return s.Trial(ctx, t.PublicID)
}

// drawPairs reads the pairs of a trial and draws which piece of each is cut by plan A, the first of the two.
func (s *Service) drawPairs(ctx context.Context, shop shop.WithPlans, in NewTrial, faults *fault.List) (
	[][2]store.PieceRow, error) {
	var asked []string
	for _, pair := range in.Pairs {
		asked = append(asked, pair[0], pair[1])
	}
	rows, err := s.store.PieceRowsOf(ctx, shop.ID, asked)
	if err != nil {
		return nil, err
	}
	shuffle := judge.Seeded(in.Seed)
	var out [][2]store.PieceRow
	seen := map[int64]bool{}
	for i, pair := range in.Pairs {
		at := fmt.Sprintf("pairs[%d]", i)
		two := [2]store.PieceRow{rows[pair[0]], rows[pair[1]]}
		for _, h := range two {
			switch {
			case h.Lot.AtlasID != in.AtlasID:
				faults.Add(at,
					fault.New("", "different", stock.PieceName(h)+" is another kind of piece", "Choose pieces of one kind."))
			case stock.RefuseVoided(h) != nil || h.Breakdown != nil:
				faults.Add(at,
					fault.NewConflict("", "on_bench", stock.PieceName(h)+" is on a bench already, or void",
						"Choose pieces that are not cut yet."))
			case seen[h.Piece.ID]:
				faults.Add(at, fault.New("", "twice", stock.PieceName(h)+" stands in two pairs", "Each piece once."))
			}
			seen[h.Piece.ID] = true
		}
		if two[0].Piece.LotID != two[1].Piece.LotID {
			faults.Add(at,
				fault.New("", "different_lots", "is of two lots", "A pair is the two sides of one carcass, and so of one lot."))
		}
		if shuffle(2)[0] == 1 { // drawn: nobody chooses the better piece for the way they like
			two[0], two[1] = two[1], two[0]
		}
		out = append(out, two)
	}
	return out, nil
}

// startTrial writes a trial, and plans its pieces as they were drawn.
func (s *Service) startTrial(ctx context.Context, shop shop.WithPlans, p atlas.Piece, t *store.Trial,
	rows [][2]store.PieceRow) error {
	var pairs []store.TrialPair
	var pieces [2][]store.Piece // by plan
	for _, two := range rows {
		pairs = append(pairs, store.TrialPair{PieceA: two[0].Piece.ID, PieceB: two[1].Piece.ID})
		for k := range two {
			pieces[k] = append(pieces[k], two[k].Piece)
		}
	}
	return s.audit.Record(ctx, func(tx *store.Store) (audit.Change, error) {
		if err := stillFree(ctx, tx, shop.ID, pairs); err != nil {
			return audit.Change{}, err
		}
		for k, plan := range []string{t.PlanA, t.PlanB} {
			with, err := stock.PickPlan(p, stock.PlanPick{PlanID: plan})
			if err != nil {
				return audit.Change{}, err
			}
			if err := tx.ChoosePlanOf(ctx, shop.ID, pieces[k], plan, with.Chosen); err != nil {
				return audit.Change{}, err
			}
		}
		return audit.Change{Action: "trial.designed", Subject: t.PublicID, SubjectName: t.Name,
			Became: map[string]any{"pairs": len(pairs), "a": t.PlanA, "b": t.PlanB}}, tx.CreateTrial(ctx, t, pairs)
	})
}

// stillFree holds the pieces of a trial and says whether one of them went on a bench, was voided, or came into another
// trial.
func stillFree(ctx context.Context, tx *store.Store, shopID int64, pairs []store.TrialPair) error {
	ids, err := holdPairs(ctx, tx, shopID, pairs)
	if err != nil {
		return err
	}
	rows, _, err := tx.PieceRowsByID(ctx, shopID, ids)
	if err != nil {
		return err
	}
	for _, id := range ids {
		if h := rows[id]; stock.RefuseVoided(h) != nil || h.Breakdown != nil {
			return fault.NewConflict("pairs", "on_bench", "hold "+stock.PieceName(h)+", which is on a bench already, or void",
				"Choose pieces that are not cut yet.")
		}
	}
	return nil
}

// holdPairs holds the pieces of a trial, and says whether one of them is in another that counts.
func holdPairs(ctx context.Context, tx *store.Store, shopID int64, pairs []store.TrialPair) ([]int64, error) {
	var ids []int64
	for _, r := range pairs {
		ids = append(ids, r.PieceA, r.PieceB)
	}
	if err := tx.LockPiecesByID(ctx, shopID, ids...); err != nil {
		return nil, err
	}
	taken, err := tx.InTrial(ctx, shopID, ids)
	if err == nil && len(taken) > 0 {
		err = fault.NewConflict("pairs", "in_trial", "hold a piece that is in another trial",
			"Leave it out, or void that trial.")
	}
	return ids, err
}
