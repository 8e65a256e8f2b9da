package store

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"embed"
	"errors"
	"fmt"
	"net"
	"slices"
	"strings"
	"sync/atomic"
	"time"

	mysqldriver "github.com/go-sql-driver/mysql"
	"gorm.io/driver/mysql"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"
)

func (s *Store) on(ctx context.Context) *gorm.DB { return s.db.WithContext(ctx) }

// added turns an insert that came second into a conflict: somebody else was the first to set it.
func added(res *gorm.DB) error {
	err := Translate(res.Error)
	if errors.Is(err, ErrDuplicate) {
		return ErrConflict
	}
	return err
}

// changed turns an update that met no row into a conflict.
func changed(res *gorm.DB) error {
	if res.Error != nil {
		return Translate(res.Error)
	}
	if res.RowsAffected == 0 {
		return ErrConflict
	}
	return nil
}

//go:embed migrations/*.sql
var migrations embed.FS

// The errors that callers tell apart.
var (
	ErrNotFound    = errors.New("not found")
	ErrConflict    = errors.New("changed by somebody else in the meantime")
	ErrDuplicate   = errors.New("exists already")
	ErrUnavailable = errors.New("the database does not answer")
	ErrFull        = errors.New("the disk of the database is full")
)

// Store is a database, or a transaction on it.
type Store struct{ db *gorm.DB }

// Config turns a DSN into one with the settings Falda relies on: UTC times parsed, one round trip for each statement,
// strict SQL mode, bounded waits.
func Config(dsn string) (*mysqldriver.Config, error) {
	c, err := mysqldriver.ParseDSN(dsn)
	if err != nil {
		return nil, fmt.Errorf("database address: %w", err)
	}
	c.ParseTime, c.Loc, c.InterpolateParams, c.ClientFoundRows = true, time.UTC, true, true
	c.Timeout, c.ReadTimeout, c.WriteTimeout = 10*time.Second, 60*time.Second, 60*time.Second
	if c.Params == nil {
		c.Params = map[string]string{}
	}
	c.Params["sql_mode"] = "'STRICT_ALL_TABLES,NO_ENGINE_SUBSTITUTION'"
	c.Params["time_zone"] = "'+00:00'"
	return c, nil
}

// Open connects to a database by its DSN, such as falda:secret@tcp(127.0.0.1:3306)/falda.
func Open(dsn string) (*Store, error) {
	c, err := Config(dsn)
	if err != nil {
		return nil, err
	}
	connector, err := mysqldriver.NewConnector(c)
	if err != nil {
		return nil, err
	}
	pool := sql.OpenDB(connector)
	pool.SetMaxOpenConns(16)
	pool.SetMaxIdleConns(16)
	pool.SetConnMaxIdleTime(5 * time.Minute)
	db, err := gorm.Open(mysql.New(mysql.Config{Conn: pool}), &gorm.Config{
		SkipDefaultTransaction: true, TranslateError: false, Logger: logger.Discard,
		NowFunc: func() time.Time { return time.Now().UTC() },
	})
	if err != nil {
		return nil, Translate(err)
	}
	return &Store{db}, nil
}

// Close ends all connections.
func (s *Store) Close() error {
	pool, err := s.db.DB()
	if err != nil {
		return err
	}
	return pool.Close()
}

// Ping says whether the database answers, and whether it has had room of late.
func (s *Store) Ping(ctx context.Context) error {
	pool, err := s.db.DB()
	if err != nil {
		return err
	}
	if err := Translate(pool.PingContext(ctx)); err != nil {
		return err
	}
	if at := fullAt.Load(); at != 0 && time.Since(time.Unix(0, at)) < fullFor {
		return ErrFull
	}
	return nil
}

// DB gives the GORM handle, for benchmarks and checks that must see the rows as they are.
func (s *Store) DB() *gorm.DB { return s.db }

// maxTries bounds how often a transaction that lost a deadlock or a lock wait is run again.
const maxTries = 5

// Tx runs f in one transaction. It is run again where nothing of it can have happened: after a lost deadlock or lock
// wait, and where the connection was lost before the commit was asked for. A connection lost in the commit itself is
// not tried again: it may have happened.
func (s *Store) Tx(ctx context.Context, f func(tx *Store) error) error {
	var err error
	for try := range maxTries {
		committing := false
		err = s.db.WithContext(ctx).Transaction(func(db *gorm.DB) error {
			err := f(&Store{db})
			committing = err == nil
			return err
		})
		if !again(err, committing) {
			break
		}
		Retried.Add(1)
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(time.Duration(try*try+1) * 10 * time.Millisecond):
		}
	}
	return Translate(err)
}

// Retried counts the transactions that were run again since the program started.
var Retried atomic.Int64

// again says whether a transaction that failed so has changed nothing and may be run again.
func again(err error, committing bool) bool {
	var my *mysqldriver.MySQLError
	if errors.As(err, &my) {
		return my.Number == lockDeadlock || my.Number == lockWait || (!committing && my.Number == notReady)
	}
	return err != nil && !committing && errors.Is(Translate(err), ErrUnavailable)
}

// Numbers of the server's errors (MariaDB server documentation, error codes).
const (
	lockWait     = 1205
	lockDeadlock = 1213 // also a certification failure of a Galera cluster
	notReady     = 1047 // a Galera node that is not in step
)

// otherAlphabet are the errors of comparing ids with letters that ids do not have: one, two, or a list of them.
var otherAlphabet = []uint16{1267, 1270, 1271}

// away are the errors of a server that is going, full, or read-only for a moment.
var away = []uint16{1040, 1053, 1927, lockWait, lockDeadlock, notReady, 1290, 1836}

// full are the errors of a server that has no room: 3 and 1026 writing a file, 1021 the disk, 1114 a table. 1030 is any
// error of the engine; 28 is the system's own number for it (ENOSPC).
var full = []uint16{3, 1021, 1026, 1114}

func isFull(my *mysqldriver.MySQLError) bool {
	return slices.Contains(full, my.Number) || (my.Number == 1030 && strings.Contains(my.Message, "error 28"))
}

// fullAt is when the server last said that it has no room, in nanoseconds.
var fullAt atomic.Int64

// fullFor is how long that is taken to be so.
const fullFor = 15 * time.Second

// Translate names the errors of the driver that callers tell apart; others go through as they are.
func Translate(err error) error {
	var my *mysqldriver.MySQLError
	var netErr *net.OpError
	switch {
	case err == nil:
		return nil
	case errors.Is(err, gorm.ErrRecordNotFound):
		return ErrNotFound
	// no row can have an id of letters that ids do not have
	case errors.As(err, &my) && slices.Contains(otherAlphabet, my.Number):
		return ErrNotFound
	case errors.As(err, &my) && my.Number == 1062:
		return fmt.Errorf("%w: %s", ErrDuplicate, my.Message)
	case errors.As(err, &my) && isFull(my):
		fullAt.Store(time.Now().UnixNano())
		return fmt.Errorf("%w: %s", ErrFull, my.Message)
	case errors.As(err, &my) && slices.Contains(away, my.Number):
		return fmt.Errorf("%w: %s", ErrUnavailable, my.Message)
	case errors.Is(err, driver.ErrBadConn), errors.Is(err, mysqldriver.ErrInvalidConn), errors.Is(err, sql.ErrConnDone),
		errors.As(err, &netErr):
		return fmt.Errorf("%w: %s", ErrUnavailable, err)
	}
	return err
}
