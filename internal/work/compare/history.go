package compare

import (
	"cmp"
	"context"
	"math"
	"slices"
	"strings"
	"time"

	"falda/internal/core/fault"
	"falda/internal/core/page"
	"falda/internal/core/trial"
	"falda/internal/core/words"
	"falda/internal/store"
	"falda/internal/work/shop"
)

// By what history is taken together.
var HistoryBy = []string{"week", "month", "piece", "plan", "cutter", "supplier"}

// The measures of history.
var historyMeasures = []string{"yield", "value", "before_purchase", "minutes", "loss"}

// HistoryPick is what is asked of history.
type HistoryPick struct {
	AtlasID string
	Group   GroupPick
	By      string
	Measure string
}

// HistoryBucket is one point of history: a week, a cutter and so on.
type HistoryBucket struct {
	store.Bucket
	Mean, SD   float64 // of the measure that was asked for
	Low, High  float64 // control limits for the mean of so many; none where Limited is false
	Limited    bool
	Out        bool          // beyond them
	VersusRest *trial.Result // this bucket less the rest of the house, where it is by cutter, supplier or plan
	Alone      bool          // nothing else was cut by the same plans: it cannot be held against the rest
}

// HistoryView is history with its limits.
type HistoryView struct {
	Shop     shop.WithPlans
	Pick     HistoryPick
	Buckets  []HistoryBucket
	N        int
	Mean, SD float64 // over all; the standard deviation is that within buckets where they are weeks or months
	Sentence string
}

// History gives what finished pieces gave, by week, month, piece, plan, cutter or supplier. One query answers it.
// Limits are the mean ± 3 standard deviations of a mean of so many pieces (Shewhart 1931, Economic Control of Quality;
// from memory), by the deviation within weeks or months.
func (s *Service) History(ctx context.Context, in HistoryPick) (HistoryView, error) {
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return HistoryView{}, err
	}
	v := HistoryView{Shop: shop, Pick: in}
	q, err := v.Pick.read(shop)
	if err != nil {
		return v, err
	}
	var strata []store.Stratum
	var list []store.Bucket
	if slices.Contains([]string{"plan", "cutter", "supplier"}, v.Pick.By) {
		if strata, err = s.store.BucketStrata(ctx, q, v.Pick.By); err != nil {
			return v, err
		}
		list = together(strata)
	} else if list, err = s.store.BucketResults(ctx, q, v.Pick.By); err != nil {
		return v, err
	}
	if v.Pick.By == "week" && len(list) > 260 { // more than five years are shown by the month
		v.Pick.By = "month"
		if list, err = s.store.BucketResults(ctx, q, "month"); err != nil {
			return v, err
		}
	}
	for _, b := range list {
		h := HistoryBucket{Bucket: b}
		h.Mean, h.SD = v.Pick.of(b)
		h.Name = s.bucketName(v, b)
		v.Buckets = append(v.Buckets, h)
	}
	v.limit()
	if err := v.compare(strata); err != nil {
		return v, err
	}
	v.Sentence = v.words().Sentence()
	if shop.ResultsStale > 0 {
		v.Sentence += " Some finished pieces are still being worked out."
	}
	return v, nil
}

// bucketName names a bucket: pieces, and the plans of several kinds of them, in the words of the shop's market.
func (s *Service) bucketName(v HistoryView, b store.Bucket) string {
	switch v.Pick.By {
	case "piece":
		if p, ok := s.atlas.Find(b.Key); ok {
			return p.In(v.Shop.Market).Name
		}
	case "plan":
		if atlasID, _, ok := strings.Cut(b.Key, "/"); ok && v.Pick.AtlasID == "" {
			if p, ok := s.atlas.Find(atlasID); ok {
				return p.In(v.Shop.Market).Name + ": " + b.Name
			}
		}
	}
	return b.Name
}

// read fills in what is left out, and gives the query of the pieces.
func (in *HistoryPick) read(shop shop.WithPlans) (store.ResultQuery, error) {
	var faults fault.List
	if in.By == "" {
		in.By = "week"
	} else if !slices.Contains(HistoryBy, in.By) {
		faults.Add("by",
			fault.New("", "unknown", fault.Quote(in.By)+" is not a way to take pieces together",
				"Use one of "+strings.Join(HistoryBy, ", ")+"."))
	}
	if in.Measure == "" {
		in.Measure = "yield"
	} else if !slices.Contains(historyMeasures, in.Measure) {
		faults.Add("measure",
			fault.New("", "unknown", fault.Quote(in.Measure)+" is not measured",
				"Use one of "+strings.Join(historyMeasures, ", ")+"."))
	}
	q, err := in.Group.query(shop, in.AtlasID)
	faults.Add("", err)
	return q, faults.Err()
}

// of gives mean and standard deviation of the measure.
func (p HistoryPick) of(b store.Bucket) (mean, sd float64) {
	switch p.Measure {
	case "value":
		return b.Value, b.ValueSd
	case "before_purchase":
		return b.Worth, b.WorthSd
	case "minutes":
		return b.Minutes, b.MinutesSd
	case "loss":
		return b.LossPct, b.LossSd
	}
	return b.YieldPct, b.YieldSd
}

