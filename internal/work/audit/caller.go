package audit

import (
	"context"
	"errors"
	"time"

	"falda/internal/core/words"
)

// How a caller came in.
const (
	ViaPassword = "password"
	ViaPin      = "pin"
	ViaDemo     = "demo"
	ViaToken    = "token"
	ViaProgram  = "program" // the program itself: the demo's scenario, a command
)

// SessionIdle is how long a sign-in holds without use.
const SessionIdle = 12 * time.Hour

// Caller is who asks for something: the shop they work in, who they are there, and how they came in.
type Caller struct {
	ShopID     int64
	Shop       string // public id
	MemberID   int64
	Member     string // public id
	PersonID   int64
	Name       string
	Role       string
	Via        string
	SessionID  int64
	DeviceID   int64
	BenchID    int64 // of the screen, for a sign-in by PIN
	Bench      string
	BenchName  string
	ScreenHash string   // digest of the screen's own token
	Scopes     []string // of a token
	Where      Where
	// known from memory alone: what is written counts only if they are still signed in at that moment, and nothing is
	// told before that is known
	Unchecked bool
}

// MemberKey is the key of the member that it is; nil of a token without one.
func (c Caller) MemberKey() *int64 {
	if c.MemberID == 0 {
		return nil
	}
	return &c.MemberID
}

// NameKept is the name as it is written into what never changes: none where it can be read from the member, for a name
// that is to go must not stand there.
func (c Caller) NameKept() string {
	if c.MemberID != 0 && c.Via != ViaToken {
		return ""
	}
	return words.Truncate(c.Name, 80)
}

// Where says where a request came from.
type Where struct {
	Request string // its id
	Address string
	About   string // the browser, in a few words
	Known   string // by which the browser says that somebody signed in in it before
}

type callerKey struct{}

// As gives a context in which work is done for a caller.
func As(ctx context.Context, c Caller) context.Context { return context.WithValue(ctx, callerKey{}, c) }

// CallerOf gives who the work is done for.
func CallerOf(ctx context.Context) (Caller, bool) {
	c, ok := ctx.Value(callerKey{}).(Caller)
	return c, ok
}

// ErrNobody is work that was asked for by nobody.
var ErrNobody = errors.New("nobody is signed in")

func Who(ctx context.Context) (Caller, error) {
	c, ok := CallerOf(ctx)
	if !ok || c.ShopID == 0 {
		return c, ErrNobody
	}
	return c, nil
}
