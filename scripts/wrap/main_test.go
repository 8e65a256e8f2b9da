package main

import (
	"strings"
	"testing"
	"unicode/utf8"
)

// Rules: no line that can be broken stays too long; what fits is left as it is; breaking twice changes nothing more;
// and the code is the same code.
func TestWrap(t *testing.T) {
	long := strings.Join([]string{"package p", "",
		"// A paragraph that is longer than a line may be, and that therefore has to be set anew so that each of its " +
			"lines fits, whatever it says.",
		"func f(ctx int, first, second, third string) (string, error) { " +
			"// a comment at the end of a line that makes the line much too long",
		`	if first == "" && second == "" && third == "" && len(first) > 100 && len(second) > 100 && ` +
			`len(third) > 100 && ctx > 100000 {`,
		`		return call("a text that is long enough to be broken at one of its spaces, because nothing else ` +
			`in the line can be broken"), nil`,
		"	}",
		`	values := map[string]string{"first": first, "second": second, "third": third, "fourth": first, ` +
			`"fifth": second, "sixth": third,`,
		`		"seventh": first}`,
		`	for _, x := range []string{"first of many", "second of many", "third of many", "fourth of many", ` +
			`"fifth of many", "sixth"} {`,
		`		values[x] = query("SELECT a, b, c FROM some_table JOIN another_table ON another_table.id = ` +
			`some_table.other WHERE some_table.id = ?")`,
		"	}",
		`	return values["first"], nil`,
		"}", ""}, "\n")
	out, err := Wrap([]byte(long))
	if err != nil {
		t.Fatal(err)
	}
	for _, line := range strings.Split(string(out), "\n") {
		if utf8.RuneCountInString(line) > maxLine {
			t.Errorf("still too long: %s", line)
		}
	}
	again, err := Wrap(out)
	if err != nil || string(again) != string(out) {
		t.Errorf("breaking twice is not breaking once: %v\n%s", err, again)
	}
	if a, b := bare(long), bare(string(out)); a != b {
		t.Errorf("the code is another:\n%s\n%s", a, b)
	}
	inside := "package p\n\nvar program = `package q\n\n// " + strings.Repeat("select from where ", 9) + "\n`\n"
	if out, err := Wrap([]byte(inside)); err != nil || string(out) != inside {
		t.Errorf("a program within a text is changed: %q, %v", out, err)
	}
	short := "package p\n\nvar x = 1 // fits\n"
	if out, err := Wrap([]byte(short)); err != nil || string(out) != short {
		t.Errorf("%q, %v", out, err)
	}
}

// bare is a file without white space, and with texts that were broken put together again.
func bare(src string) string {
	joined := strings.Join(strings.Fields(src), "")
	for _, gone := range []string{`"+"`, "//"} {
		joined = strings.ReplaceAll(joined, gone, "")
	}
	letters := strings.Split(joined, "")
	counts := map[string]int{} // comments move, so only what there is counts
	for _, l := range letters {
		counts[l]++
	}
	var b strings.Builder
	for r := rune(33); r < 127; r++ {
		for range counts[string(r)] {
			b.WriteRune(r)
		}
	}
	return b.String()
}

func TestTooLong(t *testing.T) {
	if got := tooLong([]byte("short\n" + strings.Repeat("ü", 121) + "\n" + strings.Repeat("ü", 120))); len(got) != 1 ||
		got[0] != 2 {
		t.Errorf("%v", got)
	}
}
