package dayplan

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"slices"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/schedule"
	"falda/internal/store"
	"falda/internal/work/audit"
	"falda/internal/work/orders"
	"falda/internal/work/pricing"
	"falda/internal/work/shop"
	"falda/internal/work/stock"
)

// Service lays days out.
type Service struct {
	store  *store.Store
	atlas  *atlas.Atlas
	now    func() time.Time
	audit  *audit.Log
	shops  *shop.Service
	prices *pricing.Service
	stock  *stock.Service
	orders *orders.Service
}

// New makes the service. Now is the clock.
func New(s *store.Store, a *atlas.Atlas, now func() time.Time, log *audit.Log, shops *shop.Service,
	prices *pricing.Service, stocks *stock.Service, asked *orders.Service) *Service {
	return &Service{store: s, atlas: a, now: now, audit: log, shops: shops, prices: prices, stock: stocks, orders: asked}
}

// Pause is a stretch of the day in which a post does not work, by the shop's clock.
type Pause struct {
	From string `json:"from"` // such as 12:00
	To   string `json:"to"`
}

// Post is a cutter at a bench for a day.
type Post struct {
	Bench  string  `json:"bench"`            // public id
	Cutter string  `json:"cutter,omitempty"` // public id; empty for whoever is there
	From   string  `json:"from"`
	To     string  `json:"to"`
	Pauses []Pause `json:"pauses,omitempty"`
}

// Rules are the minutes that cleaning takes.
type Rules struct {
	Clean    int `json:"clean"`     // a bench, where the species changes
	CleanSaw int `json:"clean_saw"` // the saw, likewise
	Wash     int `json:"wash"`      // a bench that handled an allergen
}

// usual are the minutes until a shop says otherwise. Common practice, no source.
var usual = Rules{Clean: 10, CleanSaw: 10, Wash: 20}

// Slot is a piece in its place of the day.
type Slot struct {
	Piece      string    `json:"piece"` // public id
	Plan       string    `json:"plan"`  // by which its minutes were reckoned
	Bench      string    `json:"bench"`
	From       time.Time `json:"from"`
	To         time.Time `json:"to"`
	SawFrom    time.Time `json:"saw_from"` // equal to SawTo where it needs no saw
	SawTo      time.Time `json:"saw_to"`
	CleanFrom  time.Time `json:"clean_from"` // equal to From where nothing is cleaned before it
	Orders     []string  `json:"orders,omitempty"`
	Allergen   bool      `json:"allergen,omitempty"`
	CleanedSaw bool      `json:"cleaned_saw,omitempty"`
	Before     bool      `json:"before,omitempty"` // of the plan before this one: it was begun by then
}

// Due is an order with what the plan makes of it.
type Due struct {
	Number   string    `json:"number"`
	Customer string    `json:"customer"`
	Due      time.Time `json:"due"`
	Ready    time.Time `json:"ready"` // when the last of its pieces is cut; zero where none is
	Short    []string  `json:"short,omitempty"`
}

// body is a plan of a day as it is kept.
type body struct {
	Posts    []Post            `json:"posts"`
	Rules    Rules             `json:"rules"`
	Pins     map[string]string `json:"pins,omitempty"` // piece → bench
	Slots    []Slot            `json:"slots"`
	Orders   []Due             `json:"orders"`
	Finish   time.Time         `json:"finish"`
	Overtime int               `json:"overtime"` // seconds, of all posts
	Proven   bool              `json:"proven"`
	Sooner   time.Time         `json:"sooner"` // no plan is finished before
}

// Status is what has become of a slot.
type Status string

// What becomes of a slot.
const (
	Waits   Status = "waits"
	Behind  Status = "behind" // it should have begun by now
	Cutting Status = "cutting"
	Done    Status = "done"
	Gone    Status = "gone" // it is void, or off the rail
)

// SlotView is a slot with its piece and what has become of it.
type SlotView struct {
	Slot
	Card      stock.Card
	Status    Status
	Began     *time.Time
	Ended     *time.Time
	BehindMin int // minutes that it is late; 0 where it is not
}

// PostView is a post with what stands at it.
type PostView struct {
	Post
	BenchName, CutterName string
	Slots                 []SlotView
}

