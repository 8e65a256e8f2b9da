package store

import (
	"database/sql/driver"
	"errors"
	"fmt"
	"net"
	"testing"

	mysqldriver "github.com/go-sql-driver/mysql"
)

// A transaction is run again only where nothing of it can have happened: a lost deadlock or lock wait is rolled back by
// the server (MariaDB's error codes 1213 and 1205); a connection that is lost before the commit was asked for takes its
// work with it; in the commit itself nobody knows.
func TestWhatIsRunAgain(t *testing.T) {
	lost := fmt.Errorf("reading: %w", &net.OpError{Op: "read", Err: errors.New("connection reset")})
	for name, c := range map[string]struct {
		err        error
		committing bool
		want       bool
	}{
		"done": {nil, false, false}, "committed": {nil, true, false},
		"deadlock":               {&mysqldriver.MySQLError{Number: 1213}, false, true},
		"deadlock in the commit": {&mysqldriver.MySQLError{Number: 1213}, true, true},
		"lock wait":              {&mysqldriver.MySQLError{Number: 1205}, false, true}, "lost": {lost, false, true},
		"lost in the commit": {lost, true, false}, "bad connection": {driver.ErrBadConn, false, true},
		"invalid in the commit": {mysqldriver.ErrInvalidConn, true, false},
		"a node out of step":    {&mysqldriver.MySQLError{Number: 1047}, false, true},
		"a duplicate":           {&mysqldriver.MySQLError{Number: 1062}, false, false},
		"a rule of ours":        {ErrConflict, false, false}, "not found": {ErrNotFound, false, false},
	} {
		if got := again(c.err, c.committing); got != c.want {
			t.Errorf("%s: %v, want %v", name, got, c.want)
		}
	}
}