// limit works out mean, deviation, control limits, and each against the rest.
func (v *HistoryView) limit() {
	sum, within, free := 0.0, 0.0, 0
	for _, b := range v.Buckets {
		v.N += b.N
		sum += b.Mean * float64(b.N)
		within += b.SD * b.SD * float64(b.N-1)
		free += b.N - 1
	}
	if v.N == 0 {
		return
	}
	v.Mean = sum / float64(v.N)
	if free > 0 {
		v.SD = math.Sqrt(within / float64(free))
	}
	time := v.Pick.By == "week" || v.Pick.By == "month"
	for i := range v.Buckets {
		b := &v.Buckets[i]
		if time && free >= 5 {
			half := 3 * v.SD / math.Sqrt(float64(b.N))
			b.Limited, b.Low, b.High = true, v.Mean-half, v.Mean+half
			b.Out = b.Mean < b.Low || b.Mean > b.High
		}
	}
}

// together puts buckets together again that were taken apart by stratum; those of one bucket stand one after another.
func together(strata []store.Stratum) []store.Bucket {
	var out []store.Bucket
	for _, s := range strata {
		if len(out) == 0 || out[len(out)-1].Key != s.Key {
			out = append(out, s.Bucket)
			continue
		}
		b := &out[len(out)-1]
		merge := func(mean, sd *float64, m, d float64) {
			x := trial.Sample{N: b.N, Mean: *mean, SD: *sd}.With(trial.Sample{N: s.N, Mean: m, SD: d})
			*mean, *sd = x.Mean, x.SD
		}
		merge(&b.YieldPct, &b.YieldSd, s.YieldPct, s.YieldSd)
		merge(&b.Value, &b.ValueSd, s.Value, s.ValueSd)
		merge(&b.Worth, &b.WorthSd, s.Worth, s.WorthSd)
		merge(&b.Minutes, &b.MinutesSd, s.Minutes, s.MinutesSd)
		merge(&b.LossPct, &b.LossSd, s.LossPct, s.LossSd)
		b.N, b.InputMg = b.N+s.N, b.InputMg+s.InputMg
	}
	return out
}

// compare holds each bucket against all the others together, within the kind and the plan that pieces were cut by: who
// was given the pieces that are cut the dearer way is not the better cutter for it. Plans are compared within a kind of
// piece. All questions of one page are corrected together (Holm).
func (v *HistoryView) compare(strata []store.Stratum) error {
	var ps []float64
	var asked []int
	for i := range v.Buckets {
		b := &v.Buckets[i]
		var cells []trial.Cell
		b.Alone = true
		for _, s := range strata {
			mean, sd := v.Pick.of(s.Bucket)
			cells = append(cells,
				trial.Cell{Stratum: s.Stratum, In: s.Key == b.Key, Sample: trial.Sample{N: s.N, Mean: mean, SD: sd}})
			if s.Key == b.Key {
				b.Alone = b.Alone &&
					!slices.ContainsFunc(strata, func(o store.Stratum) bool { return o.Key != b.Key && o.Stratum == s.Stratum })
			}
		}
		r, err := trial.Stratified(cells, confidence)
		if err != nil {
			return err
		}
		if r.Enough {
			b.VersusRest = &r
			ps, asked = append(ps, r.P), append(asked, i)
		}
	}
	for k, p := range trial.Holm(ps) {
		r := v.Buckets[asked[k]].VersusRest.Corrected(p, confidence)
		v.Buckets[asked[k]].VersusRest = &r
	}
	return nil
}

// words are what is said of it.
func (v *HistoryView) words() words.History {
	h := words.History{Measure: v.Pick.Measure, By: v.Pick.By, Pieces: v.N, Mean: v.Mean, Groups: len(v.Buckets),
		Unit: v.Shop.Unit, Currency: v.Shop.Money}
	for _, b := range v.Buckets {
		name := cmp.Or(b.Name, b.Key)
		if b.Out {
			h.Out = append(h.Out, name)
		}
		if b.Alone {
			h.Alone = append(h.Alone, name)
		}
		if b.VersusRest != nil && b.VersusRest.Verdict == "real" {
			h.Real = append(h.Real, words.Unlike{Name: name, Difference: b.VersusRest.Mean})
		}
	}
	return h
}

// piecesAtOnce is how many pieces a page of history lists.
const piecesAtOnce = 50

// HistoryPieces lists the pieces behind a point of history, or behind all of it, the latest first, page by page, with
// the mark at which the next one goes on; empty after the last.
func (s *Service) HistoryPieces(ctx context.Context, in HistoryPick, bucket, after string) ([]store.ResultRow, string,
	error) {
	mark, err := page.Read(after, 2)
	if err != nil {
		return nil, "", err
	}
	shop, err := s.shops.WithPlans(ctx)
	if err != nil {
		return nil, "", err
	}
	q, err := in.Group.query(shop, in.AtlasID)
	if err != nil {
		return nil, "", err
	}
	if bucket != "" {
		if !slices.Contains(HistoryBy, in.By) {
			return nil, "", fault.New("by", "unknown", fault.Quote(in.By)+" is not a way to take pieces together",
				"Use one of "+strings.Join(HistoryBy, ", ")+".")
		}
		q.By, q.Bucket = in.By, bucket
	}
	var from *store.ResultAfter
	if mark != nil {
		from = &store.ResultAfter{ClosedAt: time.UnixMicro(mark[0]).UTC(), ID: mark[1]}
	}
	rows, err := s.store.ListResults(ctx, q, from, piecesAtOnce+1)
	if err != nil || len(rows) <= piecesAtOnce {
		return rows, "", err
	}
	rows = rows[:piecesAtOnce]
	last := rows[piecesAtOnce-1]
	return rows, page.Mark(last.ClosedAt.UnixMicro(), last.BreakdownID), nil
}
