// Package house checks how Falda is laid out: the arrows between its packages, and that generated code is fresh.
package house

import (
	"bytes"
	"encoding/json"
	"errors"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
)

const root = "../.."

type pkg struct {
	ImportPath string
	Imports    []string
}

func packages(t *testing.T) []pkg {
	t.Helper()
	cmd := exec.Command("go", "list", "-json=ImportPath,Imports", "./...")
	cmd.Dir = root
	out, err := cmd.Output()
	if err != nil {
		t.Fatal(err)
	}
	var list []pkg
	for d := json.NewDecoder(bytes.NewReader(out)); ; {
		var p pkg
		if err := d.Decode(&p); errors.Is(err, io.EOF) {
			return list
		} else if err != nil {
			t.Fatal(err)
		}
		list = append(list, p)
	}
}

// may lists, for each room, the rooms of Falda it may import. What is not listed may import none. Rooms within the work
// are named down to the second level: they form a tree.
var may = map[string][]string{
	"core":         {"core"},
	"store":        {"core"},
	"device":       {"core"},
	"localdb":      {},
	"secret":       {"core"},
	"tabular":      {"core"},
	"paper":        {"core"},
	"photo":        {"core"},
	"backup":       {"store", "secret"},
	"work/audit":   {"core", "store"},
	"work/shop":    {"core", "store", "work/audit"},
	"work/people":  {"core", "store", "secret", "work/audit", "work/shop"},
	"work/pricing": {"core", "store", "tabular", "work/audit", "work/shop"},
	"work/stock":   {"core", "store", "tabular", "work/audit", "work/shop", "work/pricing"},
	"work/bench":   {"core", "store", "work/audit", "work/shop", "work/pricing", "work/stock"},
	"work/judge": {
		"core", "store", "tabular", "secret", "work/audit", "work/shop", "work/pricing", "work/stock", "work/bench",
	},
	"work/compare": {
		"core", "store", "secret", "work/audit", "work/shop", "work/pricing", "work/stock", "work/bench", "work/judge",
		"work/orders", "work/sales", "work/goods", "work/made",
	},
	"work/goods":  {"core", "store", "work/audit", "work/shop", "work/pricing", "work/bench"},
	"work/orders": {"core", "store", "work/audit", "work/shop", "work/pricing", "work/goods"},
	"work/dayplan": {
		"core", "store", "work/audit", "work/shop", "work/pricing", "work/stock", "work/orders",
	},
	"work/labels": {"core", "store", "work/audit", "work/shop", "work/goods"},
	"work/sales": {
		"core", "store", "tabular", "work/audit", "work/shop", "work/pricing", "work/goods", "work/labels",
	},
	"work/counter": {
		"core", "store", "secret", "work/audit", "work/shop", "work/goods", "work/labels", "work/sales",
	},
	"work/learn": {"core", "store", "photo", "work/audit", "work/shop", "work/bench"},
	"work/made":  {"core", "store", "work/audit", "work/shop", "work/pricing", "work/goods"},
	"work":       {"core", "store", "work/*"},
	"api":        {"core", "store", "device", "work", "work/*", "contract", "secret", "tabular", "paper"},
	"demo":       {"core", "store", "work", "work/*"},
	"stepstest":  {"core"},
	"testdb": {
		"core", "store", "work", "work/*", "localdb",
	},
	"cmd": {
		"core", "store", "device", "work", "work/*", "api", "localdb", "demo", "web", "backup", "terms", "paper",
	},
	"contract": {}, "install": {}, "web": {}, "browser": {}, "year": {}, "house": {}, "agreement": {}, "terms": {},
	"scripts": {},
}

// outside lists what the core may import beside itself and the standard library: arithmetic and text, nothing that
// reads or writes the world.
var outside = []string{"gonum.org/v1/gonum/", "github.com/goccy/go-yaml", "golang.org/x/text/"}

// world is what the pure core must not touch: clocks are arguments, files are embedded data.
var world = []string{"net", "net/http", "os", "os/exec", "database/sql", "log", "log/slog", "syscall", "math/rand",
	"math/rand/v2"}

