package work

import (
	"strings"

	"golang.org/x/text/collate"
	"golang.org/x/text/language"
)

// sameName says whether two names are the same for people, and for the database: letters but for their case, accents and width.
func sameName(a, b string) bool {
	return collate.New(language.Und, collate.Loose).CompareString(strings.TrimSpace(a), strings.TrimSpace(b)) == 0
}
