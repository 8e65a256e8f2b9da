// Command wrap breaks the lines of Go files that are longer than 120 characters, and leaves all others as they are:
// after a comma or an operator, as far out in the brackets as there is one, filling the line; long texts at a space;
// comments anew as a paragraph. gofmt then sets the indentation. With -l it only lists lines that are still too long.
package main

import (
	"bytes"
	"flag"
	"fmt"
	"go/format"
	"go/scanner"
	"go/token"
	"os"
	"regexp"
	"strings"
	"unicode/utf8"
)

// maxLine is how long a line may be, in characters; a tab counts as one.
const maxLine = 120

func main() {
	list := flag.Bool("l", false, "only list the lines that are too long")
	flag.Parse()
	failed := false
	for _, name := range flag.Args() {
		src, err := os.ReadFile(name)
		if err != nil {
			fmt.Fprintln(os.Stderr, err)
			os.Exit(1)
		}
		if *list {
			for _, n := range tooLong(src) {
				fmt.Printf("%s:%d: longer than %d characters\n", name, n, maxLine)
				failed = true
			}
			continue
		}
		out, err := Wrap(src)
		if err != nil {
			fmt.Fprintf(os.Stderr, "%s: %v\n", name, err)
			failed = true
			continue
		}
		if !bytes.Equal(out, src) {
			if err := os.WriteFile(name, out, 0o644); err != nil { //nolint:gosec // a source file is for all to read
				fmt.Fprintln(os.Stderr, err)
				os.Exit(1)
			}
		}
	}
	if failed {
		os.Exit(1)
	}
}

// tooLong gives the numbers of the lines that are too long.
func tooLong(src []byte) []int {
	var out []int
	for i, line := range strings.Split(string(src), "\n") {
		if utf8.RuneCountInString(line) > maxLine {
			out = append(out, i+1)
		}
	}
	return out
}

// Wrap gives a Go file with its long lines broken, as far as they can be.
func Wrap(src []byte) ([]byte, error) {
	for range 40 {
		next, err := format.Source([]byte(reflow(breakLines(string(liftComments(src))))))
		if err != nil {
			return src, err
		}
		if bytes.Equal(next, src) {
			break
		}
		src = next
	}
	return src, nil
}

// tok is a token with where it begins and ends in the file.
type tok struct {
	kind       token.Token
	start, end int
	lit        string
}

func tokens(src []byte) []tok {
	fset := token.NewFileSet()
	file := fset.AddFile("", fset.Base(), len(src))
	var s scanner.Scanner
	s.Init(file, src, nil, scanner.ScanComments)
	var out []tok
	for {
		pos, kind, lit := s.Scan()
		if kind == token.EOF {
			return out
		}
		at := file.Offset(pos)
		if kind == token.SEMICOLON && lit != ";" { // put in at the end of a line
			continue
		}
		text := lit
		if text == "" || kind.IsOperator() {
			text = kind.String()
		}
		out = append(out, tok{kind, at, at + len(text), text})
	}
}

// liftComments puts comments at the end of lines that are too long onto a line of their own.
func liftComments(src []byte) []byte {
	lines := strings.SplitAfter(string(src), "\n")
	starts := map[int]int{} // line → where its trailing comment begins
	at, n := 0, 0
	ends := make([]int, len(lines))
	for i, l := range lines {
		at += len(l)
		ends[i] = at
	}
	for _, t := range tokens(src) {
		if t.kind != token.COMMENT || !strings.HasPrefix(t.lit, "//") {
			continue
		}
		for ends[n] <= t.start {
			n++
		}
		begin := ends[n] - len(lines[n])
		if strings.TrimSpace(string(src[begin:t.start])) != "" {
			starts[n] = t.start - begin
		}
	}
	var b strings.Builder
	for i, l := range lines {
		c, trailing := starts[i]
		if !trailing || utf8.RuneCountInString(strings.TrimRight(l, "\n")) <= maxLine ||
			strings.HasPrefix(l[c:], "//nolint") {
			b.WriteString(l)
			continue
		}
		code, comment := strings.TrimRight(l[:c], " \t"), strings.TrimSpace(l[c:])
		indent := l[:len(l)-len(strings.TrimLeft(l, "\t"))]
		if strings.HasPrefix(strings.TrimSpace(code), "}") {
			b.WriteString(code + "\n" + indent + "\t" + comment + "\n")
		} else {
			b.WriteString(indent + comment + "\n" + code + "\n")
		}
	}
	return []byte(b.String())
}

