package store

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"net"
	"time"

	mysqldriver "github.com/go-sql-driver/mysql"
	"github.com/pressly/goose/v3"
	"gorm.io/driver/mysql"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"
)

//go:embed migrations/*.sql
var migrations embed.FS

// The errors that callers tell apart.
var (
	ErrNotFound    = errors.New("not found")
	ErrConflict    = errors.New("changed by somebody else in the meantime")
	ErrDuplicate   = errors.New("exists already")
	ErrUnavailable = errors.New("the database does not answer")
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

// Ping says whether the database answers.
func (s *Store) Ping(ctx context.Context) error {
	pool, err := s.db.DB()
	if err != nil {
		return err
	}
	return Translate(pool.PingContext(ctx))
}

// Migrate brings the schema up to date, and answers with its version. It goes forward only.
func (s *Store) Migrate(ctx context.Context) (int64, error) {
	p, err := s.provider()
	if err != nil {
		return 0, err
	}
	if _, err := p.Up(ctx); err != nil {
		return 0, fmt.Errorf("migrate: %w", err)
	}
	return p.GetDBVersion(ctx)
}

func (s *Store) provider() (*goose.Provider, error) {
	pool, err := s.db.DB()
	if err != nil {
		return nil, err
	}
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, err
	}
	return goose.NewProvider(goose.DialectMySQL, pool, files)
}

// DB gives the GORM handle, for benchmarks and checks that must see the rows as they are.
func (s *Store) DB() *gorm.DB { return s.db }

// maxTries bounds how often a transaction that lost a deadlock or a lock wait is run again.
const maxTries = 5

// Tx runs f in one transaction. Where the database says that it lost a deadlock or a lock wait, nothing of it has
// happened and it is run again.
func (s *Store) Tx(ctx context.Context, f func(tx *Store) error) error {
	var err error
	for try := range maxTries {
		err = s.db.WithContext(ctx).Transaction(func(db *gorm.DB) error { return f(&Store{db}) })
		var my *mysqldriver.MySQLError
		if !errors.As(err, &my) || (my.Number != 1213 && my.Number != 1205) {
			break
		}
		time.Sleep(time.Duration(try+1) * 10 * time.Millisecond)
	}
	return Translate(err)
}

// Translate names the errors of the driver that callers tell apart; others go through as they are.
func Translate(err error) error {
	var my *mysqldriver.MySQLError
	var netErr *net.OpError
	switch {
	case err == nil:
		return nil
	case errors.Is(err, gorm.ErrRecordNotFound):
		return ErrNotFound
	case errors.As(err, &my) && my.Number == 1062:
		return fmt.Errorf("%w: %s", ErrDuplicate, my.Message)
	case errors.As(err, &my) && (my.Number == 1053 || my.Number == 1927 || my.Number == 1205 || my.Number == 1213 || my.Number == 1040):
		return fmt.Errorf("%w: %s", ErrUnavailable, my.Message)
	case errors.Is(err, driver.ErrBadConn), errors.Is(err, mysqldriver.ErrInvalidConn), errors.Is(err, sql.ErrConnDone), errors.As(err, &netErr):
		return fmt.Errorf("%w: %s", ErrUnavailable, err)
	}
	return err
}

// Behind says whether the schema has migrations to come.
func (s *Store) Behind(ctx context.Context) (bool, error) {
	p, err := s.provider()
	if err != nil {
		return false, err
	}
	return p.HasPending(ctx)
}

// Empty drops every table. It is for a demo that was killed while it was being set up, on its private database.
func (s *Store) Empty(ctx context.Context) error {
	return s.db.WithContext(ctx).Connection(func(db *gorm.DB) error {
		var tables []string
		if err := db.Raw("SELECT table_name FROM information_schema.tables WHERE table_schema = DATABASE()").Scan(&tables).Error; err != nil {
			return err
		}
		if err := db.Exec("SET FOREIGN_KEY_CHECKS = 0").Error; err != nil {
			return err
		}
		for _, t := range tables {
			if err := db.Exec("DROP TABLE `" + t + "`").Error; err != nil {
				return err
			}
		}
		return db.Exec("SET FOREIGN_KEY_CHECKS = 1").Error
	})
}
