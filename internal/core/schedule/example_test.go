package schedule_test

import (
	"fmt"

	"falda/internal/core/schedule"
)

// Two cutters, three pieces: two of twenty minutes and one of thirty of which ten are on the saw. An order needs the
// last of them in forty minutes.
func ExampleSolve() {
	const minute = 60
	day := []schedule.Span{{From: 0, To: 480 * minute}}
	knife := func(minutes int) schedule.Job {
		m := minutes * minute
		return schedule.Job{Species: "beef", Before: []int{m, m}, Saw: []int{0, 0}, After: []int{0, 0}, Post: -1}
	}
	sawn := knife(20)
	sawn.Saw, sawn.Orders = []int{10 * minute, 10 * minute}, []int{0}
	plan, err := schedule.Solve(schedule.Problem{Posts: []schedule.Post{{ID: "North", Spans: day},
		{ID: "South", Spans: day}},
		Jobs: []schedule.Job{knife(20), knife(20), sawn}, Orders: []schedule.Order{{ID: "galley", Due: 40 * minute}}}, nil)
	fmt.Println(err, plan.Cost.Finish/minute, "minutes, order ready after", plan.Ready[0]/minute, plan.Proven)
	// Output: <nil> 40 minutes, order ready after 30 true
}
