package api

import (
	"bytes"
	"context"
	"fmt"
	"strings"

	"falda/internal/api/contract"
	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/measure"
	"falda/internal/core/words"
	"falda/internal/paper"
	"falda/internal/store"
	"falda/internal/work/stock"
)

func inspect(i atlas.Inspect) contract.Inspect {
	return contract.Inspect{Id: i.ID, Look: i.Look, Do: i.Do, TakesPct: some(i.Takes.Pct),
		To: some(contract.InspectTo(i.Takes.To)), May: texts(i.Takes.May)}
}

// packedOn is the day on which a lot was packed; empty of what hangs unpacked.
func packedOn(l store.Lot) string {
	if l.Unpacked() {
		return ""
	}
	return day(l.PackedOn)
}

func (h *handlers) lot(v stock.LotView) contract.Lot {
	l := v.Lot
	out := contract.Lot{Id: l.PublicID, LotNumber: l.LotNumber, Supplier: l.Supplier, AtlasId: l.AtlasID,
		Name: v.Piece.Name, Pieces: l.Pieces, TotalG: measure.Mass(l.TotalMg).Grams(), PricePer: l.PricePer,
		Cost: v.Cost.String(), SlaughteredOn: day(l.SlaughteredOn), PackedOn: packedOn(l), ReceivedAt: l.ReceivedAt,
		Form: some(l.Form), Findings: each(stock.Found(v), inspect), Note: some(l.Note),
		PieceIds: each(v.Pieces, func(p store.Piece) string { return p.PublicID })}
	out.Version, out.Carcass, out.Decided, out.VoidedAt, out.VoidReason = l.Version, v.Carcass, textMap(l.Decided),
		l.VoidedAt, some(l.VoidReason)
	b := l.About
	out.Bone, out.Feed, out.Sex, out.AgeClass, out.Hang = some(b.Bone), some(b.Feed), some(b.Sex), some(b.AgeClass),
		some(b.Hang)
	out.FatClass, out.Marbling, out.SupplierGrade, out.Ph, out.TemperatureC = some(b.FatClass), some(b.Marbling),
		some(b.SupplierGrade), b.Ph, b.TemperatureC
	out.BornIn, out.RearedIn, out.SlaughteredIn, out.Plant = some(b.BornIn), some(b.RearedIn), some(b.SlaughteredIn),
		some(b.Plant)
	out.Breed, out.FatPct, out.LeanYieldPct = some(b.Breed), b.FatPct, b.LeanYieldPct
	out.Price = priceText(v.Price)
	if l.InvoicedMg != nil {
		out.InvoicedG = some(measure.Mass(*l.InvoicedMg).Grams())
		out.ShortG = some(v.Short().Grams())
		if v.Claim != nil {
			out.Claim = some(v.Claim.String())
		}
	}
	return out
}

func (h *handlers) ListLots(ctx context.Context, r contract.ListLotsRequestObject) (contract.ListLotsResponseObject,
	error) {
	list, err := h.work.Stock.Lots(ctx, from(r.Params.After))
	if err != nil {
		return nil, err
	}
	return contract.ListLots200JSONResponse{Lots: each(list.Lots, h.lot), Next: some(list.Next)}, nil
}

func (h *handlers) ReceiveLot(ctx context.Context,
	r contract.ReceiveLotRequestObject) (contract.ReceiveLotResponseObject, error) {
	v, err := h.work.Stock.Receive(ctx, arrived(r.Body))
	if err != nil {
		return nil, err
	}
	return contract.ReceiveLot201JSONResponse(h.lot(v)), nil
}

