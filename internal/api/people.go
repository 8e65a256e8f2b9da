package api

import (
	"context"
	"net/http"
	"strings"
	"time"

	"falda/internal/api/contract"
	"falda/internal/core/fault"
	"falda/internal/core/value"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/people"
	"falda/internal/work/shop"
)

// answer is a success without a body that sets cookies.
type answer struct{ cookies []*http.Cookie }

func (a answer) write(w http.ResponseWriter) error {
	for _, c := range a.cookies {
		http.SetCookie(w, c)
	}
	w.WriteHeader(http.StatusNoContent)
	return nil
}

// VisitSignInResponse and those below write the answer to the route of their name.
func (a answer) VisitSignInResponse(w http.ResponseWriter) error { return a.write(w) }

// VisitSignOutResponse writes the answer.
func (a answer) VisitSignOutResponse(w http.ResponseWriter) error { return a.write(w) }

// VisitSignOutEverywhereResponse writes the answer.
func (a answer) VisitSignOutEverywhereResponse(w http.ResponseWriter) error { return a.write(w) }

// VisitSignInDemoResponse writes the answer.
func (a answer) VisitSignInDemoResponse(w http.ResponseWriter) error { return a.write(w) }

// VisitSignInByPinResponse writes the answer.
func (a answer) VisitSignInByPinResponse(w http.ResponseWriter) error { return a.write(w) }

// VisitSetUpResponse writes the answer.
func (a answer) VisitSetUpResponse(w http.ResponseWriter) error { return a.write(w) }

// VisitChoosePasswordResponse writes the answer.
func (a answer) VisitChoosePasswordResponse(w http.ResponseWriter) error { return a.write(w) }

// VisitEnrolResponse writes the answer.
func (a answer) VisitEnrolResponse(w http.ResponseWriter) error { return a.write(w) }

// signedIn answers with the cookie of a session.
func (h *handlers) signedIn(ctx context.Context, token string, err error) (answer, error) {
	h.metrics.signIn(err)
	if err != nil {
		return answer{}, err
	}
	return answer{[]*http.Cookie{requestInfoOf(ctx).newCookie(sessionCookie, token, 0)}}, nil
}

// byPassword answers with the cookie of a session, and with one by which the browser is known from then on.
func (h *handlers) byPassword(ctx context.Context, in people.SignedIn, err error) (answer, error) {
	out, err := h.signedIn(ctx, in.Token, err)
	if err == nil {
		out.cookies = append(out.cookies, requestInfoOf(ctx).newCookie(knownCookie, in.Known, screenLasts))
	}
	return out, err
}

func (h *handlers) SignIn(ctx context.Context, r contract.SignInRequestObject) (contract.SignInResponseObject, error) {
	in, err := h.work.People.SignIn(ctx, r.Body.Email, r.Body.Password, requestInfoOf(ctx).where)
	return h.byPassword(ctx, in, err)
}

func (h *handlers) SignInDemo(ctx context.Context,
	r contract.SignInDemoRequestObject) (contract.SignInDemoResponseObject, error) {
	if !h.demo {
		return nil, store.ErrNotFound
	}
	token, err := h.work.People.SignInDemo(ctx, r.Body.MemberId, requestInfoOf(ctx).where)
	return h.signedIn(ctx, token, err)
}

func (h *handlers) SignInByPin(ctx context.Context,
	r contract.SignInByPinRequestObject) (contract.SignInByPinResponseObject, error) {
	v := requestInfoOf(ctx)
	token, err := h.work.People.SignInByPin(ctx, v.screen, r.Body.MemberId, r.Body.Pin, v.where)
	return h.signedIn(ctx, token, err)
}

// ReadUsualCosts gives what a shop may begin from.
func (h *handlers) ReadUsualCosts(context.Context,
	contract.ReadUsualCostsRequestObject) (contract.ReadUsualCostsResponseObject, error) {
	return contract.ReadUsualCosts200JSONResponse(each(shop.UsualOf, func(u shop.UsualCosts) contract.UsualCosts {
		return contract.UsualCosts{Market: u.Market, Currency: u.Currency, WeightUnit: u.Unit, LabourRate: u.Labour,
			PackagingPerKg: u.Pack, DiscardPerKg: u.Discard, TaxPct: u.TaxPct}
	})), nil
}