// after says whether a line may be broken after a token.
func after(k token.Token) bool {
	switch k {
	case token.COMMA, token.PERIOD, token.LAND, token.LOR, token.ADD, token.SUB, token.MUL, token.QUO, token.EQL,
		token.NEQ, token.OR:
		return true
	}
	return false
}

// breakLines breaks each line that is too long once. What is left of a list goes on to its next line.
func breakLines(src string) string {
	list := tokens([]byte(src))
	var b strings.Builder
	at, first := 0, 0
	lines := strings.SplitAfter(src, "\n")
	for i, line := range lines {
		end, skip := at+len(line), 0
		for first < len(list) && list[first].end <= at {
			first++
		}
		if utf8.RuneCountInString(strings.TrimRight(line, "\n")) > maxLine {
			last := first
			for last < len(list) && list[last].start < end {
				last++
			}
			broken, sameList := breakLine(line, at, list[first:last])
			if sameList && i+1 < len(lines) && continues(lines[i+1]) {
				broken = strings.TrimRight(broken, "\n") + " "
				rest := strings.TrimLeft(lines[i+1], "\t")
				skip = len(lines[i+1]) - len(rest)
				lines[i+1] = rest
			}
			line = broken
		}
		b.WriteString(line)
		at = end + skip
	}
	return b.String()
}

// continues says whether a line goes on with the list of the line before it.
func continues(line string) bool {
	text := strings.TrimSpace(line)
	return text != "" && !strings.HasPrefix(text, "//") && !strings.ContainsAny(text[:1], "})]`")
}

// breakLine breaks a line, which begins at an offset and holds these tokens. It answers too whether the line ends with
// a comma of the very list within which it was broken.
func breakLine(line string, at int, list []tok) (broken string, sameList bool) {
	fits := func(offset int) bool { return utf8.RuneCountInString(line[:offset]) <= maxLine }
	best, bestCost, bestDepth, depth := -1, 1<<30, 0, 0
	assigned := assignment(list)
	for i, t := range list {
		switch t.kind {
		case token.LPAREN, token.LBRACK, token.LBRACE:
			depth++
		case token.RPAREN, token.RBRACK, token.RBRACE:
			depth--
		}
		end := t.end - at
		if t.start < at || i < assigned || end >= len(strings.TrimRight(line, "\n")) || !fits(end) || !after(t.kind) ||
			unary(list, i) || (i+1 < len(list) && list[i+1].kind == token.COMMENT) {
			continue
		}
		cost := 2 * depth
		switch {
		case t.kind == token.PERIOD && (i == 0 || list[i-1].kind != token.RPAREN):
			continue
		case t.kind == token.PERIOD:
			cost += 2
		case t.kind == token.EQL || t.kind == token.NEQ:
			cost += 5 // what is compared stays together
		case t.kind != token.COMMA:
			cost++
		}
		if cost <= bestCost {
			best, bestCost, bestDepth = end, cost, depth
		}
	}
	if best < 0 {
		return breakText(line, at, list), false
	}
	ends := len(list) > 0 && list[len(list)-1].kind == token.COMMA && depth == bestDepth
	return strings.TrimRight(line[:best], " ") + "\n" + strings.TrimLeft(line[best:], " "), ends
}

// assignment is the place of the token that assigns, in a line that begins with one; 0 elsewhere. What stands before it
// cannot be broken.
func assignment(list []tok) int {
	depth := 0
	for i, t := range list {
		switch t.kind {
		case token.LPAREN, token.LBRACK, token.LBRACE:
			depth++
		case token.RPAREN, token.RBRACK, token.RBRACE:
			depth--
		case token.ASSIGN, token.DEFINE:
			if depth == 0 {
				return i
			}
		}
	}
	return 0
}

// unary says whether an operator stands before its only operand.
func unary(list []tok, i int) bool {
	switch list[i].kind {
	case token.ADD, token.SUB, token.MUL:
	default:
		return false
	}
	if i == 0 {
		return true
	}
	switch k := list[i-1].kind; k {
	case token.IDENT, token.INT, token.FLOAT, token.STRING, token.CHAR, token.RPAREN, token.RBRACK, token.RBRACE:
		return false
	default:
		return true
	}
}

