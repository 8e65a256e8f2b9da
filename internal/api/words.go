package api

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"io/fs"
	"net/http"
	"path"
	"regexp"
	"slices"
	"strings"
	"time"

	"github.com/labstack/echo/v5"
)

// languagesMark stands in the built page for the languages there are files for (web/index.html).
const languagesMark = "FALDA_LANGUAGES"

// dictionaryName is what a file of another language is called: its tag, as BCP 47 writes it, such as de.json or
// pt-BR.json.
var dictionaryName = regexp.MustCompile(`^([a-z]{2,3}(?:-[A-Za-z0-9]{2,8})*)\.json$`)

// Dictionaries are the languages of the interface besides English: of the program, and of a folder of the house's own.
type Dictionaries struct {
	files map[string][]byte
	tags  []string
}

// ReadDictionaries reads the files of other languages from the words folder of the built app and from a folder of
// one's own, whose files come first; either may be nil. A file whose name is no language, or which is not an object of
// sentences, is an error that names it. Said tells of each own file how much of the interface it says.
func ReadDictionaries(web, own fs.FS, said func(string)) (*Dictionaries, error) {
	d := &Dictionaries{files: map[string][]byte{}}
	english, err := d.english(web)
	if err != nil || own == nil {
		return d, err
	}
	names, err := fs.Glob(own, "*.json")
	if err != nil {
		return nil, err
	}
	for _, name := range names {
		if name == "en.json" {
			continue // the list of sentences that the files are made from may lie beside them
		}
		words, err := d.read(own, name)
		if err != nil {
			return nil, err
		}
		missing := 0
		for key := range english {
			if words[key] == "" {
				missing++
			}
		}
		unknown := 0
		for key := range words {
			if _, ok := english[key]; !ok {
				unknown++
			}
		}
		said(fmt.Sprintf("%s: %d of %d sentences, and %d that the interface does not say", name,
			len(english)-missing, len(english), unknown))
	}
	return d, nil
}

// english reads what the app was built with, and gives the English sentences.
func (d *Dictionaries) english(web fs.FS) (map[string]string, error) {
	if web == nil {
		return nil, nil
	}
	names, err := fs.Glob(web, "words/*.json")
	if err != nil {
		return nil, err
	}
	var english map[string]string
	for _, name := range names {
		words, err := d.read(web, name)
		if err != nil {
			return nil, err
		}
		if path.Base(name) == "en.json" {
			english = words
		}
	}
	return english, nil
}

// read keeps one file and gives what is in it.
func (d *Dictionaries) read(from fs.FS, name string) (map[string]string, error) {
	tag := dictionaryName.FindStringSubmatch(path.Base(name))
	if tag == nil {
		return nil, fmt.Errorf("%s: a file of words is called by its language, such as de.json or pt-BR.json", name)
	}
	raw, err := fs.ReadFile(from, name)
	if err != nil {
		return nil, err
	}
	var words map[string]string
	if err := json.Unmarshal(raw, &words); err != nil {
		return nil, fmt.Errorf("%s: not one object of sentences and what they are in this language: %w", name, err)
	}
	if !slices.Contains(d.tags, tag[1]) && tag[1] != "en" {
		d.tags = append(d.tags, tag[1])
		slices.Sort(d.tags)
	}
	d.files[path.Base(name)] = raw
	return words, nil
}

// serve answers with one file; a browser asks each time whether it is still the same.
func (d *Dictionaries) serve(c *echo.Context) error {
	name := c.Param("file")
	raw, ok := d.files[name]
	if !ok {
		return echo.ErrNotFound
	}
	sum := sha256.Sum256(raw)
	h := c.Response().Header()
	h.Set("Cache-Control", "no-cache")
	h.Set("ETag", `"`+hex.EncodeToString(sum[:12])+`"`)
	http.ServeContent(c.Response(), c.Request(), name, time.Time{}, bytes.NewReader(raw))
	return nil
}

// marked puts the languages into the page.
func (d *Dictionaries) marked(page []byte) []byte {
	return bytes.ReplaceAll(page, []byte(languagesMark), []byte(strings.Join(d.tags, " ")))
}
