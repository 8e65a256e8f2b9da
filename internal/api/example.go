package api

import (
	"context"

	"falda/internal/api/contract"
	"falda/internal/store"
	"falda/internal/work"
	"falda/internal/work/audit"
	"falda/internal/work/people"
	"falda/internal/work/shop"
)

// Example is what an example shop is filled from.
type Example struct {
	Shop   shop.NewShop
	People []people.Account
	// Seed enters the scenario by callers of each role.
	Seed func(ctx context.Context, w *work.Rooms, as map[string]audit.Caller) error
}

func (h *handlers) exampleShop(ctx context.Context) (contract.ExampleShop, error) {
	e, err := h.work.People.ExampleShop(ctx)
	if err != nil || e.Shop == "" {
		return contract.ExampleShop{State: "none"}, err
	}
	out := contract.ExampleShop{State: "making", ShopId: &e.Shop, Name: &e.Name}
	switch {
	case e.Whole:
		out.State = "ready"
	case e.Stale:
		out.State = "broken"
	}
	return out, nil
}

func (h *handlers) ReadExample(ctx context.Context,
	_ contract.ReadExampleRequestObject) (contract.ReadExampleResponseObject, error) {
	out, err := h.exampleShop(ctx)
	return contract.ReadExample200JSONResponse(out), err
}

// AddExample makes the example shop and lets the scenario be entered on its own: that takes longer than an answer may.
func (h *handlers) AddExample(ctx context.Context,
	_ contract.AddExampleRequestObject) (contract.AddExampleResponseObject, error) {
	if h.example.Seed == nil {
		return nil, store.ErrNotFound
	}
	as, err := h.work.People.AddExample(ctx, h.example.Shop, h.example.People)
	if err != nil {
		return nil, err
	}
	go func() {
		alone := context.WithoutCancel(ctx)
		if err := h.example.Seed(alone, h.work, as); err != nil {
			h.log.Error("the example shop could not be filled", "error", err)
			if err := h.work.People.RemoveExample(alone); err != nil {
				h.log.Error("the half of an example shop could not be taken away", "error", err)
			}
		}
	}()
	out, err := h.exampleShop(ctx)
	return contract.AddExample202JSONResponse(out), err
}

func (h *handlers) RemoveExample(ctx context.Context,
	_ contract.RemoveExampleRequestObject) (contract.RemoveExampleResponseObject, error) {
	return contract.RemoveExample204Response{}, h.work.People.RemoveExample(ctx)
}