// costsSaid refuses costs of a new shop that are sent empty: what costs money is never silently nothing.
func costsSaid(labour, packaging, discard *string) error {
	var faults fault.List
	for _, x := range []struct {
		field string
		text  *string
	}{{"labour_rate", labour}, {"packaging_per_kg", packaging}, {"discard_per_kg", discard}} {
		if x.text != nil && strings.TrimSpace(*x.text) == "" {
			faults.Add(x.field, fault.New("", "required", "is empty", "Enter what it costs, 0 where it costs nothing."))
		}
	}
	return faults.Err()
}

func (h *handlers) SetUp(ctx context.Context, r contract.SetUpRequestObject) (contract.SetUpResponseObject, error) {
	b := r.Body
	if err := costsSaid(&b.LabourRate, &b.PackagingPerKg, &b.DiscardPerKg); err != nil {
		return nil, err
	}
	in, err := h.work.People.SetUpByLink(ctx, b.Link,
		shop.NewShop{Name: b.Name, Currency: b.Currency, TimeZone: from(b.TimeZone), Unit: b.WeightUnit,
			Market: from(b.Market), LabourRate: b.LabourRate, PackagingPerKg: b.PackagingPerKg,
			DiscardPerKg: b.DiscardPerKg, TaxPct: from(b.TaxPct), Benches: b.Benches},
		people.Account{Email: b.OwnerEmail, Name: b.OwnerName, Password: b.OwnerPassword}, requestInfoOf(ctx).where)
	return h.byPassword(ctx, in, err)
}

func (h *handlers) ChoosePassword(ctx context.Context,
	r contract.ChoosePasswordRequestObject) (contract.ChoosePasswordResponseObject, error) {
	in, err := h.work.People.ChoosePassword(ctx, r.Body.Link, r.Body.Password, requestInfoOf(ctx).where)
	return h.byPassword(ctx, in, err)
}

func (h *handlers) ReadInvitation(ctx context.Context,
	r contract.ReadInvitationRequestObject) (contract.ReadInvitationResponseObject, error) {
	v, err := h.work.People.Invited(ctx, r.Body.Link)
	if err != nil {
		return nil, err
	}
	return contract.ReadInvitation200JSONResponse{Email: v.Email, Shop: some(v.Shop), Choose: v.Choose}, nil
}

func (h *handlers) SignOut(ctx context.Context, _ contract.SignOutRequestObject) (contract.SignOutResponseObject,
	error) {
	return gone(ctx, h.work.People.SignOut(ctx))
}

func (h *handlers) SignOutEverywhere(ctx context.Context,
	_ contract.SignOutEverywhereRequestObject) (contract.SignOutEverywhereResponseObject, error) {
	_, err := h.work.People.SignOutEverywhere(ctx)
	return gone(ctx, err)
}

// gone answers that the session's cookie is to be forgotten.
func gone(ctx context.Context, err error) (answer, error) {
	return answer{[]*http.Cookie{requestInfoOf(ctx).newCookie(sessionCookie, "", -1)}}, err
}

func (h *handlers) SwitchShop(ctx context.Context,
	r contract.SwitchShopRequestObject) (contract.SwitchShopResponseObject, error) {
	return contract.SwitchShop204Response{}, h.work.People.SwitchShop(ctx, r.Body.ShopId)
}

func (h *handlers) Enrol(ctx context.Context, r contract.EnrolRequestObject) (contract.EnrolResponseObject, error) {
	v := requestInfoOf(ctx)
	token, err := h.work.People.Enrol(ctx, r.Body.Code, v.where)
	if err != nil {
		return nil, err
	}
	return answer{[]*http.Cookie{v.newCookie(screenCookie, token, screenLasts), v.newCookie(sessionCookie, "", -1)}}, nil
}

