package atlas

import (
	"fmt"
	"io/fs"
)

// counterName is what is known of a product over the counter.
type counterName struct {
	Key   string              `yaml:"key"`   // of the product: "beef.stew"
	Names map[string][]string `yaml:"names"` // what it is called there, by market
	Lines []string            `yaml:"lines"` // what a cook should know of it
}

// readNames adds what products are called at counters, from the files of the folder “names”. A name of what is no
// product is a fault where it is strict; else the piece that made it may have been replaced.
func (a *Atlas) readNames(fsys fs.FS, strict bool, faults *[]error) error {
	files, err := decodeAll(fsys, "names/*.yaml", func(_ string, raw []byte) (list []counterName, err error) {
		err = unmarshal(raw, &list)
		return list, err
	})
	if err != nil {
		return err
	}
	names, lines := map[string]map[string][]string{}, map[string][]string{}
	for _, f := range files {
		if f.err != nil {
			*faults = append(*faults, fmt.Errorf("%s: %w", f.name, f.err))
		}
		for _, c := range f.held {
			if (names[c.Key] != nil && c.Names != nil) || (lines[c.Key] != nil && c.Lines != nil) {
				*faults = append(*faults, fmt.Errorf("%s: %s: stands twice", f.name, c.Key))
			}
			if c.Names != nil {
				names[c.Key] = c.Names
			}
			if c.Lines != nil {
				lines[c.Key] = c.Lines
			}
		}
	}
	used := map[string]bool{}
	for _, p := range a.Pieces {
		give := func(list []Product) {
			for i := range list {
				key := p.Key(list[i])
				list[i].Names, list[i].Lines, used[key] = names[key], lines[key], true
			}
		}
		for _, pl := range p.Plans {
			give(pl.Products)
			give(pl.Declared)
		}
		for _, o := range p.Options {
			for _, c := range o.Choices {
				give(c.Products)
			}
		}
	}
	for _, key := range append(sortedKeys(names), sortedKeys(lines)...) {
		if strict && !used[key] {
			*faults = append(*faults, fmt.Errorf("names: %s: is no product of the atlas", key))
		}
	}
	return nil
}
