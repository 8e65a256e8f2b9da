package api_test

import (
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"testing/fstest"

	"falda/internal/api"
)

const page = `<html lang="en" data-languages="FALDA_LANGUAGES"><script src="/assets/index-a.js" nonce="FALDA_NONCE">`

func built() fstest.MapFS {
	return fstest.MapFS{
		"index.html":    {Data: []byte(page)},
		"words/en.json": {Data: []byte(`{"Book it": "Book it", "{n} piece | {n} pieces": "{n} piece | {n} pieces"}`)},
	}
}

// Rule: a file in the folder of words is a language: the page names it, its address gives it, and the log says how much
// of the interface it says.
func TestAFileIsALanguage(t *testing.T) {
	own := fstest.MapFS{
		"de.json":    {Data: []byte(`{"Book it": "Buchen", "gone long ago": "lange weg"}`)},
		"pt-BR.json": {Data: []byte(`{}`)},
		"en.json":    {Data: []byte(`{"Book it": "not asked for"}`)},
	}
	var said []string
	words, err := api.ReadDictionaries(built(), own, func(s string) { said = append(said, s) })
	if err != nil {
		t.Fatal(err)
	}
	want := "de.json: 1 of 2 sentences, and 1 that the interface does not say; " +
		"pt-BR.json: 0 of 2 sentences, and 0 that the interface does not say"
	if got := strings.Join(said, "; "); got != want {
		t.Errorf("said %q, not %q", got, want)
	}
	h := api.Handler(api.Options{Web: built(), Words: words})
	get := func(path, tag string) *httptest.ResponseRecorder {
		r := httptest.NewRequest(http.MethodGet, path, nil)
		r.Header.Set("If-None-Match", tag)
		w := httptest.NewRecorder()
		h.ServeHTTP(w, r)
		return w
	}
	if got := get("/", "").Body.String(); !strings.Contains(got, `data-languages="de pt-BR"`) {
		t.Errorf("the page is %s", got)
	}
	first := get("/words/de.json", "")
	if first.Code != http.StatusOK || !strings.Contains(first.Body.String(), "Buchen") {
		t.Errorf("de.json: %d %s", first.Code, first.Body)
	}
	if again := get("/words/de.json", first.Header().Get("ETag")); again.Code != http.StatusNotModified {
		t.Errorf("de.json again: %d", again.Code)
	}
	if english := get("/words/en.json", "").Body.String(); !strings.Contains(english, `"Book it": "Book it"`) {
		t.Errorf("en.json, which other languages are made from, is %s", english)
	}
	if none := get("/words/fr.json", ""); none.Code != http.StatusNotFound {
		t.Errorf("fr.json, which is not there: %d", none.Code)
	}
}

// Rule: a file that cannot be used stops the start, and is named.
func TestAFileThatIsNoLanguage(t *testing.T) {
	for _, f := range [][2]string{{"German.json", `{}`}, {"de.json", `["Buchen"]`}, {"da.json", `{"a": 1}`},
		{"fr.json", `{"a": `}} {
		name := f[0]
		own := fstest.MapFS{name: {Data: []byte(f[1])}}
		if _, err := api.ReadDictionaries(built(), own, nil); err == nil || !strings.Contains(err.Error(), name) {
			t.Errorf("%s: %v", name, err)
		}
	}
}
