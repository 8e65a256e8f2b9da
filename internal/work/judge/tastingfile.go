package judge

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"falda/internal/core/eating"
	"falda/internal/core/fault"
	"falda/internal/store"
	"falda/internal/tabular"
)

// SheetColumns head the sheets of a tasting as a file. A file that comes in needs the eater and the code.
var SheetColumns = []string{"assessor", "place", "code", "tenderness", "juiciness", "flavour", "overall", "muscle",
	"method", "piece"}

// SheetFile gives the sheets of a tasting, filled or not, eater by eater in the order of tasting: to be typed into
// elsewhere and sent back.
func (v TastingView) SheetFile() [][]string {
	text := func(f *float64) string {
		if f == nil {
			return ""
		}
		return strconv.FormatFloat(*f, 'f', -1, 64)
	}
	var out [][]string
	for _, e := range v.Assessors {
		for place, n := range e.Orders {
			if n < 1 || n > len(v.Samples) {
				continue
			}
			p := v.Samples[n-1]
			row := []string{strconv.Itoa(e.Number), strconv.Itoa(place + 1), p.Code, "", "", "", "", p.Muscle.Name, p.MethodName,
				p.Piece.Name}
			if i := slices.IndexFunc(v.Sheets,
				func(h store.TastingSheet) bool { return h.SampleID == p.ID && h.Assessor == e.Number }); i >= 0 {
				h := v.Sheets[i]
				row[3], row[4], row[5], row[6] = text(h.Tenderness), text(h.Juiciness), text(h.Flavour), text(h.Overall)
			}
			out = append(out, row)
		}
	}
	return out
}

// ImportSheets reads sheets from a file, its heading first; lines without any mark are passed over. All good lines are
// written, or none where one is bad.
func (s *Service) ImportSheets(ctx context.Context, id string, rows [][]string) (TastingView, int, error) {
	if len(rows) == 0 {
		return TastingView{}, 0,
			fault.New("file", "empty", "has no lines", "Export the sheets, fill them in and send them back.")
	}
	at := tabular.HeadingOf(rows[0])
	if (!at.Has("assessor") && !at.Has("eater")) || !at.Has("code") {
		return TastingView{}, 0,
			fault.New("file", "no_heading", "does not begin with a heading that names the columns",
				"The first line must hold assessor, code, tenderness, juiciness, flavour and overall.")
	}
	var faults fault.List
	var sheets []Sheet
	for i, row := range rows[1:] {
		cell := at.Of(row)
		field := func(name string) string { return fmt.Sprintf("line %d, %s", i+2, name) }
		mark := func(name string) *float64 {
			text := strings.Replace(cell(name), ",", ".", 1)
			if text == "" {
				return nil
			}
			n, err := strconv.ParseFloat(text, 64)
			if err != nil || !(n >= 0 && n <= 100) {
				faults.Add(field(name),
					fault.New("", "out_of_range", "must be from 0 to 100, or empty", "Read the mark off the line anew."))
				return nil
			}
			return &n
		}
		h := Sheet{Code: cell("code"),
			Ratings: eating.Ratings{Tenderness: mark("tenderness"), Juiciness: mark("juiciness"), Flavour: mark("flavour"),
				Overall: mark("overall")}}
		if h.Ratings == (eating.Ratings{}) {
			continue
		}
		n, err := strconv.Atoi(cmp.Or(cell("assessor"), cell("eater"))) // the column had another name once
		if err != nil {
			faults.Add(field("assessor"), fault.New("", "not_a_number", "is not an eater's number", ""))
		}
		h.Assessor = n
		sheets = append(sheets, h)
	}
	if err := faults.Err(); err != nil {
		return TastingView{}, 0, err
	}
	if len(sheets) == 0 {
		return TastingView{}, 0, fault.New("file", "empty", "holds no marks", "Fill in at least one sheet.")
	}
	v, err := s.Enter(ctx, id, sheets, "file")
	return v, len(sheets), err
}