// arrived reads an arrival.
func arrived(b *contract.NewLot) stock.Arrival {
	return stock.Arrival{AtlasID: b.AtlasId, Pieces: b.Pieces, Weight: b.Weight, WeightUnit: string(b.WeightUnit),
		Invoiced: from(b.Invoiced), Price: b.Price, PricePer: string(b.PricePer), SlaughteredOn: b.SlaughteredOn,
		PackedOn: from(b.PackedOn), Supplier: b.Supplier, LotNumber: b.LotNumber, Form: from(b.Form), Findings: b.Findings,
		Note: from(b.Note), Weights: from(b.Weights), Decided: from(b.Decided), Bone: from(b.Bone), Feed: from(b.Feed),
		Sex: from(b.Sex), AgeClass: from(b.AgeClass), Hang: from(b.Hang), FatClass: from(b.FatClass),
		Marbling: from(b.Marbling), SupplierGrade: from(b.SupplierGrade), Ph: from(b.Ph), TemperatureC: from(b.TemperatureC),
		FatPct: from(b.FatPct), LeanYieldPct: from(b.LeanYieldPct), Breed: from(b.Breed),
		BornIn: from(b.BornIn), RearedIn: from(b.RearedIn), SlaughteredIn: from(b.SlaughteredIn), Plant: from(b.Plant)}
}

func (h *handlers) GetLot(ctx context.Context, r contract.GetLotRequestObject) (contract.GetLotResponseObject, error) {
	d, err := h.work.Stock.Lot(ctx, r.LotId)
	if err != nil {
		return nil, err
	}
	out := contract.LotDetail{Lot: h.lot(d.LotView), Cards: each(d.Cards, card), Cautions: texts(d.Cautions),
		Broken: each(d.Broken, h.lot), Fixed: d.Fixed, History: each(d.History, func(a store.Audit) contract.AuditRow {
			row := auditRow(store.TrailRow{Audit: a})
			row.Address, row.Request = nil, nil // for who may read the audit
			return row
		})}
	if d.From != nil {
		out.FromLot = &contract.Named{Id: d.From.PublicID, Name: d.From.LotNumber}
	}
	return contract.GetLot200JSONResponse(out), nil
}

func (h *handlers) ChangeLot(ctx context.Context, r contract.ChangeLotRequestObject) (contract.ChangeLotResponseObject,
	error) {
	v, err := h.work.Stock.ChangeLot(ctx, r.LotId, arrived(&r.Body.Lot), r.Body.Version, r.Body.Reason)
	if err != nil {
		return nil, err
	}
	return contract.ChangeLot200JSONResponse(h.lot(v)), nil
}

func (h *handlers) VoidLot(ctx context.Context, r contract.VoidLotRequestObject) (contract.VoidLotResponseObject,
	error) {
	if err := h.work.Stock.VoidLot(ctx, r.LotId, r.Body.Voided, r.Body.Version, r.Body.Reason); err != nil {
		return nil, err
	}
	return contract.VoidLot204Response{}, nil
}

func (h *handlers) VoidPiece(ctx context.Context, r contract.VoidPieceRequestObject) (contract.VoidPieceResponseObject,
	error) {
	if err := h.work.Stock.VoidPiece(ctx, r.PieceId, r.Body.Voided, r.Body.Version, r.Body.Reason); err != nil {
		return nil, err
	}
	return contract.VoidPiece204Response{}, nil
}

func (h *handlers) ImportNote(ctx context.Context,
	r contract.ImportNoteRequestObject) (contract.ImportNoteResponseObject, error) {
	rows, err := readTable(ctx, r.Body)
	if err != nil {
		return nil, err
	}
	save := from(r.Params.Save)
	lines, err := h.work.Stock.ImportNote(ctx, rows, save)
	if err != nil {
		return nil, err
	}
	out := contract.ImportNote200JSONResponse{Lines: each(lines, noteLine), Saved: save, Columns: stock.NoteColumns}
	for _, l := range lines {
		if len(l.Faults) > 0 {
			out.Bad++
		} else {
			out.Good++
		}
	}
	return out, nil
}

func noteLine(l stock.NoteLine) contract.NoteLine {
	out := contract.NoteLine{Line: l.Line, LotNumber: l.Arrival.LotNumber, Named: l.Named, Piece: some(l.Piece),
		Pieces: l.Arrival.Pieces, Supplier: some(l.Arrival.Supplier), LotId: some(l.LotID),
		Faults: each(l.Faults, func(f fault.Fault) string {
			return strings.TrimSpace(strings.TrimSpace(f.Field+": "+f.Message) + ". " + f.Hint)
		})}
	if len(l.Faults) == 0 {
		out.TotalG, out.Cost = some(l.Total.Grams()), some(l.Cost.String())
	}
	return out
}

