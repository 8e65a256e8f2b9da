// Command longfuncs lists the functions of Go files that are longer than 60 lines and give no reason for it. A reason
// stands in the function's comment, in a line that begins with “Long: ”.
package main

import (
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"os"
	"strings"
)

// maxLines is how many lines a function may have between its braces.
const maxLines = 60

func main() {
	failed := false
	for _, name := range os.Args[1:] {
		src, err := os.ReadFile(name)
		if err != nil {
			fmt.Fprintln(os.Stderr, err)
			os.Exit(1)
		}
		list, err := long(name, src)
		if err != nil {
			fmt.Fprintln(os.Stderr, err)
			os.Exit(1)
		}
		for _, f := range list {
			fmt.Println(f)
			failed = true
		}
	}
	if failed {
		os.Exit(1)
	}
}

// long says which functions of a file are too long without a reason.
func long(name string, src []byte) ([]string, error) {
	fset := token.NewFileSet()
	file, err := parser.ParseFile(fset, name, src, parser.ParseComments|parser.SkipObjectResolution)
	if err != nil {
		return nil, err
	}
	var out []string
	for _, d := range file.Decls {
		f, ok := d.(*ast.FuncDecl)
		if !ok || f.Body == nil {
			continue
		}
		lines := fset.Position(f.Body.Rbrace).Line - fset.Position(f.Body.Lbrace).Line - 1
		if lines > maxLines && !strings.Contains("\n"+f.Doc.Text(), "\nLong: ") {
			at := fset.Position(f.Pos())
			out = append(out,
				fmt.Sprintf("%s:%d: %s has %d lines, more than %d: divide it, or say why in its comment after “Long: ”",
					at.Filename, at.Line, f.Name.Name, lines, maxLines))
		}
	}
	return out, nil
}
