package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"io/fs"
	"strconv"
	"strings"

	"github.com/pressly/goose/v3"
	"gorm.io/gorm"
)

// Migrate brings the schema up to date, and answers with its version. It goes forward only.
func (s *Store) Migrate(ctx context.Context) (int64, error) {
	p, err := s.provider()
	if err != nil {
		return 0, err
	}
	unlock, err := s.lockSchema(ctx)
	if err != nil {
		return 0, err
	}
	defer unlock()
	if err := s.beginVersions(ctx); err != nil {
		return 0, err
	}
	if _, err := p.Up(ctx); err != nil {
		return 0, fmt.Errorf("migrate: %w; nothing is lost: run it again, every step of it can be repeated", Translate(err))
	}
	return p.GetDBVersion(ctx)
}

// beginVersions enters the version nought where a first migration was killed between making the table of versions and
// that: with the table alone nothing would ever get on.
func (s *Store) beginVersions(ctx context.Context) error {
	var there int64
	if err := s.on(ctx).
		Raw("SELECT COUNT(*) FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name = " +
			"'goose_db_version'").Scan(&there).Error; err != nil || there == 0 {
		return Translate(err)
	}
	return Translate(s.on(ctx).
		Exec("INSERT INTO goose_db_version (version_id, is_applied) SELECT 0, TRUE FROM DUAL WHERE NOT EXISTS (SELECT 1 " +
			"FROM goose_db_version)").Error)
}

// lockWaits is how long one program waits for another that migrates the same database, in seconds.
const lockWaits = 120

// lockSchema lets one program at a time change the schema of a database. The lock goes with its connection, so that it
// ends with the program whatever happens.
func (s *Store) lockSchema(ctx context.Context) (unlock func(), err error) {
	pool, err := s.db.DB()
	if err != nil {
		return nil, err
	}
	conn, err := pool.Conn(ctx)
	if err != nil {
		return nil, Translate(err)
	}
	var got sql.NullInt64
	err = conn.QueryRowContext(ctx, "SELECT GET_LOCK(CONCAT('falda-schema-', MD5(DATABASE())), ?)", lockWaits).Scan(&got)
	if err == nil && got.Int64 != 1 {
		err = errors.New("another program is migrating this database: wait until it is done, then run it again")
	}
	if err != nil {
		conn.Close()
		return nil, Translate(err)
	}
	return func() {
		_, _ = conn.ExecContext(context.WithoutCancel(ctx), "SELECT RELEASE_LOCK(CONCAT('falda-schema-', MD5(DATABASE())))")
		conn.Close()
	}, nil
}

// RestoreMark is the table with which a restore marks the database it works on, so that one which was cut short says
// what it is.
const RestoreMark = "restore_under_way"

// MarkRestore notes that a backup is being restored from a file, and where what was here before is kept; empty where
// nothing was.
func (s *Store) MarkRestore(ctx context.Context, file, before string) error {
	err := s.on(ctx).
		Exec("CREATE TABLE IF NOT EXISTS " + RestoreMark +
			" (file VARCHAR(500) NOT NULL, kept VARCHAR(500) NOT NULL) DEFAULT CHARSET=utf8mb4").Error
	if err == nil {
		err = s.on(ctx).Exec("INSERT INTO "+RestoreMark+" (file, kept) VALUES (?, ?)", file, before).Error
	}
	return Translate(err)
}

// UnmarkRestore notes that it is done.
func (s *Store) UnmarkRestore(ctx context.Context) error {
	return Translate(s.on(ctx).Exec("DROP TABLE IF EXISTS " + RestoreMark).Error)
}

