// Package page writes and reads the marks at which long lists go on: a few whole numbers in a text that says nothing to
// whoever sends it back.
package page

import (
	"strconv"
	"strings"

	"falda/internal/core/fault"
)

// Mark writes a mark.
func Mark(parts ...int64) string {
	texts := make([]string, len(parts))
	for i, p := range parts {
		texts[i] = strconv.FormatInt(p, 10)
	}
	return strings.Join(texts, ".")
}

// Read reads a mark of so many numbers, each from 0; the empty text is the beginning of a list and gives nil. The fault
// is "not_a_mark" of the field "after".
func Read(text string, parts int) ([]int64, error) {
	if text == "" {
		return nil, nil
	}
	texts := strings.Split(text, ".")
	out := make([]int64, len(texts))
	for i, t := range texts {
		n, err := strconv.ParseInt(t, 10, 64)
		if err != nil || n < 0 || len(texts) != parts {
			return nil, fault.New("after", "not_a_mark", "is not a mark of this list",
				"Send what the page before gave as next, or leave it out.")
		}
		out[i] = n
	}
	return out, nil
}
