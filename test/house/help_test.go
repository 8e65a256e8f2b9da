package house

import (
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
)

// Rule: every page says what one can do on it, in one to five lines, and none says so of a page that is not there. A
// bench has help of its own, and pages for those who are not signed in speak for themselves.
func TestEveryPageHasHelp(t *testing.T) {
	read := func(name string) string {
		raw, err := os.ReadFile(filepath.Join(root, "web", "src", name))
		if err != nil {
			t.Fatal(err)
		}
		return string(raw)
	}
	lines := map[string]int{}
	entry := regexp.MustCompile(`(?ms)^  '?([\w-]+)'?: \[(.*?)\],$`)
	for _, m := range entry.FindAllStringSubmatch(read("shell/help.ts"), -1) {
		lines[m[1]] = strings.Count(m[2], "'") / 2
	}
	without := map[string]bool{"who": true, "lost": true}
	router := read("router.ts")
	found := 0
	for _, m := range regexp.MustCompile(`(?s)name: '([\w-]+)',.*?meta: \{(.*?)\}`).FindAllStringSubmatch(router, -1) {
		name, meta := m[1], m[2]
		if without[name] || strings.Contains(meta, "open: true") || strings.Contains(meta, "bench: true") {
			continue
		}
		found++
		if n := lines[name]; n < 1 || n > 5 {
			t.Errorf("the page %s has %d lines of help", name, n)
		}
		delete(lines, name)
	}
	if found < 30 {
		t.Errorf("only %d pages were found", found)
	}
	for name := range lines {
		t.Errorf("there is help for %s, which is no page", name)
	}
}
