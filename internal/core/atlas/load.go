package atlas

import (
	"crypto/sha256"
	"embed"
	"encoding/hex"
	"errors"
	"fmt"
	"io/fs"
	"slices"
	"sort"
	"strings"
	"sync"

	"github.com/goccy/go-yaml"
)

//go:embed data/*.yaml data/carcass/*.yaml data/plans/*.yaml data/body/*.yaml data/names/*.yaml
var data embed.FS

// Load reads and validates the atlas that is built in.
func Load() (*Atlas, error) {
	sub, err := fs.Sub(data, "data")
	if err != nil {
		return nil, err
	}
	return LoadFS(sub)
}

// LoadWith reads the atlas that is built in and a folder of one's own: pieces of the folder are added, and stand in the
// place of those with the same id.
func LoadWith(own fs.FS) (*Atlas, error) {
	sub, err := fs.Sub(data, "data")
	if err != nil {
		return nil, err
	}
	return LoadFS(sub, own)
}

// LoadFS reads every *.yaml file of folders, in the order of their names; a piece of a later folder replaces one of an
// earlier. All faults found are joined in one error, a line each, headed by file, piece and key.
func LoadFS(folders ...fs.FS) (*Atlas, error) {
	a := &Atlas{byID: map[string]int{}}
	var faults []error
	from := map[string]int{} // piece → the folder that it comes from
	for i, fsys := range folders {
		ids, err := a.read(fsys, &faults)
		if err != nil {
			return nil, err
		}
		for _, id := range ids {
			from[id] = i
		}
	}
	for i, fsys := range folders {
		if len(faults) > 0 {
			break
		}
		// plans of a piece that a later folder replaces are of the piece that it replaces
		passed := func(piece string) bool { return from[piece] > i }
		if err := a.readBodies(fsys, passed, &faults); err != nil {
			return nil, err
		}
		a.slicePlans(passed, &faults)
		if err := a.readPlans(fsys, passed, &faults); err != nil {
			return nil, err
		}
	}
	if len(faults) == 0 {
		for _, fsys := range folders {
			if err := a.readCarcasses(fsys, &faults); err != nil {
				return nil, err
			}
		}
	}
	for _, fsys := range folders {
		if err := a.readNames(fsys, len(folders) == 1, &faults); err != nil {
			return nil, err
		}
	}
	if len(faults) == 0 {
		faults = a.checkEnds(from)
	}
	faults = append(faults, oneName(a.Pieces)...)
	faults = append(faults, a.checkOnward()...)
	err := errors.Join(faults...)
	if err != nil {
		return nil, err
	}
	carcasses := map[string]bool{}
	for _, c := range a.Carcasses {
		carcasses[c.ID] = true
	}
	a.names = index(a.everything(), carcasses)
	a.Print, err = printOf(folders)
	return a, err
}

// checkEnds says of which ends of muscles something is cut that takes nothing of that muscle, or is of another end too.
// From says which folder a piece comes from; one that stands in the place of another has lost that one's plans in
// steps.
func (a *Atlas) checkEnds(from map[string]int) (faults []error) {
	for _, p := range a.Pieces {
		for _, m := range p.Muscles {
			taken := map[string]bool{}
			for _, e := range m.Ends {
				for _, of := range e.Of {
					plan, product, _ := strings.Cut(of, "/")
					pl, found := p.Plan(plan)
					if !found && from[p.ID] > 0 {
						continue
					}
					if pr, ok := pl.Product(product); !ok || pr.From[m.ID] <= 0 || taken[of] {
						faults = append(faults, fmt.Errorf("%s: muscles.%s.ends.%s.of: “%s” is no product that takes of this muscle, "+
							"or is of two ends", p.ID, m.ID, e.ID, of))
					}
					taken[of] = true
				}
			}
		}
	}
	return faults
}

// printOf is the print of the files that an atlas is read from.
func printOf(folders []fs.FS) (string, error) {
	sum := sha256.New()
	for i, fsys := range folders {
		for _, kind := range []string{"*.yaml", "plans/*.yaml", "carcass/*.yaml", "body/*.yaml", "names/*.yaml"} {
			names, err := fs.Glob(fsys, kind)
			if err != nil {
				return "", err
			}
			sort.Strings(names)
			for _, name := range names {
				raw, err := fs.ReadFile(fsys, name)
				if err != nil {
					return "", err
				}
				fmt.Fprintf(sum, "%d %s %d\n", i, name, len(raw))
				sum.Write(raw)
			}
		}
	}
	return hex.EncodeToString(sum.Sum(nil)), nil
}