// Named is a bench or a cutter that could be put to work.
type Named struct{ ID, Name string }

// View is a day.
type View struct {
	Day      time.Time
	Made     *time.Time // when it was planned; nil where it is not yet
	Version  int
	Posts    []PostView
	Rules    Rules
	Pins     map[string]string
	Orders   []Due
	Open     []stock.Card // that could be cut and are not in the plan
	Planless int          // ready pieces without a plan
	Benches  []Named
	Cutters  []Named
	Finish   time.Time
	Overtime time.Duration
	Proven   bool
	Sooner   time.Time
	Sentence string
	Notes    []string
	Now      time.Time
}

// Day gives a day: its plan, or the posts of the one before as a beginning.
func (s *Service) Day(ctx context.Context, text string) (View, error) {
	sh, err := s.shops.WithPlans(ctx)
	if err != nil {
		return View{}, err
	}
	day, err := s.day(sh, text)
	if err != nil {
		return View{}, err
	}
	row, err := s.store.DayPlan(ctx, sh.ID, day)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return View{}, err
	}
	return s.view(ctx, sh, day, row)
}

// view puts a kept plan together with how things stand.
func (s *Service) view(ctx context.Context, sh shop.WithPlans, day time.Time, row store.DayPlan) (View, error) {
	v := View{Day: day, Rules: usual, Now: s.now(), Version: row.Version}
	here, err := s.who(ctx, sh.ID)
	if err != nil {
		return v, err
	}
	v.Benches, v.Cutters = here.benches, here.cutters
	cards, err := s.rail(ctx)
	if err != nil {
		return v, err
	}
	if row.Version == 0 {
		err := s.begin(ctx, sh, &v)
		if err == nil {
			v.leave(cards, nil)
		}
		return v, err
	}
	var b body
	if err := json.Unmarshal(row.Body, &b); err != nil {
		return v, err
	}
	v.Made, v.Rules, v.Pins, v.Orders = &row.MadeAt, b.Rules, b.Pins, b.Orders
	v.Finish, v.Overtime, v.Proven, v.Sooner = b.Finish, time.Duration(b.Overtime)*time.Second, b.Proven, b.Sooner
	in := map[string]bool{}
	var ids []string
	for _, x := range b.Slots {
		in[x.Piece] = true
		ids = append(ids, x.Piece)
	}
	rows, err := s.store.PieceRowsOf(ctx, sh.ID, ids)
	if err != nil {
		return v, err
	}
	for _, p := range b.Posts {
		post := PostView{Post: p, BenchName: here.name(p.Bench), CutterName: here.name(p.Cutter)}
		for _, x := range b.Slots {
			if x.Bench != p.Bench {
				continue
			}
			c, err := s.stock.Card(rows[x.Piece], sh)
			if err != nil {
				return v, err
			}
			post.Slots = append(post.Slots, v.slot(x, c))
		}
		v.Posts = append(v.Posts, post)
	}
	v.leave(cards, in)
	v.say(sh)
	return v, nil
}

// slot says what has become of a slot.
func (v View) slot(x Slot, c stock.Card) SlotView {
	out := SlotView{Slot: x, Card: c, Status: Waits}
	b := c.Row.Breakdown
	switch {
	case b != nil && b.State == "closed":
		out.Status, out.Began, out.Ended = Done, &b.CreatedAt, b.ClosedAt
	case b != nil:
		out.Status, out.Began = Cutting, &b.CreatedAt
		if late := v.Now.Sub(x.To); late > 0 {
			out.BehindMin = int(late.Minutes())
		}
	case c.Row.Piece.VoidedAt != nil:
		out.Status = Gone
	default:
		if late := int(v.Now.Sub(x.From).Minutes()); late > 0 {
			out.Status, out.BehindMin = Behind, late
		}
	}
	return out
}

// leave lists what could be cut on the day and is not in the plan.
func (v *View) leave(cards []stock.Card, in map[string]bool) {
	for _, c := range cards {
		switch {
		case in[c.Row.Piece.PublicID] || c.Row.Breakdown != nil || c.Row.Piece.VoidedAt != nil ||
			c.ReadyOn.After(v.Day):
		case c.Plan.ID == "":
			v.Planless++
		default:
			v.Open = append(v.Open, c)
		}
	}
}

