package work

import "strings"

// heading is where the columns of a table stand, by their names in small letters.
type heading map[string]int

func headingOf(row []string) heading {
	at := heading{}
	for i, name := range row {
		at[strings.ToLower(strings.TrimSpace(name))] = i
	}
	return at
}

// has says whether there is such a column.
func (h heading) has(column string) bool { _, ok := h[column]; return ok }

// of gives the cells of a row by their column; one that the row lacks is empty. An apostrophe that keeps a sheet from computing is left out.
func (h heading) of(row []string) func(column string) string {
	return func(column string) string {
		if c, ok := h[column]; ok && c < len(row) {
			return strings.TrimPrefix(strings.TrimSpace(row[c]), "'")
		}
		return ""
	}
}
