package browser

import (
	"encoding/json"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"
)

// Rule: a second language is a file. One is made here from the list of all sentences, each in brackets, and chosen;
// then on every page what the interface says stands in brackets: nothing that the list has is left in English, no value
// is lost, and each number takes its noun by the rules of that language.
func TestASecondLanguageIsAFile(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	english := bracketed(t, filepath.Join(dir, "pl.json"))
	a := start(t, t.TempDir(), "127.0.0.1:0", "--words", dir)
	b, _ := open(t, "")
	s := a.show(b, "/", 1280, 800)
	s.touch("Owner")
	s.picks("[data-test=language] .p-select", "pl")
	s.until("the page speaks it", "document.documentElement.lang === 'pl' && document.querySelector('h1') && "+
		"document.body.innerText.includes('⟦')")
	paths := a.everyRoute()
	names := make([]string, 0, len(paths))
	for name := range paths {
		names = append(names, name)
	}
	slices.Sort(names)
	forms := map[string]int{}
	for _, name := range names {
		s.MustNavigate(a.url + paths[name])
		s.until(name+" is there", "document.querySelector('h1, h2') && !document.body.innerText.includes('⟦Loading')")
		said := s.wordsOfThePage()
		if len(said) < 3 {
			t.Errorf("%s says %q", name, said)
		}
		for _, w := range said {
			if english[w] {
				t.Errorf("%s still says %q in English", name, w)
			}
			if strings.Contains(w, "{0}") || strings.Contains(w, "undefined") {
				t.Errorf("%s lost a value: %q", name, w)
			}
			countForms(t, w, forms)
		}
	}
	if forms["one"] == 0 || forms["few"] == 0 || forms["many"] == 0 {
		t.Errorf("of one, few and many the pages said %v", forms)
	}
}

// bracketed writes the dictionary, and gives the sentences of more than one word that have no value in them. What the
// program itself says too, in its English, tells nothing and is left out.
func bracketed(t *testing.T, path string) map[string]bool {
	t.Helper()
	raw, err := os.ReadFile(filepath.Join("..", "..", "web", "public", "words", "en.json"))
	if err != nil {
		t.Fatal(err)
	}
	var all map[string]string
	if err := json.Unmarshal(raw, &all); err != nil {
		t.Fatal(err)
	}
	program := programWords(t)
	english, out := map[string]bool{}, map[string]string{}
	for key, words := range all {
		if one, _, ok := strings.Cut(words, " | "); ok && strings.HasPrefix(key, "{n} ") {
			noun := strings.TrimPrefix(one, "{n} ")
			out[key] = fmt.Sprintf("⟦one:{n} %s⟧ | ⟦few:{n} %s⟧ | ⟦many:{n} %s⟧", noun, noun, noun)
			continue
		}
		out[key] = "⟦" + words + "⟧"
		if strings.Contains(strings.TrimSpace(key), " ") && !strings.Contains(key, "{") && !strings.Contains(program, key) {
			english[key] = true
		}
	}
	if raw, err = json.Marshal(out); err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(path, raw, 0o600); err != nil {
		t.Fatal(err)
	}
	return english
}

// programWords is the code and the atlas of the program, whose sentences come to the page as they are.
func programWords(t *testing.T) string {
	t.Helper()
	var all strings.Builder
	err := filepath.WalkDir(filepath.Join("..", "..", "internal"), func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || strings.HasSuffix(path, "_test.go") {
			return err
		}
		raw, err := os.ReadFile(path)
		all.Write(raw)
		return err
	})
	if err != nil {
		t.Fatal(err)
	}
	return all.String()
}

// wordsOfThePage are the texts of the page, and what its controls are called.
func (s *screen) wordsOfThePage() []string {
	s.t.Helper()
	got := s.eval(`(() => {
		const out = [], walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT)
		while (walker.nextNode()) out.push(walker.currentNode.data)
		for (const e of document.querySelectorAll('[aria-label], [placeholder], [title]'))
			out.push(...['aria-label', 'placeholder', 'title'].map(n => e.getAttribute(n) ?? ''))
		return JSON.stringify(out.map(w => w.replace(/\s+/g, ' ').trim()).filter(Boolean))
	})()`)
	var words []string
	if err := json.Unmarshal([]byte(got), &words); err != nil {
		s.t.Fatal(err)
	}
	return words
}

var counted = regexp.MustCompile(`⟦(one|few|many):([0-9]+)`)

// countForms checks the form that each number took. Source: Unicode CLDR, plural rules, Polish, whole numbers (from
// memory): one for 1; few for 2 to 4 at the end but not 12 to 14; many for the others.
func countForms(t *testing.T, words string, forms map[string]int) {
	t.Helper()
	for _, m := range counted.FindAllStringSubmatch(words, -1) {
		n, err := strconv.Atoi(m[2])
		if err != nil {
			t.Fatal(err)
		}
		want := "many"
		if n == 1 {
			want = "one"
		} else if n%10 >= 2 && n%10 <= 4 && (n%100 < 12 || n%100 > 14) {
			want = "few"
		}
		if m[1] != want {
			t.Errorf("%q: %d takes %s, not %s", words, n, want, m[1])
		}
		forms[want]++
	}
}
