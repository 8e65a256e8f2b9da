package api

import (
	"context"
	"net/http"
	"time"

	"falda/internal/api/contract"
	"falda/internal/store"
	"falda/internal/work/learn"
	"falda/internal/work/people"
)

func (h *handlers) UnnamePerson(ctx context.Context,
	r contract.UnnamePersonRequestObject) (contract.UnnamePersonResponseObject, error) {
	m, err := h.work.People.Unname(ctx, r.MemberId)
	if err != nil {
		return nil, err
	}
	return contract.UnnamePerson200JSONResponse(person(m)), nil
}

func (h *handlers) ExportPerson(ctx context.Context,
	r contract.ExportPersonRequestObject) (contract.ExportPersonResponseObject, error) {
	return h.dossier(ctx, r.MemberId)
}

func (h *handlers) ExportMe(ctx context.Context, _ contract.ExportMeRequestObject) (contract.ExportMeResponseObject,
	error) {
	return h.dossier(ctx, "")
}

// VisitExportPersonResponse writes the file.
func (f jsonFile) VisitExportPersonResponse(w http.ResponseWriter) error {
	return f.VisitExportAuditResponse(w)
}

// VisitExportMeResponse writes the file.
func (f jsonFile) VisitExportMeResponse(w http.ResponseWriter) error {
	return f.VisitExportAuditResponse(w)
}

// record is one entry of what is kept of a person: what it is, and what stands in it.
type record struct {
	// person, sign_in, token, drill, practice, sign_off, change or weighing
	Kind string `json:"kind"`
	What any    `json:"what"`
}

// dossier is the file of all that the shop keeps of a person. It begins once all but the trail is read.
func (h *handlers) dossier(ctx context.Context, id string) (jsonFile, error) {
	d, err := h.work.People.Dossier(ctx, id)
	if err != nil {
		return jsonFile{}, err
	}
	learned, err := h.work.Learn.Kept(ctx, id)
	if err != nil {
		return jsonFile{}, err
	}
	return jsonFile{"person-" + h.work.Now().Format(time.DateOnly), func(put func(any) error) error {
		for _, r := range append(keptOf(d), learnedOf(learned)...) {
			if err := put(r); err != nil {
				return err
			}
		}
		return h.work.People.WholeTrail(ctx, id, func(r store.TrailRow) error {
			kind := map[bool]string{true: "weighing", false: "change"}[r.Event]
			return put(record{kind, auditRow(r)})
		})
	}, h.log}, nil
}

func keptOf(d people.Dossier) []record {
	m := d.Member
	out := []record{{"person", map[string]any{"shop": d.Shop, "name": m.Name, "email": m.Email, "role": m.Role,
		"active": m.Active, "added_at": m.CreatedAt, "joined_at": m.JoinedAt, "has_pin": m.PinHash != "",
		"has_password": m.HasPassword, "pseudonym_at": m.PseudonymAt}}}
	for _, s := range d.Sessions {
		out = append(out, record{"sign_in", map[string]any{"by": s.Via, "on": s.About, "began_at": s.CreatedAt,
			"seen_at": s.SeenAt, "ended_at": s.EndedAt}})
	}
	for _, t := range d.Tokens {
		out = append(out, record{"token", map[string]any{"name": t.Name, "begins": t.Hint, "scopes": t.Scopes,
			"made_at": t.CreatedAt, "ends_at": t.EndsAt, "used_at": t.UsedAt, "revoked_at": t.RevokedAt}})
	}
	return out
}

func learnedOf(k learn.Kept) []record {
	var out []record
	for _, c := range k.Cards {
		out = append(out, record{"drill", map[string]any{"card": c.Card, "seen": c.Seen, "known": c.Known, "due": day(c.Due),
			"at": c.LastAt}})
	}
	for _, p := range k.Practices {
		out = append(out, record{"practice", map[string]any{"lot": p.LotNumber, "piece": p.PieceNumber,
			"what": p.AtlasID, "level": p.Level, "at": p.SetAt}})
	}
	for _, s := range k.Signed {
		out = append(out, record{"sign_off", map[string]any{"what": s.AtlasID, "step": s.StepName, "signed": s.Signed,
			"words": s.Words, "by": s.ByName, "at": s.At}})
	}
	return out
}
