// Package fault says what is wrong with an input: which field, what about it, and the way out.
//
// Every rule of the core that turns an input down answers with a Fault or with Faults, so that a screen can put the
// message beside the field and a script can act on the code. The package knows nothing of HTTP.
package fault

import (
	"errors"
	"fmt"
	"strings"
)

// Kind says what sort of refusal a fault is.
type Kind string

// The kinds.
const (
	Invalid     Kind = ""            // what was sent cannot be right, whatever the state of things
	Conflict    Kind = "conflict"    // it does not fit how things stand
	NotFound    Kind = "not_found"   // what it is about is not there
	Unavailable Kind = "unavailable" // it cannot be done just now
)

// Fault is one thing wrong with one field.
type Fault struct {
	Kind    Kind
	Field   string // name of the field as the caller sent it; empty when the whole input is meant
	Code    string // short and stable, for programs: "required", "too_large", "gain" …
	Message string // what is wrong, in plain words
	Hint    string // what to do about it; may be empty
}

// Error gives the message, headed by the field.
func (f Fault) Error() string {
	if f.Field == "" {
		return f.Message
	}
	return f.Field + ": " + f.Message
}

// New makes a fault of one field.
func New(field, code, message, hint string) Fault {
	return Fault{Field: field, Code: code, Message: message, Hint: hint}
}

// NewConflict makes a fault of kind Conflict: what is asked for would be right, and does not fit how things stand.
func NewConflict(field, code, message, hint string) Fault {
	return Fault{Kind: Conflict, Field: field, Code: code, Message: message, Hint: hint}
}

// NewUnavailable makes a fault of kind Unavailable: it can be done in a moment.
func NewUnavailable(message, hint string) Fault {
	return Fault{Kind: Unavailable, Code: "busy", Message: message, Hint: hint}
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

// Add appends err to the list: a Fault or a List as it is, with the field given where it has none. A nil error adds
// nothing. It panics on any other error: what no field is to blame for must not be put down to one.
func (l *List) Add(field string, err error) {
	if err == nil {
		return
	}
	found := Of(err)
	if found == nil {
		panic(fmt.Sprintf("not a fault of %q: %v", field, err))
	}
	for _, f := range found {
		if f.Field == "" {
			f.Field = field
		}
		*l = append(*l, f)
	}
}

// Under puts what is wrong with a part of something below the part's field: "weight" of a lamb becomes "lamb.weight".
// An error that is no fault stays as it is.
func Under(field string, err error) error {
	found := Of(err)
	if found == nil {
		return err
	}
	out := make(List, len(found))
	for i, f := range found {
		f.Field = strings.TrimSuffix(field+"."+f.Field, ".")
		out[i] = f
	}
	return out.Err()
}

// Kind is the kind of the whole list: invalid where any fault is, for then sending it again is of no use; else the
// first's.
func (l List) Kind() Kind {
	for _, f := range l {
		if f.Kind == Invalid {
			return Invalid
		}
	}
	if len(l) == 0 {
		return Invalid
	}
	return l[0].Kind
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
