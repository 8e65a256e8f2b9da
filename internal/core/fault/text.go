package fault

import (
	"fmt"
	"strings"
	"unicode"
	"unicode/utf8"
)

// Required is the fault of a field that was left empty; the hint says what to do.
func Required(hint string) error { return New("", "required", "is empty", hint) }

// MaxNote is how long a note or a reason may be, in characters.
const MaxNote = 500

// Reason reads the reason that is given for a change of what was entered, and adds what is wrong with it as "reason".
func (l *List) Reason(text string) string {
	text = strings.TrimSpace(text)
	if text == "" {
		l.Add("reason", Required("Say why."))
	} else {
		l.Add("reason", Text(text, MaxNote, true))
	}
	return text
}

// Text says what is wrong with a text of one line: empty where one is required ("required"), longer than max characters
// ("too_long"), or holding what is not text or cannot be seen ("not_text"). A text of nothing but joiners and spaces
// counts as empty.
func Text(text string, max int, require bool) error {
	switch {
	case require && strings.Trim(text, "\u200c\u200d ") == "":
		return Required("Enter it.")
	case utf8.RuneCountInString(text) > max:
		return New("", "too_long", fmt.Sprintf("is longer than %d characters", max), "Shorten it.")
	case !utf8.ValidString(text) || strings.ContainsFunc(text, hidden):
		return New("", "not_text", "holds characters that are not text, or cannot be seen", "Type it again.")
	}
	return nil
}

// hidden says whether a character shows nothing of itself and may change what is around it: control characters,
// zero-width ones, marks of the direction of text. The zero-width joiners are let through: several scripts need them
// within a word.
func hidden(r rune) bool {
	const nonJoiner, joiner = 0x200c, 0x200d
	format := unicode.Is(unicode.Cf, r) && r != nonJoiner && r != joiner
	return unicode.IsControl(r) || format || r == 0x2028 || r == 0x2029
}

// maxQuoted is how much of an input an error repeats, in characters.
const maxQuoted = 40

// Quote gives an input in quotation marks for an error's text, shortened where it is long.
func Quote(text string) string { return "“" + Shorten(text) + "”" }

// Shorten gives at most the first 40 characters of a text, with an ellipsis where some are left out.
func Shorten(text string) string {
	if utf8.RuneCountInString(text) > maxQuoted {
		return string([]rune(text)[:maxQuoted]) + "…"
	}
	return text
}
