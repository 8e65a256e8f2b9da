package work

import (
	"fmt"
	"strings"
	"unicode"
	"unicode/utf8"

	"golang.org/x/text/collate"
	"golang.org/x/text/language"

	"falda/internal/core/fault"
)

// sameName says whether two names are the same for people, and for the database: letters but for their case, accents and width.
func sameName(a, b string) bool {
	return collate.New(language.Und, collate.Loose).CompareString(strings.TrimSpace(a), strings.TrimSpace(b)) == 0
}

// hidden says whether a character shows nothing of itself and may change what is around it: control characters, zero-width ones, marks of
// the direction of text. The zero-width joiners are let through, for several scripts need them within a word.
func hidden(r rune) bool {
	const nonJoiner, joiner = 0x200c, 0x200d
	return unicode.IsControl(r) || (unicode.Is(unicode.Cf, r) && r != nonJoiner && r != joiner) || r == 0x2028 || r == 0x2029
}

// plainText says what is wrong with a name: its length in characters, and whether it is text that can be seen.
func plainText(text string, most int, need bool) error {
	switch {
	case need && strings.Trim(text, "\u200c\u200d ") == "":
		return required("Enter it.")
	case utf8.RuneCountInString(text) > most:
		return fault.New("", "too_long", fmt.Sprintf("is longer than %d characters", most), "Shorten it.")
	case !utf8.ValidString(text) || strings.ContainsFunc(text, hidden):
		return fault.New("", "not_text", "holds characters that are not text, or cannot be seen", "Type it again.")
	}
	return nil
}
