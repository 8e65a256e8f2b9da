package house

import (
	"encoding/json"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
)

// Rule: what ships and was made by others stands in THIRD_PARTY.md with its version and its terms: every module the
// program is linked from, and every package that the pages ask for.
func TestWhatOthersMadeIsNamed(t *testing.T) {
	raw, err := os.ReadFile(filepath.Join(root, "THIRD_PARTY.md"))
	if err != nil {
		t.Fatal(err)
	}
	named := string(raw)
	list := exec.Command("go", "list", "-deps", "-f", "{{with .Module}}{{.Path}} | {{.Version}} | {{end}}", "./cmd/falda")
	list.Dir = root
	out, err := list.Output()
	if err != nil {
		t.Fatal(err)
	}
	looked := 0
	for _, row := range strings.Split(string(out), "\n") {
		if row != "" && !strings.HasPrefix(row, "falda | ") {
			looked++
			if !strings.Contains(named, "| "+row) {
				t.Errorf("THIRD_PARTY.md lacks %s: run make licences", row)
			}
		}
	}
	var web struct{ Dependencies map[string]string }
	if raw, err = os.ReadFile(filepath.Join(root, "web", "package.json")); err == nil {
		err = json.Unmarshal(raw, &web)
	}
	if err != nil {
		t.Fatal(err)
	}
	for name, version := range web.Dependencies {
		looked++
		if !strings.Contains(named, "| "+name+" | "+version+" |") {
			t.Errorf("THIRD_PARTY.md lacks %s %s: run make licences", name, version)
		}
	}
	if looked < 40 || strings.Contains(named, "|  |") {
		t.Errorf("%d parts, or one of them has no licence", looked)
	}
}
