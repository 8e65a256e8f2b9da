package demo

// Jobs are the pieces that the scenario cuts by plans in steps, with these.
func Jobs() (out [][2]string) {
	for _, j := range jobs {
		out = append(out, [2]string{j.piece, j.plan})
	}
	return out
}
