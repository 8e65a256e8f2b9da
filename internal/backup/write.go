package backup

import (
	"bufio"
	"bytes"
	"compress/gzip"
	"context"
	"crypto/sha256"
	"database/sql"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"hash"
	"io"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"falda/internal/store"
)

// format is the version of the file's format.
const format = 1

// fleeting are tables that are not kept: what is in them ends by itself, or is goose's own.
var fleeting = []string{"goose_db_version", "sessions", "one_time_tokens", "once", "attempts", "known_devices",
	"shares", store.RestoreMark}

// secrets are columns that are not kept as they are, for whoever has the file could use them: they are left out, and a
// restore makes new ones.
var secrets = map[string]string{"tasting_assessors": "link", "tasting_eaters": "link"}

// Head is the first line.
type Head struct {
	Format int       `json:"falda_backup"`
	Schema int64     `json:"schema"`
	At     time.Time `json:"at"`
}

type tableLine struct {
	Table   string   `json:"table"`
	Columns []string `json:"columns"`
}

// Tail is the last line.
type Tail struct {
	End    bool           `json:"end"`
	Rows   map[string]int `json:"rows"` // of each table
	SHA256 string         `json:"sha256"`
}

// Total is the number of rows of all tables.
func (t Tail) Total() int {
	n := 0
	for _, rows := range t.Rows {
		n += rows
	}
	return n
}

// open connects with times as the server writes them.
func open(dsn string) (*sql.DB, error) {
	c, err := store.Config(dsn)
	if err != nil {
		return nil, err
	}
	c.ParseTime = false
	return sql.Open("mysql", c.FormatDSN())
}

// File writes a backup beside its name and moves it in place once it is whole and on the disk; only its owner may read
// it.
func File(ctx context.Context, dsn, path string, now time.Time) (Tail, error) {
	f, err := os.CreateTemp(filepath.Dir(path), "."+filepath.Base(path)+"-")
	if err != nil {
		return Tail{}, err
	}
	defer os.Remove(f.Name())
	defer f.Close()
	tail, err := Write(ctx, dsn, f, now)
	if err != nil {
		return tail, err
	}
	if err := errors.Join(f.Sync(), f.Close()); err != nil {
		return tail, err
	}
	return tail, os.Rename(f.Name(), path)
}

// summing hashes what goes through it.
type summing struct {
	w   io.Writer
	sum hash.Hash
}

func (s summing) Write(p []byte) (int, error) {
	s.sum.Write(p)
	return s.w.Write(p)
}

// Write writes a backup as the database stands at this moment, whatever is written to it meanwhile.
func Write(ctx context.Context, dsn string, w io.Writer, now time.Time) (Tail, error) {
	tail := Tail{End: true, Rows: map[string]int{}}
	db, err := open(dsn)
	if err != nil {
		return tail, err
	}
	defer db.Close()
	conn, err := db.Conn(ctx)
	if err != nil {
		return tail, store.Translate(err)
	}
	defer conn.Close()
	for _, q := range []string{"SET SESSION TRANSACTION ISOLATION LEVEL REPEATABLE READ",
		"START TRANSACTION WITH CONSISTENT SNAPSHOT, READ ONLY"} {
		if _, err := conn.ExecContext(ctx, q); err != nil {
			return tail, store.Translate(err)
		}
	}
	head := Head{Format: format, At: now.UTC()}
	if head.Schema, err = schemaOf(ctx, conn); err != nil {
		return tail, err
	}
	tables, err := tablesOf(ctx, conn)
	if err != nil {
		return tail, err
	}
	packed := gzip.NewWriter(w)
	buffered := bufio.NewWriterSize(packed, 64<<10)
	out := summing{buffered, sha256.New()}
	if err := line(out, head); err != nil {
		return tail, err
	}
	for _, t := range tables {
		if tail.Rows[t], err = writeTable(ctx, conn, out, t); err != nil {
			return tail, fmt.Errorf("table %s: %w", t, store.Translate(err))
		}
	}
	tail.SHA256 = hex.EncodeToString(out.sum.Sum(nil))
	if err := line(buffered, tail); err != nil {
		return tail, err
	}
	return tail, errors.Join(buffered.Flush(), packed.Close())
}

