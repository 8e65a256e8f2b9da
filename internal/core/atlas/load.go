package atlas

import (
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"sort"
	"strings"

	"github.com/goccy/go-yaml"
)

//go:embed data/*.yaml
var data embed.FS

// Load reads and validates the atlas that is built in.
func Load() (*Atlas, error) {
	sub, err := fs.Sub(data, "data")
	if err != nil {
		return nil, err
	}
	return LoadFS(sub)
}

// LoadFS reads every *.yaml file of a folder, in the order of their names. All faults found are joined in one error, a
// line each, headed by file, piece and key.
func LoadFS(fsys fs.FS) (*Atlas, error) {
	names, err := fs.Glob(fsys, "*.yaml")
	if err != nil {
		return nil, err
	}
	sort.Strings(names)
	a := &Atlas{byID: map[string]int{}}
	var faults []error
	for _, name := range names {
		raw, err := fs.ReadFile(fsys, name)
		if err != nil {
			return nil, err
		}
		pieces, err := Decode(name, raw)
		if err != nil {
			faults = append(faults, err)
			continue
		}
		for _, p := range pieces {
			if _, twice := a.byID[p.ID]; twice {
				faults = append(faults, fmt.Errorf("%s: %s: id: stands twice in the atlas", name, p.ID))
			}
			a.byID[p.ID] = len(a.Pieces)
			a.Pieces = append(a.Pieces, p)
		}
	}
	if len(names) == 0 {
		faults = append(faults, errors.New("no *.yaml file in the atlas folder"))
	}
	if err := errors.Join(faults...); err != nil {
		return nil, err
	}
	return a, nil
}

// Decode reads one file of the atlas and validates its pieces. Unknown keys are errors.
func Decode(file string, raw []byte) ([]Piece, error) {
	var pieces []Piece
	if err := yaml.UnmarshalWithOptions(raw, &pieces, yaml.Strict()); err != nil {
		return nil, fmt.Errorf("%s: %s", file, strings.TrimSpace(yaml.FormatError(err, false, false)))
	}
	var faults []error
	for _, p := range pieces {
		for _, f := range Validate(p) {
			faults = append(faults, fmt.Errorf("%s: %s: %w", file, p.ID, f))
		}
	}
	return pieces, errors.Join(faults...)
}
