// Package fault says what is wrong with an input: which field, what about it, and the way out.
//
// Every rule of the core that turns an input down answers with a Fault or with Faults, so that a screen can put the
// message beside the field and a script can act on the code. The package knows nothing of HTTP.
package fault

import (
	"errors"
	"strings"
)

// Fault is one thing wrong with one field.
type Fault struct {
	Field   string // name of the field as the caller sent it; empty when the whole input is meant
	Code    string // short and stable, for programs: "required", "too_large", "gain" …
	Message string // what is wrong, in plain words
	WayOut  string // what to do about it; may be empty
}

// Error gives the message, headed by the field.
func (f Fault) Error() string {
	if f.Field == "" {
		return f.Message
	}
	return f.Field + ": " + f.Message
}

// New makes a fault of one field.
func New(field, code, message, wayOut string) Fault {
	return Fault{Field: field, Code: code, Message: message, WayOut: wayOut}
}

// List collects faults, so that a form learns all of them at once.
type List []Fault

// Error joins the faults, one after another.
func (l List) Error() string {
	parts := make([]string, len(l))
	for i, f := range l {
		parts[i] = f.Error()
	}
	return strings.Join(parts, "; ")
}

// Add appends err to the list: a Fault or a List as it is, with the field given where it has none, any other error as
// a fault of that field. A nil error adds nothing.
func (l *List) Add(field string, err error) {
	if err == nil {
		return
	}
	found := Of(err)
	if found == nil {
		found = List{{Code: "invalid", Message: err.Error()}}
	}
	for _, f := range found {
		if f.Field == "" {
			f.Field = field
		}
		*l = append(*l, f)
	}
}

// Err is the list as an error, nil when it is empty.
func (l List) Err() error {
	if len(l) == 0 {
		return nil
	}
	return l
}

// Of finds the faults in err, through wrapping; nil when there are none.
func Of(err error) List {
	var list List
	if errors.As(err, &list) {
		return list
	}
	var one Fault
	if errors.As(err, &one) {
		return List{one}
	}
	return nil
}