func room(path string) string {
	if path == "falda" { // the terms that go along
		return "terms"
	}
	rest, ours := strings.CutPrefix(path, "falda/")
	if !ours {
		return ""
	}
	switch {
	case strings.HasPrefix(rest, "internal/api/contract"), rest == "api":
		return "contract"
	case strings.HasPrefix(rest, "internal/work/"):
		return strings.TrimPrefix(rest, "internal/")
	case strings.HasPrefix(rest, "internal/"):
		return strings.SplitN(strings.TrimPrefix(rest, "internal/"), "/", 2)[0]
	case strings.HasPrefix(rest, "test/"):
		return strings.TrimPrefix(rest, "test/")
	}
	return strings.SplitN(rest, "/", 2)[0]
}

// contains says whether a room is in a list; "work/*" stands for every room of the work.
func contains(list []string, s string) bool {
	for _, l := range list {
		if family, all := strings.CutSuffix(l, "*"); l == s || all && strings.HasPrefix(s, family) {
			return true
		}
	}
	return false
}

// Rule: arrows run one way, api → work → {core, store, device}, store → core, core → nothing; within the work compare →
// judge → bench → stock → pricing → shop → audit, made → goods → bench, compare → orders → goods, compare → made,
// dayplan → orders, and people → shop.
func TestArrowsRunOneWay(t *testing.T) {
	seen := 0
	for _, p := range packages(t) {
		from := room(p.ImportPath)
		allowed, known := may[from]
		if !known {
			t.Errorf("%s is in no room of the house", p.ImportPath)
		}
		for _, i := range p.Imports {
			if to := room(i); to != "" {
				seen++
				if !contains(allowed, to) {
					t.Errorf("%s imports %s: %s may not look into %s", p.ImportPath, i, from, to)
				}
				continue
			}
			if from != "core" {
				if (strings.HasPrefix(from, "work") || from == "store") &&
					(i == "net/http" || strings.Contains(i, "labstack/echo")) {
					t.Errorf("%s knows HTTP: %s", p.ImportPath, i)
				}
				continue
			}
			if contains(world, i) {
				t.Errorf("the core package %s imports %s", p.ImportPath, i)
			}
			if strings.Contains(strings.SplitN(i, "/", 2)[0], ".") {
				ok := false
				for _, o := range outside {
					ok = ok || strings.HasPrefix(i, o)
				}
				if !ok {
					t.Errorf("the core package %s imports %s", p.ImportPath, i)
				}
			}
		}
	}
	if seen < 30 {
		t.Errorf("only %d arrows were looked at", seen)
	}
}

// Rule: the Go and TypeScript types are those of the contract.
func TestGeneratedCodeIsFresh(t *testing.T) {
	dir := t.TempDir()
	abs, err := filepath.Abs(root)
	if err != nil {
		t.Fatal(err)
	}
	goOut, tsOut := filepath.Join(dir, "contract.go"), filepath.Join(dir, "schema.d.ts")
	run := func(in, name string, args ...string) {
		t.Helper()
		cmd := exec.Command(name, args...)
		cmd.Dir = in
		if out, err := cmd.CombinedOutput(); err != nil {
			t.Fatalf("%s: %v\n%s", name, err, out)
		}
	}
	run(abs, "go", "tool", "oapi-codegen", "-config", "api/oapi-codegen.yaml", "-o", goOut, "api/openapi.yaml")
	run(filepath.Join(abs, "web"), "node_modules/.bin/openapi-typescript", "../api/openapi.yaml", "-o", tsOut)
	for made, kept := range map[string]string{goOut: "internal/api/contract/contract.gen.go",
		tsOut: "web/src/api/schema.d.ts"} {
		a, err := os.ReadFile(made)
		if err != nil {
			t.Fatal(err)
		}
		b, err := os.ReadFile(filepath.Join(abs, kept))
		if err != nil {
			t.Fatal(err)
		}
		if !bytes.Equal(a, b) {
			t.Errorf("%s is stale: run make generate", kept)
		}
	}
}
