package atlas

import (
	"fmt"
	"io/fs"
)

// counterName is what a product is called at counters, by market.
type counterName struct {
	Key   string              `yaml:"key"` // of the product: "beef.stew"
	Names map[string][]string `yaml:"names"`
}

// readNames adds what products are called at counters, from the files of the folder “names”.
func (a *Atlas) readNames(fsys fs.FS, faults *[]error) error {
	files, err := decodeAll(fsys, "names/*.yaml", func(_ string, raw []byte) (list []counterName, err error) {
		err = unmarshal(raw, &list)
		return list, err
	})
	if err != nil {
		return err
	}
	names := map[string]map[string][]string{}
	for _, f := range files {
		if f.err != nil {
			*faults = append(*faults, fmt.Errorf("%s: %w", f.name, f.err))
		}
		for _, c := range f.held {
			if names[c.Key] != nil || len(c.Names) == 0 {
				*faults = append(*faults, fmt.Errorf("%s: %s: stands twice, or has no name", f.name, c.Key))
			}
			names[c.Key] = c.Names
		}
	}
	used := map[string]bool{}
	for _, p := range a.Pieces {
		give := func(list []Product) {
			for i := range list {
				if n := names[p.Key(list[i])]; n != nil {
					list[i].Names, used[p.Key(list[i])] = n, true
				}
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
	for _, key := range sortedKeys(names) {
		if !used[key] {
			*faults = append(*faults, fmt.Errorf("names: %s: is no product of the atlas", key))
		}
	}
	return nil
}