func (h *handlers) GetMe(ctx context.Context, _ contract.GetMeRequestObject) (contract.GetMeResponseObject, error) {
	me, err := h.work.People.Me(ctx, requestInfoOf(ctx).screen, h.demo)
	if err != nil {
		return nil, err
	}
	c := me.Caller
	out := contract.Me{SignedIn: c.ShopID != 0, Demo: h.demo, SetUp: me.SetUp, Id: some(c.Member), Name: some(c.Name),
		Email: some(me.Email), Role: some(c.Role), Via: some(contract.MeVia(c.Via)), ShopId: some(c.Shop),
		HasPin: some(me.HasPin), May: allowedRoutes(c), Offered: each(me.Offered, cutter),
		Shops: each(me.Shops, func(m store.MemberShop) contract.MyShop {
			return contract.MyShop{Id: m.ShopPublic, Name: m.ShopName, Role: m.Role, Example: m.Example}
		})}
	if out.SignedIn {
		out.Build = some(h.build)
	}
	if me.Device != nil {
		out.Screen = &contract.Screen{BenchId: me.Bench.PublicID, Bench: me.Bench.Name, Shop: me.Shop,
			Cutters: each(me.Cutters, cutter)}
	}
	return contract.GetMe200JSONResponse(out), nil
}

func cutter(m store.MemberRow) contract.Cutter {
	return contract.Cutter{Id: m.PublicID, Name: m.Name, Role: m.Role}
}

func (h *handlers) SetPassword(ctx context.Context,
	r contract.SetPasswordRequestObject) (contract.SetPasswordResponseObject, error) {
	return contract.SetPassword204Response{}, h.work.People.SetPassword(ctx, r.Body.Old, r.Body.New)
}

func (h *handlers) SetOwnPin(ctx context.Context, r contract.SetOwnPinRequestObject) (contract.SetOwnPinResponseObject,
	error) {
	return contract.SetOwnPin204Response{}, h.work.People.SetPin(ctx, "", r.Body.Pin)
}

func (h *handlers) ListSessions(ctx context.Context,
	_ contract.ListSessionsRequestObject) (contract.ListSessionsResponseObject, error) {
	rows, err := h.work.People.Sessions(ctx)
	if err != nil {
		return nil, err
	}
	who, _ := audit.CallerOf(ctx)
	return contract.ListSessions200JSONResponse(each(rows, func(s store.Session) contract.Session {
		return contract.Session{Id: s.PublicID, About: s.About, Via: s.Via, BeganAt: s.CreatedAt, SeenAt: s.SeenAt,
			This: s.ID == who.SessionID}
	})), nil
}

func person(m store.MemberRow) contract.Person {
	return contract.Person{Id: m.PublicID, Name: m.Name, Email: m.Email, Role: m.Role, Active: m.Active,
		HasPin: m.PinHash != "", HasPassword: m.HasPassword, OtherShops: m.Elsewhere > 0, Pseudonym: m.PseudonymAt != nil,
		Joined: m.JoinedAt != nil, Version: m.Version}
}

func (h *handlers) ListPeople(ctx context.Context,
	_ contract.ListPeopleRequestObject) (contract.ListPeopleResponseObject, error) {
	rows, err := h.work.People.People(ctx)
	if err != nil {
		return nil, err
	}
	return contract.ListPeople200JSONResponse(each(rows, person)), nil
}

func (h *handlers) AddPerson(ctx context.Context, r contract.AddPersonRequestObject) (contract.AddPersonResponseObject,
	error) {
	row, link, err := h.work.People.AddPerson(ctx,
		people.Account{Name: r.Body.Name, Email: r.Body.Email, Role: r.Body.Role, Pin: from(r.Body.Pin)})
	if err != nil {
		return nil, err
	}
	return contract.AddPerson201JSONResponse{Person: person(row), Link: some(link)}, nil
}

