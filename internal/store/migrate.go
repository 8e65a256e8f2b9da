package store

import (
	"context"
	"fmt"
	"io/fs"

	"github.com/pressly/goose/v3"
	"gorm.io/gorm"
)

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

// MigrateTo brings an empty database to a version of the schema, for a backup of that version.
func (s *Store) MigrateTo(ctx context.Context, version int64) error {
	p, err := s.provider()
	if err != nil {
		return err
	}
	if _, err := p.UpTo(ctx, version); err != nil {
		return fmt.Errorf("migrate to %d: %w", version, err)
	}
	return nil
}

// Latest is the version of the schema that this program knows.
func (s *Store) Latest() (int64, error) {
	p, err := s.provider()
	if err != nil {
		return 0, err
	}
	sources := p.ListSources()
	return sources[len(sources)-1].Version, nil
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

// Holds says in words what the database holds that a restore would destroy; empty where that is nothing. Tables of which
// Falda knows nothing count.
func (s *Store) Holds(ctx context.Context) (string, error) {
	var tables []string
	if err := s.on(ctx).Raw("SELECT table_name FROM information_schema.tables WHERE table_schema = DATABASE()").Scan(&tables).Error; err != nil {
		return "", Translate(err)
	}
	known, hasShops := 0, false
	for _, t := range tables {
		if t == "goose_db_version" {
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
