package main

import (
	"strings"
	"testing"
)

// Rule: a function of more than 60 lines is named, unless its comment says why it is long.
func TestLong(t *testing.T) {
	function := func(doc string, lines int) string {
		return doc + "func f() {\n" + strings.Repeat("\tprintln()\n", lines) + "}\n"
	}
	for _, x := range []struct {
		name, src string
		named     int
	}{
		{"60 lines", function("", 60), 0},
		{"61 lines", function("", 61), 1},
		{"61 lines, commented", function("// f is long.\n", 61), 1},
		{"61 lines with a reason", function("// f does it.\n//\n// Long: a table that is read down.\n", 61), 0},
		{"a reason that is none", function("// f is no Long: line.\n", 61), 1},
		{"no body", "func f()\n", 0},
	} {
		list, err := long("x.go", []byte("package p\n\n"+x.src))
		if err != nil || len(list) != x.named {
			t.Errorf("%s: %q, %v; expected %d", x.name, list, err, x.named)
		}
	}
	if _, err := long("x.go", []byte("no Go")); err == nil {
		t.Error("what is no Go passes")
	}
}