func (h *handlers) ChangePerson(ctx context.Context,
	r contract.ChangePersonRequestObject) (contract.ChangePersonResponseObject, error) {
	row, err := h.work.People.ChangePerson(ctx, r.MemberId,
		people.PersonChange{Name: r.Body.Name, Role: r.Body.Role, Active: r.Body.Active, Version: r.Body.Version})
	if err != nil {
		return nil, err
	}
	return contract.ChangePerson200JSONResponse(person(row)), nil
}

func (h *handlers) MakePasswordLink(ctx context.Context,
	r contract.MakePasswordLinkRequestObject) (contract.MakePasswordLinkResponseObject, error) {
	link, err := h.work.People.PasswordLink(ctx, r.MemberId)
	if err != nil {
		return nil, err
	}
	return contract.MakePasswordLink200JSONResponse{Link: link}, nil
}

func (h *handlers) SetPin(ctx context.Context, r contract.SetPinRequestObject) (contract.SetPinResponseObject, error) {
	return contract.SetPin204Response{}, h.work.People.SetPin(ctx, r.MemberId, r.Body.Pin)
}

func (h *handlers) benchDetail(b people.BenchScreens) contract.BenchDetail {
	return contract.BenchDetail{Id: b.Bench.PublicID, Name: b.Bench.Name, Active: b.Bench.Active,
		HasScale: h.scales(b.Bench) != nil, Version: b.Bench.Version, ScalePattern: some(b.Bench.ScalePattern),
		ScaleUnit: some(b.Bench.ScaleUnit),
		Screens: each(b.Screens, func(d store.Device) contract.EnrolledScreen {
			return contract.EnrolledScreen{Id: d.PublicID, About: d.About, EnrolledAt: d.EnrolledAt, SeenAt: d.SeenAt}
		})}
}

func (h *handlers) ListBenches(ctx context.Context,
	_ contract.ListBenchesRequestObject) (contract.ListBenchesResponseObject, error) {
	rows, err := h.work.People.Benches(ctx)
	if err != nil {
		return nil, err
	}
	return contract.ListBenches200JSONResponse(each(rows, h.benchDetail)), nil
}

func (h *handlers) AddBench(ctx context.Context, r contract.AddBenchRequestObject) (contract.AddBenchResponseObject,
	error) {
	b, err := h.work.People.AddBench(ctx, r.Body.Name)
	if err != nil {
		return nil, err
	}
	return contract.AddBench201JSONResponse(h.benchDetail(people.BenchScreens{Bench: b})), nil
}

func (h *handlers) ChangeBench(ctx context.Context,
	r contract.ChangeBenchRequestObject) (contract.ChangeBenchResponseObject, error) {
	if _, err := h.work.People.ChangeBench(ctx, r.BenchId, r.Body.Name, r.Body.Active, r.Body.Version); err != nil {
		return nil, err
	}
	out, err := h.benchNow(ctx, r.BenchId)
	return contract.ChangeBench200JSONResponse(out), err
}

// benchNow gives a bench as it stands.
func (h *handlers) benchNow(ctx context.Context, id string) (contract.BenchDetail, error) {
	rows, err := h.work.People.Benches(ctx)
	if err != nil {
		return contract.BenchDetail{}, err
	}
	for _, b := range rows {
		if b.Bench.PublicID == id {
			return h.benchDetail(b), nil
		}
	}
	return contract.BenchDetail{}, store.ErrNotFound
}

func (h *handlers) MakeEnrolCode(ctx context.Context,
	r contract.MakeEnrolCodeRequestObject) (contract.MakeEnrolCodeResponseObject, error) {
	code, ends, err := h.work.People.EnrolCode(ctx, r.BenchId)
	if err != nil {
		return nil, err
	}
	return contract.MakeEnrolCode200JSONResponse{Code: code, EndsAt: ends}, nil
}

