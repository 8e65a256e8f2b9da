// Package words holds what sentences for people are made of: numbers with their words in the singular or plural, names
// cut to what fits a sentence, capitals. It knows nothing of the job.
package words

import (
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"

	"golang.org/x/text/collate"
	"golang.org/x/text/language"
)

// Count is a number with its word, in the singular for one: "1 piece", "3 pieces".
func Count(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return strconv.Itoa(n) + " " + many
}

// Short is a name up to its first bracket: "Eye of round (semitendinosus)" is "Eye of round".
func Short(name string) string {
	short, _, _ := strings.Cut(name, " (")
	return short
}

// Plain is a name without what is explained in brackets and without how the thing was trimmed: what comes behind a
// comma.
func Plain(name string) string {
	plain, _, _ := strings.Cut(Short(name), ",")
	return plain
}

// Capitalised gives a text with its first letter as a capital.
func Capitalised(s string) string { return withFirst(s, unicode.ToUpper) }

// Uncapitalised gives a text with its first letter small, as in the middle of a sentence.
func Uncapitalised(s string) string { return withFirst(s, unicode.ToLower) }

func withFirst(s string, as func(rune) rune) string {
	r, size := utf8.DecodeRuneInString(s)
	if size == 0 {
		return s
	}
	return string(as(r)) + s[size:]
}

// FromID makes words of an id: “herb_mix” is “Herb mix”.
func FromID(id string) string { return Capitalised(strings.ReplaceAll(id, "_", " ")) }

// Truncate gives at most the first max characters of a text, as a column of that width holds it.
func Truncate(s string, max int) string {
	if r := []rune(s); len(r) > max {
		return string(r[:max])
	}
	return s
}

// SameName says whether two names are the same for people, and for the database: letters but for their case, accents
// and width.
func SameName(a, b string) bool {
	return collate.New(language.Und, collate.Loose).CompareString(strings.TrimSpace(a), strings.TrimSpace(b)) == 0
}

// LongDay is how days are written in sentences, as a layout of package time.
const LongDay = "2 January 2006"
