package backup

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"testing"
)

// whole is a backup's lines with a heading and an end that fit.
func whole(body string) []byte {
	head := fmt.Sprintf(`{"format":%d,"schema":1,"at":"2026-03-20T12:00:00Z"}`+"\n", format)
	sum := sha256.Sum256([]byte(head + body))
	return []byte(head + body + fmt.Sprintf(`{"end":true,"rows":{},"sha256":%q}`+"\n", hex.EncodeToString(sum[:])))
}

// Rules: what is no backup is refused without a panic; what is read passes names of tables and columns that are names
// and nothing else, and rows as wide as their table.
func FuzzReadBackup(f *testing.F) {
	f.Add(whole(""))
	f.Add(whole(`{"table":"lots","columns":["id","note"]}` + "\n" + `["1",null]` + "\n" + `["2","x"]` + "\n"))
	f.Add(whole(`{"table":"lots; DROP TABLE lots","columns":["id"]}` + "\n"))
	f.Add(whole(`["a row of no table"]` + "\n"))
	f.Add([]byte(`{"format":1}`))
	f.Add([]byte("\n"))
	f.Fuzz(func(t *testing.T, raw []byte) {
		width := -1
		_, tail, err := readLines(bytes.NewReader(raw), func(name string, columns []string) error {
			for _, n := range append([]string{name}, columns...) {
				if n == "" || strings.ContainsAny(n, "` ;'\"\\.-") {
					t.Errorf("%q is taken for a name", n)
				}
			}
			width = len(columns)
			return nil
		}, func(cells []*string) error {
			if len(cells) != width {
				t.Errorf("%d cells in a table of %d columns", len(cells), width)
			}
			return nil
		})
		switch {
		case err == nil && !tail.End:
			t.Error("a file without an end is read")
		case err != nil && !errors.Is(err, ErrDamaged) && !strings.Contains(err.Error(), "format"):
			t.Errorf("refused for another reason: %v", err)
		case err == nil && !json.Valid([]byte(tail.SHA256)) && len(tail.SHA256) != 64:
			t.Errorf("checksum %q", tail.SHA256)
		}
	})
}