// decoded is what a file held.
type decoded[T any] struct {
	name string
	held T
	err  error
}

// decodeAll reads the files of a pattern, in the order of their names, and decodes them side by side.
func decodeAll[T any](fsys fs.FS, pattern string, decode func(name string, raw []byte) (T, error)) ([]decoded[T],
	error) {
	names, err := fs.Glob(fsys, pattern)
	if err != nil {
		return nil, err
	}
	sort.Strings(names)
	files := make([]decoded[T], len(names))
	var reading sync.WaitGroup
	for i, name := range names {
		raw, err := fs.ReadFile(fsys, name)
		if err != nil {
			return nil, err
		}
		files[i].name = name
		reading.Go(func() { files[i].held, files[i].err = decode(name, raw) })
	}
	reading.Wait()
	return files, nil
}

// read adds the pieces of one folder, and gives their ids; its files are decoded side by side.
func (a *Atlas) read(fsys fs.FS, faults *[]error) ([]string, error) {
	files, err := decodeAll(fsys, "*.yaml", Decode)
	if err != nil {
		return nil, err
	}
	here := map[string]bool{}
	var ids []string
	for _, f := range files {
		if f.err != nil {
			*faults = append(*faults, f.err)
			continue
		}
		for _, p := range f.held {
			if here[p.ID] {
				*faults = append(*faults, fmt.Errorf("%s: %s: id: stands twice in the atlas", f.name, p.ID))
			}
			here[p.ID] = true
			ids = append(ids, p.ID)
			if i, known := a.byID[p.ID]; known {
				a.Pieces[i] = p
				continue
			}
			a.byID[p.ID] = len(a.Pieces)
			a.Pieces = append(a.Pieces, p)
		}
	}
	if len(files) == 0 {
		*faults = append(*faults, errors.New("no *.yaml file in the atlas folder"))
	}
	return ids, nil
}

// slicePlans works out what the sliced products of plans of percentages are made of.
func (a *Atlas) slicePlans(passed func(piece string) bool, faults *[]error) {
	for _, p := range a.Pieces {
		if passed(p.ID) {
			continue
		}
		for k, pl := range p.Plans {
			sliced, err := p.bySlices(pl)
			if err != nil {
				*faults = append(*faults, fmt.Errorf("%s: plans.%s: %w", p.ID, pl.ID, err))
			}
			p.Plans[k] = sliced
		}
	}
}

// morePlans are plans of a piece in a file of their own, in the folder “plans” beside the pieces.
type morePlans struct {
	Piece string `yaml:"piece"`
	Plans []Plan `yaml:"plans"`
}

// readPlans adds the plans of a folder's “plans” to their pieces; those of some pieces are passed over.
func (a *Atlas) readPlans(fsys fs.FS, passed func(piece string) bool, faults *[]error) error {
	files, err := decodeAll(fsys, "plans/*.yaml", func(_ string, raw []byte) (more []morePlans, err error) {
		if err = unmarshal(raw, &more); err != nil {
			return nil, err
		}
		more = slices.DeleteFunc(more, func(m morePlans) bool { return passed(m.Piece) })
		return more, a.compileAll(more)
	})
	if err != nil {
		return err
	}
	for _, f := range files {
		if f.err != nil {
			*faults = append(*faults, fmt.Errorf("%s: %w", f.name, f.err))
			continue
		}
		for _, more := range f.held {
			p := &a.Pieces[a.byID[more.Piece]]
			for _, pl := range more.Plans {
				if _, twice := p.Plan(pl.ID); twice {
					*faults = append(*faults, fmt.Errorf("%s: %s: plans.%s: stands twice", f.name, p.ID, pl.ID))
				}
				p.Plans = append(p.Plans, pl)
			}
		}
	}
	return nil
}

// compileAll fills in what follows from the steps of plans, and checks them against their pieces.
func (a *Atlas) compileAll(list []morePlans) error {
	var faults []error
	for _, more := range list {
		at, ok := a.byID[more.Piece]
		if !ok {
			faults = append(faults, fmt.Errorf("“%s” is not a piece of the atlas", more.Piece))
			continue
		}
		p := a.Pieces[at]
		for k, pl := range more.Plans {
			more.Plans[k] = p.Compile(pl)
			for _, f := range ValidatePlan(p, more.Plans[k]) {
				faults = append(faults, fmt.Errorf("%s: plans.%s: %w", p.ID, pl.ID, f))
			}
		}
	}
	return errors.Join(faults...)
}

