package dayplan

import (
	"context"
	"fmt"
	"math"
	"slices"
	"time"

	"falda/internal/core/atlas"
	"falda/internal/core/fault"
	"falda/internal/core/ingredient"
	"falda/internal/core/measure"
	"falda/internal/core/schedule"
	"falda/internal/store"
	"falda/internal/work/orders"
	"falda/internal/work/pricing"
	"falda/internal/work/shop"
	"falda/internal/work/stock"
)

// job is a piece that is laid out, with what it gives.
type job struct {
	card  stock.Card
	order string // number of the first order that it is cut for; empty where it is for none
}

// layout is a day on its way to the core.
type layout struct {
	sh      shop.WithPlans
	ask     Ask
	zero    time.Time // second 0 of the core
	problem schedule.Problem
	jobs    []job
	due     []Due
	before  []Slot           // of pieces that were begun: they stay where they were
	bench   map[int64]string // public ids by keys
}

// lay puts the pieces of a day as a problem of the core.
func (s *Service) lay(ctx context.Context, sh shop.WithPlans, day time.Time, in Ask, was body) (*layout, error) {
	l := &layout{sh: sh, ask: in, zero: sh.Begins(day), bench: map[int64]string{}}
	benches, err := s.store.Benches(ctx, sh.ID)
	if err != nil {
		return nil, err
	}
	for _, b := range benches {
		l.bench[b.ID] = b.PublicID
	}
	cards, err := s.rail(ctx)
	if err != nil {
		return nil, err
	}
	if err := l.take(day, cards); err != nil {
		return nil, err
	}
	pace, err := s.paces(ctx, sh)
	if err != nil {
		return nil, err
	}
	book, err := s.shops.Book(ctx, sh.Shop)
	if err != nil {
		return nil, err
	}
	now := 0
	if s.now().After(l.zero) {
		now = int(s.now().Sub(l.zero).Seconds())
	}
	if err := l.posts(day, now); err != nil {
		return nil, err
	}
	l.underWay(s.now(), cards, pace, book, was)
	l.problem.Clean, l.problem.CleanSaw, l.problem.Wash = in.Rules.Clean*60, in.Rules.CleanSaw*60, in.Rules.Wash*60
	for i := range l.jobs {
		l.time(&l.jobs[i], pace, book)
	}
	return l, s.bind(ctx, day, l)
}

// take chooses the pieces that are cut: those that were named, or all that are ready and have a plan.
func (l *layout) take(day time.Time, cards []stock.Card) error {
	var faults fault.List
	missing := map[string]bool{}
	for _, id := range l.ask.Pieces {
		missing[id] = true
	}
	for _, c := range cards {
		id := c.Row.Piece.PublicID
		begun := c.Row.Breakdown != nil // or done by now: there is nothing to be planned of it
		can := !begun && c.Row.Piece.VoidedAt == nil && c.Plan.ID != ""
		if can && (missing[id] || len(l.ask.Pieces) == 0 && !c.ReadyOn.After(day)) {
			l.jobs = append(l.jobs, job{card: c})
		}
		if can || begun {
			delete(missing, id)
		}
	}
	if len(missing) > 0 {
		faults.Add("pieces", fault.New("", "not_planned", fmt.Sprintf("%d of them have no plan, or are not on the rail",
			len(missing)), "Plan them first, or leave them out."))
	}
	if n := len(l.jobs); n > schedule.MaxJobs {
		faults.Add("pieces", fault.New("", "too_many", fmt.Sprintf("are %d; a day takes %d", n, schedule.MaxJobs),
			"Choose fewer."))
	}
	return faults.Err()
}

// posts reads the hours of the posts; what has passed of them is left out.
func (l *layout) posts(day time.Time, now int) error {
	var faults fault.List
	benches, cutters := map[string]bool{}, map[string]bool{}
	if len(l.ask.Posts) == 0 {
		faults.Add("posts", fault.Required("Say who cuts where."))
	}
	for i, p := range l.ask.Posts {
		at := fmt.Sprintf("posts[%d].", i)
		if benches[p.Bench] {
			faults.Add(at+"bench_id", fault.New("", "twice", "has a cutter already", "Take another bench."))
		}
		if p.Cutter != "" && cutters[p.Cutter] {
			faults.Add(at+"cutter_id", fault.New("", "twice", "stands at another bench already", "Choose somebody else."))
		}
		benches[p.Bench], cutters[p.Cutter] = true, true
		spans := l.hours(day, at, p, &faults)
		for len(spans) > 1 && spans[0].To <= now {
			spans = spans[1:]
		}
		if len(spans) > 0 && now > spans[0].From { // after hours it begins now
			spans[0].From = now
			spans[0].To = max(spans[0].To, now+1)
		}
		l.problem.Posts = append(l.problem.Posts, schedule.Post{ID: p.Bench, Spans: spans})
	}
	return faults.Err()
}

