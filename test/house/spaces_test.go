package house

import (
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
)

// A space at the beginning of an element, before a value, is dropped when a template is compiled, and two words run
// into one: “roast700 g”. It stands before the element.
func TestNoSpaceIsLostBeforeAValue(t *testing.T) {
	lost := regexp.MustCompile(`<(?:span|strong|em|template)\b[^>]*[^/]> \{\{`)
	seen := 0
	err := filepath.WalkDir(filepath.Join(root, "web/src"), func(path string, d fs.DirEntry, err error) error {
		if err != nil || !strings.HasSuffix(path, ".vue") {
			return err
		}
		raw, err := os.ReadFile(path)
		for _, found := range lost.FindAllString(string(raw), -1) {
			t.Errorf("%s: %s", path, found)
		}
		seen++
		return err
	})
	if err != nil || seen < 100 {
		t.Fatalf("%d files, %v", seen, err)
	}
}
