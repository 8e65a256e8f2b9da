package tabular

import "strings"

// Heading is where the columns of a table stand, by their names in small letters.
type Heading map[string]int

// HeadingOf reads the first row of a table.
func HeadingOf(row []string) Heading {
	at := Heading{}
	for i, name := range row {
		at[strings.ToLower(strings.TrimSpace(name))] = i
	}
	return at
}

// Has says whether there is such a column.
func (h Heading) Has(column string) bool { _, ok := h[column]; return ok }

// Of gives the cells of a row by their column; one that the row lacks is empty. An apostrophe that keeps a sheet from
// computing is left out.
func (h Heading) Of(row []string) func(column string) string {
	return func(column string) string {
		if c, ok := h[column]; ok && c < len(row) {
			return strings.TrimPrefix(strings.TrimSpace(row[c]), "'")
		}
		return ""
	}
}
