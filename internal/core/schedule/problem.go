package schedule

import (
	"fmt"
	"math"
	"slices"
)

// Span is a stretch of time, in seconds.
type Span struct{ From, To int }

// Post is a cutter at a bench.
type Post struct {
	ID string
	// Spans are the hours of the post, pauses left out; in order, none touching the next. After the last it goes on if
	// need be, which counts as work after hours.
	Spans   []Span
	Species string // of what was cut there last; empty on a clean bench
	Dirty   bool   // something with an allergen was handled there
}

// Job is a piece that is to be cut.
type Job struct {
	ID       string
	Species  string
	Allergen bool
	// Before, Saw and After are what it takes at each post, in seconds: up to the saw, on it, and after it; the lists go
	// by post. What needs no saw has all of its time in Before.
	Before, Saw, After []int
	Orders             []int // places of the orders that it is for
	Post               int   // where it must be cut; -1 for anywhere
}

// Order is something that must be ready at a time, in seconds: all of its pieces cut.
type Order struct {
	ID  string
	Due int
}

// Problem is a day that is to be laid out.
type Problem struct {
	Posts  []Post
	Jobs   []Job
	Orders []Order
	// Clean and CleanSaw are the seconds it takes to clean a bench, and the saw, where the species changes; Wash those to
	// wash down a bench after an allergen.
	Clean, CleanSaw, Wash int
	SawFrom               int    // from when the saw is free
	SawSpecies            string // of what was sawn last
}

// MaxJobs bounds a day.
const MaxJobs = 60

// Slot is a piece in its place of the day.
type Slot struct {
	Job, Post  int
	From, To   int // of the piece itself, cleaning before it left out
	SawFrom    int // equal to SawTo where it needs no saw
	SawTo      int
	CleanFrom  int // when cleaning before it begins; equal to From where there is none
	CleanedSaw bool
}

// Cost is what a way of laying out the day is judged by, the first first.
type Cost struct {
	Late     int // of all orders together, seconds
	Overtime int // of all posts together, seconds
	Finish   int // when the last piece is cut
}

// Less says whether a cost is better.
func (c Cost) Less(d Cost) bool {
	if c.Late != d.Late {
		return c.Late < d.Late
	}
	if c.Overtime != d.Overtime {
		return c.Overtime < d.Overtime
	}
	return c.Finish < d.Finish
}

// Plan is a day laid out.
type Plan struct {
	Slots  []Slot // in the order in which they begin
	Ready  []int  // of each order: when the last of its pieces is cut; 0 for one without pieces
	Cost   Cost
	Proven bool // no other way is better
	Bound  Cost // that no way can beat; equal to Cost where it is proven
}

// Stop says when to give up searching.
type Stop func() bool

// check refuses a problem that makes no sense; it is the asker's fault.
func (p Problem) check() error {
	if len(p.Posts) == 0 || len(p.Posts) > maxPosts || len(p.Jobs) > MaxJobs {
		return fmt.Errorf("schedule: %d posts, %d jobs", len(p.Posts), len(p.Jobs))
	}
	for _, post := range p.Posts {
		if len(post.Spans) == 0 {
			return fmt.Errorf("schedule: post %s has no hours", post.ID)
		}
		last := math.MinInt
		for _, s := range post.Spans {
			if s.From <= last || s.To <= s.From {
				return fmt.Errorf("schedule: the hours of post %s are out of order", post.ID)
			}
			last = s.To
		}
	}
	for _, j := range p.Jobs {
		if len(j.Before) != len(p.Posts) || len(j.Saw) != len(p.Posts) || len(j.After) != len(p.Posts) {
			return fmt.Errorf("schedule: job %s lacks times", j.ID)
		}
		for i := range p.Posts {
			if j.Before[i] < 0 || j.Saw[i] < 0 || j.After[i] < 0 || j.takes(i) <= 0 {
				return fmt.Errorf("schedule: job %s takes no time", j.ID)
			}
		}
		if j.Post >= len(p.Posts) ||
			slices.ContainsFunc(j.Orders, func(o int) bool { return o < 0 || o >= len(p.Orders) }) {
			return fmt.Errorf("schedule: job %s is pinned to or ordered by what there is not", j.ID)
		}
	}
	return nil
}

// maxPosts bounds how many cut at once.
const maxPosts = 12

// takes is the whole time of a job at a post.
func (j Job) takes(post int) int { return j.Before[post] + j.Saw[post] + j.After[post] }

// work moves a time on by so much work, over pauses.
func (p Post) work(at, seconds int) int {
	at = p.open(at)
	for _, s := range p.Spans {
		if at >= s.To {
			continue
		}
		if left := s.To - at; seconds > left && s != p.Spans[len(p.Spans)-1] {
			seconds -= left
			at = p.open(s.To)
			continue
		}
		break
	}
	return at + seconds
}

// open is the first time at or after another at which the post works.
func (p Post) open(at int) int {
	for _, s := range p.Spans {
		if at < s.To {
			return max(at, s.From)
		}
	}
	return at // after hours
}

// fits is the first time at or after another from which so much can be done without a pause; after hours there is none.
func (p Post) fits(at, seconds int) int {
	for i, s := range p.Spans {
		if from := max(at, s.From); from < s.To && (from+seconds <= s.To || i == len(p.Spans)-1) {
			return from
		}
	}
	return p.open(at)
}

// ends is when the hours of a post end.
func (p Post) ends() int { return p.Spans[len(p.Spans)-1].To }

// before is what a post has of its hours before a time.
func (p Post) before(at int) int {
	sum := 0
	for _, s := range p.Spans {
		if at > s.From {
			sum += min(at, s.To) - s.From
		}
	}
	if end := p.ends(); at > end {
		sum += at - end
	}
	return sum
}