func (h *handlers) RevokeScreen(ctx context.Context,
	r contract.RevokeScreenRequestObject) (contract.RevokeScreenResponseObject, error) {
	return contract.RevokeScreen204Response{}, h.work.People.RevokeScreen(ctx, r.BenchId, r.ScreenId)
}

func (h *handlers) token(t store.Token) contract.Token {
	now := h.work.Now()
	past := func(at *time.Time) bool { return at != nil && !at.After(now) }
	return contract.Token{Id: t.PublicID, Name: t.Name, Hint: t.Hint, Scopes: strings.Fields(t.Scopes),
		MadeAt: t.CreatedAt, EndsAt: t.EndsAt, UsedAt: t.UsedAt, RevokedAt: t.RevokedAt,
		Holds: t.RevokedAt == nil && !past(t.EndsAt)}
}

func (h *handlers) ListTokens(ctx context.Context,
	_ contract.ListTokensRequestObject) (contract.ListTokensResponseObject, error) {
	rows, err := h.work.People.Tokens(ctx)
	if err != nil {
		return nil, err
	}
	return contract.ListTokens200JSONResponse(each(rows, h.token)), nil
}

func (h *handlers) AddToken(ctx context.Context, r contract.AddTokenRequestObject) (contract.AddTokenResponseObject,
	error) {
	row, secret, err := h.work.People.AddToken(ctx, r.Body.Name, r.Body.Scopes, from(r.Body.EndsOn))
	if err != nil {
		return nil, err
	}
	return contract.AddToken201JSONResponse{Token: h.token(row), Secret: secret}, nil
}

func (h *handlers) RevokeToken(ctx context.Context,
	r contract.RevokeTokenRequestObject) (contract.RevokeTokenResponseObject, error) {
	return contract.RevokeToken204Response{}, h.work.People.RevokeToken(ctx, r.TokenId)
}

func (h *handlers) SaveShop(ctx context.Context, r contract.SaveShopRequestObject) (contract.SaveShopResponseObject,
	error) {
	b := r.Body
	var seasons []value.Season
	if b.Seasons != nil {
		seasons = each(*b.Seasons,
			func(x contract.Season) value.Season { return value.Season{Name: x.Name, From: x.From, To: x.To} })
	}
	err := h.work.Shop.SaveSettings(ctx,
		shop.Settings{DiscardPerKg: from(b.DiscardPerKg), LabourByRole: from(b.LabourByRole), Seasons: seasons, Name: b.Name,
			Market: b.Market, Currency: b.Currency, TimeZone: from(b.TimeZone), Unit: b.WeightUnit, LabourRate: b.LabourRate,
			PackagingPerKg: b.PackagingPerKg, LossLimitKnifePct: b.LossLimitKnifePct, LossLimitSawPct: b.LossLimitSawPct,
			DivisionG: b.DivisionG, LotPrefix: b.LotPrefix, Address: b.Address, IdleMinutes: b.IdleMinutes,
			ScaleCheckDays: b.ScaleCheckDays, Version: b.Version})
	if err != nil {
		return nil, err
	}
	v, err := h.work.Shop.Shop(ctx)
	if err != nil {
		return nil, err
	}
	return contract.SaveShop200JSONResponse(h.shop(v)), nil
}

func (h *handlers) AddShop(ctx context.Context, r contract.AddShopRequestObject) (contract.AddShopResponseObject,
	error) {
	b := r.Body
	if err := costsSaid(b.LabourRate, b.PackagingPerKg, b.DiscardPerKg); err != nil {
		return nil, err
	}
	id, err := h.work.Shop.AddShop(ctx,
		shop.NewShop{Name: b.Name, Currency: b.Currency, TimeZone: from(b.TimeZone), Unit: b.WeightUnit,
			Market: from(b.Market), LabourRate: from(b.LabourRate), PackagingPerKg: from(b.PackagingPerKg),
			DiscardPerKg: from(b.DiscardPerKg), TaxPct: from(b.TaxPct), Benches: b.Benches})
	if err != nil {
		return nil, err
	}
	return contract.AddShop201JSONResponse{ShopId: id}, nil
}
