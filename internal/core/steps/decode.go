package steps

import "fmt"

// The shapes below are those of a file: the shorter way to write a thing that the grammar allows. What the program
// writes itself is always the long one.

// UnmarshalYAML reads one name or a list of names.
func (n *Names) UnmarshalYAML(read func(any) error) error {
	var one string
	if read(&one) == nil {
		*n = Names{one}
		return nil
	}
	return read((*[]string)(n))
}

// UnmarshalYAML reads parts with their percentages, or a list of parts that leave whole.
func (s *Shares) UnmarshalYAML(read func(any) error) error {
	var list []string
	if read(&list) == nil {
		*s = Shares{}
		for _, part := range list {
			if _, twice := (*s)[part]; twice {
				return fmt.Errorf("%s stands twice among the parts", part)
			}
			(*s)[part] = 100
		}
		return nil
	}
	return read((*map[string]float64)(s))
}

// UnmarshalYAML reads one block or a list of blocks.
func (b *Blocks) UnmarshalYAML(read func(any) error) error {
	var list []Block
	if read(&list) == nil {
		*b = list
		return nil
	}
	var one Block
	if err := read(&one); err != nil {
		return err
	}
	*b = Blocks{one}
	return nil
}

// UnmarshalYAML reads a number or a range.
func (r *Range) UnmarshalYAML(read func(any) error) error {
	var one float64
	if read(&one) == nil {
		*r = Range{one, one}
		return nil
	}
	type long Range
	return read((*long)(r))
}

// UnmarshalYAML reads a number of minutes, or the long form.
func (m *Minutes) UnmarshalYAML(read func(any) error) error {
	var one float64
	if read(&one) == nil {
		*m = Minutes{Base: one}
		return nil
	}
	type long Minutes
	return read((*long)(m))
}