// GetClaim writes the letter that claims what did not come.
func (h *handlers) GetClaim(ctx context.Context, r contract.GetClaimRequestObject) (contract.GetClaimResponseObject,
	error) {
	d, err := h.work.Stock.Lot(ctx, r.LotId)
	if err != nil {
		return nil, err
	}
	if d.Claim == nil {
		return nil, fault.NewConflict("", "nothing_short", "Nothing of this lot is missing.",
			"Enter the weight on the invoice where it is more than what came.")
	}
	own, err := h.work.Shop.Shop(ctx)
	if err != nil {
		return nil, err
	}
	l, sh := d.Lot, own.Shop
	mass := func(m measure.Mass) string { return m.Text(measure.Unit(sh.WeightUnit), 2) }
	c := paper.Claim{Shop: sh.Name, Supplier: l.Supplier, Day: h.work.Now().Format(words.LongDay), LotNumber: l.LotNumber,
		What:       words.Count(l.Pieces, "piece", "pieces") + " of " + words.Uncapitalised(d.Piece.Name),
		ReceivedOn: l.ReceivedAt.Format(words.LongDay), Invoiced: mass(measure.Mass(*l.InvoicedMg)),
		Received: mass(measure.Mass(l.TotalMg)), Short: mass(d.Short()),
		Price: sh.Money.Text(d.Price.Amount) + " a " + string(d.Price.Per), Amount: sh.Money.Text(*d.Claim),
		Slaughtered: l.SlaughteredOn.Format(words.LongDay)}
	if !l.Unpacked() {
		c.PackedOn = l.PackedOn.Format(words.LongDay)
	}
	if t := l.About.TemperatureC; t != nil {
		c.Temperature = fmt.Sprintf("%.1f °C", *t)
	}
	for _, f := range stock.Found(d.LotView) {
		c.Findings = append(c.Findings, f.Look)
	}
	var out bytes.Buffer
	if err := paper.ClaimLetter(&out, c); err != nil {
		return nil, err
	}
	return contract.GetClaim200ApplicationpdfResponse{Body: &out, ContentLength: int64(out.Len())}, nil
}

// GetTags writes the tags that hang on the pieces of a lot until they are cut.
func (h *handlers) GetTags(ctx context.Context, r contract.GetTagsRequestObject) (contract.GetTagsResponseObject,
	error) {
	d, err := h.work.Stock.Lot(ctx, r.LotId)
	if err != nil {
		return nil, err
	}
	own, err := h.work.Shop.Shop(ctx)
	if err != nil {
		return nil, err
	}
	var tags []paper.Tag
	for _, c := range d.Cards {
		if c.Row.Piece.VoidedAt != nil {
			continue
		}
		t := paper.Tag{Name: d.Piece.NameIn(own.Shop.Market), Weight: c.Weight.Text(measure.Unit(own.Shop.WeightUnit), 2),
			Piece: fmt.Sprintf("%s, %d of %d", d.Lot.LotNumber, c.Row.Piece.Number, d.Lot.Pieces),
			Facts: []string{d.Lot.Supplier, "Slaughtered " + d.Lot.SlaughteredOn.Format(words.LongDay)},
			Page:  h.outside(ctx) + "/plan/" + c.Row.Piece.PublicID}
		if !c.Measured && d.Lot.Pieces > 1 { // its share of what all weigh
			t.Weight = "about " + t.Weight
		}
		if !c.ReadyOn.IsZero() {
			t.Facts = append(t.Facts, "Ready from "+c.ReadyOn.Format(words.LongDay))
		}
		tags = append(tags, t)
	}
	if len(tags) == 0 {
		return nil, fault.NewConflict("", "no_pieces", "No piece of this lot hangs here.", "Take back the voiding first.")
	}
	var out bytes.Buffer
	if err := paper.Tags(&out, "Tags of "+d.Lot.LotNumber, tags); err != nil {
		return nil, err
	}
	return contract.GetTags200ApplicationpdfResponse{Body: &out, ContentLength: int64(out.Len())}, nil
}