var (
	statement = regexp.MustCompile(`(?i)\b(SELECT|INSERT|UPDATE|DELETE|WHERE|JOIN|VALUES|FROM|COALESCE|CONCAT|AVG)\b`)
	object    = regexp.MustCompile("^`[\\[{]")
	program   = regexp.MustCompile("^`package ")
)

// breakText breaks a line within the text that crosses its end, at a space; SQL and JSON between their quotation marks
// where a line may be broken too.
func breakText(line string, at int, list []tok) string {
	for _, t := range list {
		from, to := max(t.start-at, 0), min(t.end-at, len(line))
		if t.kind != token.STRING || utf8.RuneCountInString(line[:to]) < maxLine-3 {
			continue
		}
		cut := -1
		switch raw := t.lit[0] == '`'; {
		case raw && object.MatchString(t.lit):
			cut = breakable(t, at, line, '"', ',')
		case raw && statement.MatchString(t.lit) && !program.MatchString(t.lit):
			cut = breakable(t, at, line, '\'', ' ')
		case !raw:
			cut = breakable(t, at, line, 0, ' ')
		}
		if cut < from+12 {
			continue
		}
		if t.lit[0] != '`' {
			return line[:cut+1] + "\" +\n\"" + line[cut+1:]
		}
		indent := line[:len(line)-len(strings.TrimLeft(line, "\t"))]
		if t.start >= at {
			indent += "\t"
		}
		return strings.TrimRight(line[:cut+1], " ") + "\n" + indent + strings.TrimLeft(line[cut+1:], " ")
	}
	return line
}

// breakable gives the last place in a line, within a text, where a mark stands outside of quotes; -1 where there is
// none.
func breakable(t tok, at int, line string, quote, mark byte) int {
	quoted, cut := false, -1
	for i := 1; i < len(t.lit)-1; i++ {
		n := t.start + i - at
		if n >= len(line) || (n >= 0 && utf8.RuneCountInString(line[:n]) > maxLine-4) {
			break
		}
		switch c := t.lit[i]; {
		case quote != 0 && c == quote && t.lit[i-1] != '\\':
			quoted = !quoted
		case c == mark && !quoted && n >= 0:
			cut = n
		}
	}
	return cut
}

var listItem = regexp.MustCompile(`^//( [-*•] | \d+[.)] |\t|  )`)

// reflow sets paragraphs of comments anew that hold a line that is too long.
func reflow(src string) string {
	lines := strings.Split(src, "\n")
	inRaw := rawLines(src)
	var out []string
	for i := 0; i < len(lines); {
		text := strings.TrimLeft(lines[i], "\t")
		if !plain(text) || inRaw[i] {
			out = append(out, lines[i])
			i++
			continue
		}
		indent := lines[i][:len(lines[i])-len(text)]
		end, long := i, false
		for end < len(lines) && strings.HasPrefix(lines[end], indent+"//") && plain(lines[end][len(indent):]) {
			long = long || utf8.RuneCountInString(lines[end]) > maxLine
			end++
		}
		if !long {
			out = append(out, lines[i:end]...)
			i = end
			continue
		}
		var words []string
		for _, l := range lines[i:end] {
			words = append(words, strings.Fields(strings.TrimPrefix(strings.TrimLeft(l, "\t"), "//"))...)
		}
		current := indent + "//"
		for _, w := range words {
			if utf8.RuneCountInString(current)+1+utf8.RuneCountInString(w) > maxLine {
				out = append(out, current)
				current = indent + "//"
			}
			current += " " + w
		}
		out = append(out, current)
		i = end
	}
	return strings.Join(out, "\n")
}

// plain says whether a line is running text of a comment: no blank one, list, example or directive.
func plain(text string) bool {
	return strings.HasPrefix(text, "// ") && strings.TrimSpace(text) != "//" && !listItem.MatchString(text)
}

// rawLines marks the lines that begin within a raw string.
func rawLines(src string) map[int]bool {
	out := map[int]bool{}
	for _, t := range tokens([]byte(src)) {
		if t.kind != token.STRING || t.lit[0] != '`' {
			continue
		}
		first := strings.Count(src[:t.start], "\n")
		for n := range strings.Count(t.lit, "\n") {
			out[first+1+n] = true
		}
	}
	return out
}
