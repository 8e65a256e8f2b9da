package house

import (
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"path/filepath"
	"strings"
	"testing"
)

// Rule: nothing is ranged over as a map that is written on the spot, for its order changes from run to run, and with it
// which fault comes first; and no map is keyed by what a variable holds, for two amounts that are the same would be one
// entry, and one of them lost.
func TestNoMapIsKeyedByAmounts(t *testing.T) {
	looked := 0
	for _, dir := range []string{"internal", "cmd"} {
		err := filepath.WalkDir(filepath.Join(root, dir), func(path string, d fs.DirEntry, err error) error {
			if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") ||
				strings.HasSuffix(path, ".gen.go") {
				return err
			}
			looked++
			for _, f := range mapFaults(t, path, nil) {
				t.Error(f)
			}
			return nil
		})
		if err != nil {
			t.Fatal(err)
		}
	}
	if looked < 100 {
		t.Errorf("only %d files were looked at", looked)
	}
	// the check can fail: these are the mistakes; a single entry is none
	bad := `package x
func f(s struct{ A, B string }, a, b *int) {
	for k, v := range map[string]*int{s.A: a, s.B: b} { _, _ = k, v }
	_ = map[string]*int{s.A: a}
}`
	if n := len(mapFaults(t, "bad.go", bad)); n != 3 {
		t.Errorf("the check finds %d of 3 mistakes", n)
	}
}

func mapFaults(t *testing.T, path string, src any) []string {
	t.Helper()
	set := token.NewFileSet()
	file, err := parser.ParseFile(set, path, src, 0)
	if err != nil {
		t.Fatal(err)
	}
	imported := map[string]bool{}
	for _, i := range file.Imports {
		name := strings.Trim(i.Path.Value, `"`)
		imported[name[strings.LastIndex(name, "/")+1:]] = true
		if i.Name != nil {
			imported[i.Name.Name] = true
		}
	}
	var out []string
	isMap := func(e ast.Expr) (*ast.CompositeLit, bool) {
		lit, ok := e.(*ast.CompositeLit)
		if !ok {
			return nil, false
		}
		_, ok = lit.Type.(*ast.MapType)
		return lit, ok
	}
	ast.Inspect(file, func(n ast.Node) bool {
		if r, ok := n.(*ast.RangeStmt); ok {
			if _, ok := isMap(r.X); ok {
				out = append(out, set.Position(r.Pos()).String()+": ranges over a map written on the spot; take a slice of pairs")
			}
		}
		e, ok := n.(ast.Expr)
		if !ok {
			return true
		}
		lit, ok := isMap(e)
		if !ok {
			return true
		}
		for _, el := range lit.Elts {
			if len(lit.Elts) == 1 { // there is nothing to be the same as
				break
			}
			pair, ok := el.(*ast.KeyValueExpr)
			if !ok {
				continue
			}
			if sel, ok := pair.Key.(*ast.SelectorExpr); ok {
				if x, ok := sel.X.(*ast.Ident); !ok || !imported[x.Name] {
					out = append(out, set.Position(pair.Pos()).String()+": keyed by what a variable holds; take a slice of pairs")
				}
			}
		}
		return true
	})
	return out
}