// hours reads a post's hours as spans of seconds of the day, pauses left out.
func (l *layout) hours(day time.Time, at string, p Post, faults *fault.List) []schedule.Span {
	read := func(field, text string) int {
		t, err := time.Parse("15:04", text)
		if err != nil {
			faults.Add(at+field, fault.New("", "not_a_time", "is not a time", "Write it as 08:30."))
		}
		return int(l.sh.At(day, t).Sub(l.zero).Seconds())
	}
	from, to := read("from", p.From), read("to", p.To)
	if to <= from {
		faults.Add(at+"to", fault.New("", "too_early", "is not after it begins", "Enter when the post ends."))
		return nil
	}
	if len(p.Pauses) > 5 {
		faults.Add(at+"pauses", fault.New("", "too_many", "are more than 5", "Put some together."))
		return nil
	}
	var spans []schedule.Span
	for k, b := range p.Pauses {
		field := fmt.Sprintf("pauses[%d].", k)
		start, end := read(field+"from", b.From), read(field+"to", b.To)
		if start <= from || end <= start || end >= to {
			faults.Add(at+field+"from", fault.New("", "out_of_range", "does not lie within what is left of the hours",
				"Enter the pauses in order, within the hours."))
			return nil
		}
		spans = append(spans, schedule.Span{From: from, To: start})
		from = end
	}
	return append(spans, schedule.Span{From: from, To: to})
}

// underWay keeps posts busy with what is being cut there now, and knows what they cut last.
func (l *layout) underWay(now time.Time, cards []stock.Card, pace paces, book ingredient.Book, was body) {
	began := map[string]stock.Card{}
	for _, c := range cards {
		if c.Row.Breakdown != nil {
			began[c.Row.Piece.PublicID] = c
		}
	}
	for _, x := range was.Slots {
		if _, ok := began[x.Piece]; ok {
			x.Before = true
			l.before = append(l.before, x)
		}
	}
	latest := make([]time.Time, len(l.ask.Posts))
	until := make([]int, len(l.ask.Posts)) // when a post will have cut what is on it
	for _, c := range cards {
		b := c.Row.Breakdown
		if b == nil || l.sh.Day(b.CreatedAt) != l.sh.Day(now) || l.sh.Day(now) != l.sh.Day(l.zero) {
			continue
		}
		for i, p := range l.ask.Posts {
			if p.Bench != l.bench[b.BenchID] {
				continue
			}
			post := &l.problem.Posts[i]
			if b.CreatedAt.After(latest[i]) {
				latest[i], post.Species = b.CreatedAt, c.Piece.Species
			}
			post.Dirty = post.Dirty || allergen(c.Piece, c.Plan, book)
			if b.State == "closed" {
				continue
			}
			until[i] = max(until[i], int(now.Sub(l.zero).Seconds())) + remaining(c, pace.of(c.Piece.ID, p.Cutter))
			busy(post, until[i])
			id := c.Row.Piece.PublicID
			if !slices.ContainsFunc(l.before, func(x Slot) bool { return x.Piece == id }) { // it was not planned
				x := Slot{Piece: id, Plan: c.Plan.ID, Bench: p.Bench, From: b.CreatedAt, Before: true,
					To: l.zero.Add(time.Duration(until[i]) * time.Second)}
				x.SawFrom, x.SawTo, x.CleanFrom = x.From, x.From, x.From
				l.before = append(l.before, x)
			}
		}
	}
}

// remaining is how many seconds a piece that is being cut will still take: by what is left of its weight.
func remaining(c stock.Card, pace float64) int {
	b := c.Row.Breakdown
	left := 1.0
	if in := b.InputMg + b.AddedMg; in > 0 {
		left = max(0.05, 1-float64(b.OutputMg)/float64(in))
	}
	return int(math.Ceil(c.Piece.MinutesAt(c.Plan, c.Weight)*pace*left)) * 60
}

// busy moves the beginning of a post to a time, where it lies after it.
func busy(post *schedule.Post, until int) {
	for len(post.Spans) > 1 && post.Spans[0].To <= until {
		post.Spans = post.Spans[1:]
	}
	first := &post.Spans[0]
	first.From = max(first.From, until)
	first.To = max(first.To, first.From+1)
}

// allergen says whether something with an allergen goes into a piece.
func allergen(p atlas.Piece, pl atlas.Plan, book ingredient.Book) bool {
	return pl.OwnSteps() && len(book.Brings(p.Flow(pl).Added)) > 0
}