// RestoreCut gives the error of a database whose restore was cut short; nil where none was.
func (s *Store) RestoreCut(ctx context.Context) error {
	var n int64
	if err := s.on(ctx).
		Raw("SELECT COUNT(*) FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name = ?", RestoreMark).
		Scan(&n).Error; err != nil || n == 0 {
		return Translate(err)
	}
	var mark struct{ File, Kept string }
	if err := s.on(ctx).Raw("SELECT file, kept FROM " + RestoreMark + " LIMIT 1").Scan(&mark).Error; err != nil {
		return Translate(err)
	}
	if mark.Kept != "" {
		mark.Kept = "; what was here before is in " + mark.Kept
	}
	return fmt.Errorf("a restore of %s was cut short and left this database half filled: run 'falda restore --replace' "+
		"again%s", mark.File, mark.Kept)
}

// CheckSchema refuses a database whose schema is not the one this program knows, or whose restore was cut short.
func (s *Store) CheckSchema(ctx context.Context) error {
	if err := s.RestoreCut(ctx); err != nil {
		return err
	}
	has, err := s.Version(ctx)
	if err != nil {
		return Translate(err)
	}
	knows, err := KnownSchema()
	switch {
	case err != nil:
		return err
	case has < knows:
		return errors.New("the database is new or older than this program: run 'falda migrate' on it first")
	case has > knows:
		return fmt.Errorf("the database has schema %d and this program knows %d: use the newer program", has, knows)
	}
	return nil
}

// MigrateTo brings an empty database to a version of the schema, for a backup of that version.
func (s *Store) MigrateTo(ctx context.Context, version int64) error {
	p, err := s.provider()
	if err != nil {
		return err
	}
	unlock, err := s.lockSchema(ctx)
	if err != nil {
		return err
	}
	defer unlock()
	if _, err := p.UpTo(ctx, version); err != nil {
		return fmt.Errorf("migrate to %d: %w", version, err)
	}
	return nil
}

// KnownSchema is the version of the schema that this program knows: the highest number of the migrations that go along.
func KnownSchema() (int64, error) {
	files, err := migrations.ReadDir("migrations")
	if err != nil {
		return 0, err
	}
	latest := int64(0)
	for _, f := range files {
		number, _, _ := strings.Cut(f.Name(), "_")
		v, err := strconv.ParseInt(number, 10, 64)
		if err != nil {
			return 0, fmt.Errorf("migration %s has no number: %w", f.Name(), err)
		}
		latest = max(latest, v)
	}
	return latest, nil
}

// Version is the version of the database's schema.
func (s *Store) Version(ctx context.Context) (int64, error) {
	p, err := s.provider()
	if err != nil {
		return 0, err
	}
	return p.GetDBVersion(ctx)
}

// Behind says whether the schema has migrations to come.
func (s *Store) Behind(ctx context.Context) (bool, error) {
	p, err := s.provider()
	if err != nil {
		return false, err
	}
	return p.HasPending(ctx)
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

// Holds says in words what the database holds that a restore would destroy; empty where that is nothing. Tables of
// which Falda knows nothing count.
func (s *Store) Holds(ctx context.Context) (string, error) {
	var tables []string
	if err := s.on(ctx).Raw("SELECT table_name FROM information_schema.tables WHERE table_schema = DATABASE()").
		Scan(&tables).Error; err != nil {
		return "", Translate(err)
	}
	known, hasShops := 0, false
	for _, t := range tables {
		if t == "goose_db_version" || t == RestoreMark {
			known++
		}
		hasShops = hasShops || t == "shops"
	}
	if !hasShops {
		if len(tables) > known {
			return fmt.Sprintf("%d tables that are not Falda's", len(tables)-known), nil
		}
		return "", nil
	}
	var n int64
	err := s.on(ctx).Table("shops").Count(&n).Error
	if n == 0 {
		return "", Translate(err)
	}
	return fmt.Sprintf("%d shop(s)", n), nil
}

// Empty drops every table. It is for a restore, and for a demo that was killed while it was being set up.
func (s *Store) Empty(ctx context.Context) error {
	return s.db.WithContext(ctx).Connection(func(db *gorm.DB) error {
		var tables []string
		if err := db.Raw("SELECT table_name FROM information_schema.tables WHERE table_schema = DATABASE()").Scan(&tables).
			Error; err != nil {
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