// oneName checks that a product's key means the same wherever it stands, for it has one price; and that no two keys of
// a species bear one name, for a price list names products.
func oneName(pieces []Piece) []error {
	var faults []error
	byKey, byName := map[string]Product{}, map[string]string{}
	check := func(p Piece, at string, products []Product) {
		for _, pr := range products {
			key := p.Key(pr)
			known, ok := byKey[key]
			if ok && (known.Name != pr.Name || known.Form != pr.Form) {
				faults = append(faults,
					fmt.Errorf("%s: %s.products.%s: is “%s” (%s) here and “%s” (%s) elsewhere", p.ID, at, pr.ID, pr.Name, pr.Form,
						known.Name, known.Form))
			}
			byKey[key] = pr
			name := p.Species + " " + strings.ToLower(pr.Name)
			if other, ok := byName[name]; ok && other != key {
				faults = append(faults, fmt.Errorf("%s: %s.products.%s: has the name of %s", p.ID, at, pr.ID, other))
			}
			byName[name] = key
		}
	}
	for _, p := range pieces {
		for _, pl := range p.Plans {
			check(p, "plans."+pl.ID, pl.All())
		}
		for _, o := range p.Options {
			for _, c := range o.Choices {
				check(p, "options."+o.ID+".choices."+c.ID, c.Products)
			}
		}
	}
	return faults
}

// checkOnward checks that what plans leave to be cut further is a piece of the same species.
func (a *Atlas) checkOnward() []error {
	var faults []error
	for _, p := range a.Pieces {
		for _, pl := range p.Plans {
			for _, pr := range pl.All() {
				i, ok := a.byID[pr.ID]
				if pr.Form == FormPiece && (!ok || a.Pieces[i].Species != p.Species || pr.ID == p.ID) {
					faults = append(faults, fmt.Errorf("%s: plans.%s.products.%s: is not another piece of this species", p.ID, pl.ID,
						pr.ID))
				}
				if pr.Again == nil {
					continue
				}
				at, ok := a.byID[pr.Again.Piece]
				if ok {
					_, ok = a.Pieces[at].Form(pr.Again.Form)
				}
				if !ok || a.Pieces[at].Species != p.Species {
					faults = append(faults,
						fmt.Errorf("%s: plans.%s.products.%s.again: is not a form of a piece of this species", p.ID,
							pl.ID, pr.ID))
				}
			}
		}
	}
	return faults
}

// Onward lists the pieces that some plan of another piece leaves to be cut further, and the pieces that leave them.
func (a *Atlas) Onward() (pieces, from []string) {
	for _, p := range a.Pieces {
		leaves := false
		for _, pl := range p.Plans {
			for _, pr := range pl.All() {
				if pr.Form == FormPiece {
					leaves = true
					if !slices.Contains(pieces, pr.ID) {
						pieces = append(pieces, pr.ID)
					}
				}
			}
		}
		if leaves {
			from = append(from, p.ID)
		}
	}
	return pieces, from
}

// Decode reads one file of the atlas and validates its pieces. Unknown keys are errors.
func Decode(file string, raw []byte) ([]Piece, error) {
	var pieces []Piece
	if err := unmarshal(raw, &pieces); err != nil {
		return nil, fmt.Errorf("%s: %w", file, err)
	}
	var faults []error
	for i, p := range pieces {
		for k, pl := range p.Plans {
			pieces[i].Plans[k] = p.Compile(pl)
		}
		for _, f := range Validate(pieces[i]) {
			faults = append(faults, fmt.Errorf("%s: %s: %w", file, p.ID, f))
		}
	}
	return pieces, errors.Join(faults...)
}

// unmarshal reads YAML strictly: unknown keys are errors, and so is what the library stumbles over.
func unmarshal(raw []byte, into any) (err error) {
	defer func() {
		if stumbled := recover(); stumbled != nil {
			err = errors.New("is not YAML that can be read")
		}
	}()
	if err := yaml.UnmarshalWithOptions(raw, into, yaml.Strict()); err != nil {
		return errors.New(strings.TrimSpace(yaml.FormatError(err, false, false)))
	}
	return nil
}