// rail lists the pieces that hang on the rail, page by page.
func (s *Service) rail(ctx context.Context) ([]stock.Card, error) {
	page, err := s.stock.Queue(ctx, "")
	return page.Pieces, err
}

// begin gives an unplanned day the posts of the latest that was planned, or one post for each bench.
func (s *Service) begin(ctx context.Context, sh shop.WithPlans, v *View) error {
	last, err := s.store.LastDayPlan(ctx, sh.ID)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return err
	}
	var b body
	if err == nil {
		if err := json.Unmarshal(last.Body, &b); err != nil {
			return err
		}
		v.Rules = b.Rules
	}
	for _, x := range v.Benches {
		at := slices.IndexFunc(b.Posts, func(p Post) bool { return p.Bench == x.ID })
		post := Post{Bench: x.ID, From: "08:00", To: "16:00", Pauses: []Pause{{"12:00", "12:30"}}}
		switch {
		case at >= 0:
			post = b.Posts[at]
		case len(b.Posts) > 0: // nobody stood there
			continue
		}
		if !slices.ContainsFunc(v.Cutters, func(n Named) bool { return n.ID == post.Cutter }) {
			post.Cutter = ""
		}
		cutter := ""
		for _, n := range v.Cutters {
			if n.ID == post.Cutter {
				cutter = n.Name
			}
		}
		v.Posts = append(v.Posts, PostView{Post: post, BenchName: x.Name, CutterName: cutter})
	}
	return nil
}

// people is who and what could be put to work.
type people struct{ benches, cutters []Named }

func (p people) name(id string) string {
	for _, n := range append(slices.Clone(p.benches), p.cutters...) {
		if n.ID == id && id != "" {
			return n.Name
		}
	}
	return ""
}

func (s *Service) who(ctx context.Context, shopID int64) (out people, err error) {
	benches, err := s.store.Benches(ctx, shopID)
	if err != nil {
		return out, err
	}
	for _, b := range benches {
		if b.Active {
			out.benches = append(out.benches, Named{b.PublicID, b.Name})
		}
	}
	members, err := s.store.Members(ctx, shopID)
	for _, m := range members {
		if m.Active && m.Role != "yield_desk" {
			out.cutters = append(out.cutters, Named{m.PublicID, m.Name})
		}
	}
	slices.SortStableFunc(out.cutters, func(a, b Named) int { return cmp.Compare(a.Name, b.Name) })
	return out, err
}

// Starts says of the pieces of today's plan when and where they are to be begun.
func (s *Service) Starts(ctx context.Context) (map[string]Slot, map[string]string, error) {
	sh, err := s.shops.Current(ctx)
	if err != nil {
		return nil, nil, err
	}
	row, err := s.store.DayPlan(ctx, sh.ID, sh.Day(s.now()))
	if errors.Is(err, store.ErrNotFound) {
		return nil, nil, nil
	}
	if err != nil {
		return nil, nil, err
	}
	var b body
	if err := json.Unmarshal(row.Body, &b); err != nil {
		return nil, nil, err
	}
	benches, err := s.store.Benches(ctx, sh.ID)
	slots, names := map[string]Slot{}, map[string]string{}
	for _, x := range b.Slots {
		slots[x.Piece] = x
	}
	for _, x := range benches {
		names[x.PublicID] = x.Name
	}
	return slots, names, err
}

// planned is a slot of the core as it is kept.
func (l *layout) planned(x schedule.Slot) Slot {
	at := func(seconds int) time.Time { return l.zero.Add(time.Duration(seconds) * time.Second) }
	j := l.jobs[x.Job]
	out := Slot{Piece: j.card.Row.Piece.PublicID, Plan: j.card.Plan.ID, Bench: l.ask.Posts[x.Post].Bench, From: at(x.From),
		To: at(x.To), SawFrom: at(x.SawFrom), SawTo: at(x.SawTo), CleanFrom: at(x.CleanFrom), CleanedSaw: x.CleanedSaw,
		Allergen: l.problem.Jobs[x.Job].Allergen}
	for _, o := range l.problem.Jobs[x.Job].Orders {
		out.Orders = append(out.Orders, l.problem.Orders[o].ID)
	}
	return out
}