// schemaOf gives the schema of a database that may be backed up.
func schemaOf(ctx context.Context, conn *sql.Conn) (schema int64, err error) {
	if err := conn.QueryRowContext(ctx, "SELECT MAX(version_id) FROM goose_db_version WHERE is_applied").
		Scan(&schema); err != nil {
		return 0, fmt.Errorf("the database has no schema of Falda: %w", err)
	}
	knows, err := store.KnownSchema()
	if err != nil {
		return 0, err
	}
	if schema > knows { // a table it does not know may hold what must not be in a backup
		return 0, fmt.Errorf("the database has schema %d and this program knows %d: back it up with the newer program",
			schema, knows)
	}
	var marked int
	if err := conn.QueryRowContext(ctx,
		"SELECT COUNT(*) FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name = ?",
		store.RestoreMark).Scan(&marked); err != nil {
		return 0, store.Translate(err)
	}
	if marked > 0 {
		return 0, errors.New("a restore into this database was cut short: restore again before it is backed up")
	}
	return schema, nil
}

func tablesOf(ctx context.Context, conn *sql.Conn) ([]string, error) {
	rows, err := conn.QueryContext(ctx,
		"SELECT table_name FROM information_schema.tables WHERE table_schema = DATABASE() AND table_type = 'BASE TABLE' "+
			"ORDER BY table_name")
	if err != nil {
		return nil, store.Translate(err)
	}
	defer rows.Close()
	var out []string
	for rows.Next() {
		var t string
		if err := rows.Scan(&t); err != nil {
			return nil, err
		}
		if !slices.Contains(fleeting, t) {
			out = append(out, t)
		}
	}
	return out, rows.Err()
}

func line(w io.Writer, v any) error {
	var b bytes.Buffer
	e := json.NewEncoder(&b)
	e.SetEscapeHTML(false)
	if err := e.Encode(v); err != nil {
		return err
	}
	_, err := w.Write(b.Bytes())
	return err
}

// columnsOf lists the columns of a table that hold something of their own: what the database works out from others it
// works out again.
func columnsOf(ctx context.Context, conn *sql.Conn, table string) (out []string, err error) {
	rows, err := conn.QueryContext(ctx, "SELECT column_name FROM information_schema.columns WHERE table_schema = "+
		"DATABASE() AND table_name = ? AND is_generated = 'NEVER' ORDER BY ordinal_position", table)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	for rows.Next() {
		var c string
		if err := rows.Scan(&c); err != nil {
			return nil, err
		}
		out = append(out, c)
	}
	return out, rows.Err()
}

// writeTable writes a table's columns and its rows in the order of their keys.
func writeTable(ctx context.Context, conn *sql.Conn, w io.Writer, table string) (int, error) {
	columns, err := columnsOf(ctx, conn, table)
	if err != nil {
		return 0, err
	}
	rows, err := conn.QueryContext(ctx, "SELECT `"+strings.Join(columns, "`, `")+"` FROM `"+table+"` ORDER BY 1")
	if err != nil {
		return 0, err
	}
	defer rows.Close()
	if err := line(w, tableLine{table, columns}); err != nil {
		return 0, err
	}
	secret := slices.Index(columns, secrets[table])
	raw := make([]sql.RawBytes, len(columns))
	into, cells := make([]any, len(columns)), make([]*string, len(columns))
	for i := range raw {
		into[i] = &raw[i]
	}
	n := 0
	for rows.Next() {
		if err := rows.Scan(into...); err != nil {
			return n, err
		}
		for i, cell := range raw {
			cells[i] = nil
			if i == secret {
				left := fmt.Sprintf("-%d", n)
				cells[i] = &left
			} else if cell != nil {
				text := strings.ToValidUTF8(string(cell), "\uFFFD")
				cells[i] = &text
			}
		}
		if err := line(w, cells); err != nil {
			return n, err
		}
		n++
	}
	return n, rows.Err()
}