// time adds a piece to the problem, with how long it takes at each post.
func (l *layout) time(j *job, pace paces, book ingredient.Book) {
	c := j.card
	x := schedule.Job{ID: c.Row.Piece.PublicID, Species: c.Piece.Species, Allergen: allergen(c.Piece, c.Plan, book),
		Post: -1}
	before, saw, after := c.Piece.Stages(c.Plan, c.Weight)
	for i, p := range l.ask.Posts {
		f := pace.of(c.Piece.ID, p.Cutter)
		seconds := func(minutes float64) int { return int(math.Round(minutes * f * 60)) }
		x.Before, x.Saw, x.After = append(x.Before, seconds(before)), append(x.Saw, seconds(saw)),
			append(x.After, seconds(after))
		if x.Before[i]+x.Saw[i]+x.After[i] == 0 {
			x.Before[i] = 60
		}
		if l.ask.Pins[x.ID] == p.Bench {
			x.Post = i
		}
	}
	l.problem.Jobs = append(l.problem.Jobs, x)
}

// bind says which pieces are cut for which orders: those that were set to be, and of the rest those that give what is
// still wanted, the first due first.
func (s *Service) bind(ctx context.Context, day time.Time, l *layout) error {
	end := l.sh.Begins(day.AddDate(0, 0, 1))
	open, err := s.orders.Open(ctx)
	if err != nil {
		return err
	}
	needs, err := s.orders.NeedsOf(ctx, open, end)
	if err != nil {
		return err
	}
	toCut := map[string]measure.Mass{}
	for _, n := range needs {
		toCut[n.Key] = n.ToCut
	}
	gives := make([]map[string]measure.Mass, len(l.jobs))
	for i, j := range l.jobs {
		gives[i] = map[string]measure.Mass{}
		sheet := pricing.ForecastSheet(l.sh.Shop, j.card.Piece, j.card.Plan, j.card.Weight, nil)
		for _, pr := range j.card.Plan.Products {
			gives[i][j.card.Piece.Key(pr)] += sheet.ProductMass(pr.ID)
		}
	}
	for _, o := range open {
		mine := slices.ContainsFunc(l.jobs, func(j job) bool { return cutFor(o, j.card) })
		if !o.DueAt.Before(end) && !mine {
			continue
		}
		l.problem.Orders = append(l.problem.Orders, schedule.Order{ID: o.Number, Due: int(o.DueAt.Sub(l.zero).Seconds())})
		d := Due{Number: o.Number, Customer: o.Customer, Due: o.DueAt}
		at := len(l.problem.Orders) - 1
		for i := range l.jobs {
			if cutFor(o, l.jobs[i].card) {
				l.give(i, at, o.Number)
			}
		}
		for _, line := range o.Lines {
			if o.Whole != nil || !o.DueAt.Before(end) { // of its own animal, or not today
				break
			}
			want := min(line.Left(line.Packed), toCut[line.Key])
			if short := l.fill(at, o.Number, line.Key, want, gives); short > 0 {
				d.Short = append(d.Short, fmt.Sprintf("%s %s", short.Text(l.sh.Unit, 2), line.Name))
			}
			toCut[line.Key] -= want
		}
		l.due = append(l.due, d)
	}
	return nil
}

// cutFor says whether a piece was set to be cut for an order, or comes of a carcass that was.
func cutFor(o orders.Order, c stock.Card) bool {
	from := c.Row.Lot.FromPieceID
	return slices.ContainsFunc(o.Pieces, func(p store.PieceRow) bool {
		return p.Piece.ID == c.Row.Piece.ID || from != nil && *from == p.Piece.ID
	})
}

// give says that a piece is cut for an order.
func (l *layout) give(i, at int, number string) {
	if l.jobs[i].order == "" {
		l.jobs[i].order = number
	}
	if j := &l.problem.Jobs[i]; !slices.Contains(j.Orders, at) {
		j.Orders = append(j.Orders, at)
	}
}

// fill takes pieces for a line until enough comes of them, those first that are cut for the order anyway; it gives what
// is missing.
func (l *layout) fill(at int, number, key string, want measure.Mass, gives []map[string]measure.Mass) measure.Mass {
	for _, own := range []bool{true, false} {
		for i := range l.jobs {
			if want <= 0 {
				return 0
			}
			mine := l.jobs[i].order == number
			if own != mine || gives[i][key] <= 0 {
				continue
			}
			take := min(want, gives[i][key])
			gives[i][key] -= take
			want -= take
			l.give(i, at, number)
		}
	}
	return max(0, want)
}
