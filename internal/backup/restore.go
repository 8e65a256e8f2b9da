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
	"io"
	"os"
	"regexp"
	"slices"
	"strings"
	"time"

	"falda/internal/secret"
	"falda/internal/store"
)

// maxLine bounds a line of the file, in bytes.
const maxLine = 16 << 20

// ErrDamaged is a file that is not a whole backup.
var ErrDamaged = errors.New("not a whole backup")

var plainName = regexp.MustCompile(`^[a-z][a-z0-9_]{0,63}$`)

// read goes through a file and calls back for each table and row. It fails where the file is not whole: cut short,
// changed, or of a format it does not know.
func read(path string, table func(t string, columns []string) error, row func(cells []*string) error) (Head, Tail,
	error) {
	var head Head
	var tail Tail
	f, err := os.Open(path)
	if err != nil {
		return head, tail, err
	}
	defer f.Close()
	packed, err := gzip.NewReader(bufio.NewReader(f))
	if err != nil {
		return head, tail, fmt.Errorf("%w: %s", ErrDamaged, err)
	}
	return readLines(packed, table, row)
}

// readLines is read for what is in a file, unpacked.
func readLines(r io.Reader, table func(t string, columns []string) error, row func(cells []*string) error) (head Head,
	tail Tail, err error) {
	lines := bufio.NewReaderSize(r, 64<<10)
	sum, now, columns, counts := sha256.New(), "", 0, map[string]int{}
	for n := 1; ; n++ {
		raw, err := readLine(lines)
		if err != nil {
			return head, tail, fmt.Errorf("%w: line %d: %s", ErrDamaged, n, err)
		}
		if n == 1 {
			if err := json.Unmarshal(raw, &head); err != nil || head.Format == 0 {
				return head, tail, fmt.Errorf("%w: it does not begin as one", ErrDamaged)
			}
			if head.Format != format {
				return head, tail, fmt.Errorf("it has format %d; this program knows format %d", head.Format, format)
			}
			sum.Write(raw)
			continue
		}
		if bytes.HasPrefix(raw, []byte(`{"end":`)) {
			if err := json.Unmarshal(raw, &tail); err != nil || tail.SHA256 != hex.EncodeToString(sum.Sum(nil)) {
				return head, tail, fmt.Errorf("%w: its checksum does not fit", ErrDamaged)
			}
			break
		}
		sum.Write(raw)
		if raw[0] == '{' {
			t, err := readTable(raw)
			if err != nil {
				return head, tail, fmt.Errorf("%w: line %d: %s", ErrDamaged, n, err)
			}
			now, columns, counts[t.Table] = t.Table, len(t.Columns), 0
			if err := table(t.Table, t.Columns); err != nil {
				return head, tail, err
			}
			continue
		}
		var cells []*string
		if err := json.Unmarshal(raw, &cells); err != nil || now == "" || len(cells) != columns {
			return head, tail, fmt.Errorf("%w: line %d", ErrDamaged, n)
		}
		counts[now]++
		if err := row(cells); err != nil {
			return head, tail, err
		}
	}
	if _, err := lines.ReadByte(); !errors.Is(err, io.EOF) {
		return head, tail, fmt.Errorf("%w: there is more behind its end", ErrDamaged)
	}
	for t, want := range tail.Rows {
		if counts[t] != want {
			return head, tail, fmt.Errorf("%w: table %s has %d rows and should have %d", ErrDamaged, t, counts[t], want)
		}
	}
	return head, tail, nil
}

// readTable reads the line that a table begins with.
func readTable(raw []byte) (t tableLine, err error) {
	if err := json.Unmarshal(raw, &t); err != nil {
		return t, err
	}
	for _, name := range append([]string{t.Table}, t.Columns...) {
		if !plainName.MatchString(name) {
			return t, fmt.Errorf("name %q", name)
		}
	}
	return t, nil
}

func readLine(r *bufio.Reader) ([]byte, error) {
	var whole []byte
	for {
		part, err := r.ReadSlice('\n')
		whole = append(whole, part...)
		if len(whole) > maxLine {
			return nil, errors.New("too long")
		}
		switch {
		case err == nil:
			return whole, nil
		case errors.Is(err, bufio.ErrBufferFull):
		case errors.Is(err, io.EOF):
			return nil, io.ErrUnexpectedEOF
		default:
			return nil, err
		}
	}
}

// Check reads a file through without restoring it.
func Check(path string) (Head, Tail, error) {
	return read(path, func(string, []string) error { return nil }, func([]*string) error { return nil })
}

// Restored is what a restore did.
type Restored struct {
	Head Head
	Tail Tail
	Copy string // where what was in the database before is kept; empty where it was empty
}

// Restore puts a backup into a database. The file is checked first. A database that holds something is refused, unless
// it is to be replaced; then what is in it is written to a backup beside the file first. Older schemas are migrated.
func Restore(ctx context.Context, dsn, path string, replace bool, now time.Time) (Restored, error) {
	var done Restored
	var err error
	if done.Head, done.Tail, err = Check(path); err != nil {
		return done, err
	}
	if err := alone(ctx, dsn); err != nil {
		return done, err
	}
	st, err := store.Open(dsn)
	if err != nil {
		return done, err
	}
	defer st.Close()
	latest, err := store.KnownSchema()
	if err != nil {
		return done, err
	}
	if done.Head.Schema > latest {
		return done,
			fmt.Errorf("it was made by a newer Falda (schema %d; this one knows %d): restore it with that one", done.Head.Schema,
				latest)
	}
	if done.Copy, err = keepFirst(ctx, st, dsn, path, replace, now); err != nil {
		return done, err
	}
	if err := st.Empty(ctx); err != nil {
		return done, err
	}
	if err := st.MarkRestore(ctx, path, done.Copy); err != nil {
		return done, err
	}
	if err := st.MigrateTo(ctx, done.Head.Schema); err != nil {
		return done, err
	}
	if err := fill(ctx, dsn, path); err != nil {
		return done, err
	}
	if _, err := st.Migrate(ctx); err != nil {
		return done, err
	}
	if err := st.NewTasteLinks(ctx, secret.NewCode); err != nil {
		return done, err
	}
	if err := st.UnmarkRestore(ctx); err != nil {
		return done, err
	}
	orphans, err := st.Orphans(ctx)
	if err == nil && len(orphans) > 0 {
		err = fmt.Errorf("restored, but rows lean on rows that are not there: %s", strings.Join(orphans, "; "))
	}
	return done, err
}

// keepFirst writes what a database holds to a file beside the backup, which it names, where it may be replaced at all.
func keepFirst(ctx context.Context, st *store.Store, dsn, path string, replace bool, now time.Time) (string, error) {
	holds, err := st.Holds(ctx)
	if err != nil || holds == "" {
		return "", err
	}
	if !replace {
		return "", fmt.Errorf("the database holds %s already: restore into an empty one, or say --replace", holds)
	}
	file := path + ".before-" + now.UTC().Format(stampLayout) + suffix
	if _, err := File(ctx, dsn, file, now); err != nil {
		return file, fmt.Errorf("nothing was changed; what is in the database could not be kept first: %w", err)
	}
	return file, nil
}

// alone refuses a database that somebody else is connected to: a running program would write into what is being
// restored.
func alone(ctx context.Context, dsn string) error {
	db, err := open(dsn)
	if err != nil {
		return err
	}
	defer db.Close()
	db.SetMaxOpenConns(1)
	for try := 0; ; try++ {
		var others int
		err := db.QueryRowContext(ctx,
			"SELECT COUNT(*) FROM information_schema.processlist WHERE db = DATABASE() AND id <> CONNECTION_ID() AND command "+
				"<> 'Killed'").Scan(&others)
		if err != nil {
			return store.Translate(err)
		}
		if others == 0 {
			return nil
		}
		if try == 20 {
			return errors.New("somebody is connected to the database: stop falda serve (and whatever else uses it) first")
		}
		time.Sleep(100 * time.Millisecond)
	}
}

// batch bounds how much is sent at once.
const (
	batchRows  = 500
	batchBytes = 512 << 10
)

// fill inserts all rows in one transaction.
func fill(ctx context.Context, dsn, path string) error {
	db, err := open(dsn)
	if err != nil {
		return err
	}
	defer db.Close()
	db.SetMaxOpenConns(1)
	tx, err := db.BeginTx(ctx, nil)
	if err != nil {
		return store.Translate(err)
	}
	defer func() { _ = tx.Rollback() }() // after the commit it does nothing
	if _, err := tx.ExecContext(ctx, "SET FOREIGN_KEY_CHECKS = 0"); err != nil {
		return err
	}
	in := inserter{ctx: ctx, tx: tx}
	if _, _, err := read(path, in.table, in.row); err != nil {
		return err
	}
	if err := in.flush(); err != nil {
		return err
	}
	if err := tx.Commit(); err != nil {
		return store.Translate(err)
	}
	return nil
}

// inserter collects rows into statements.
type inserter struct {
	ctx   context.Context
	tx    *sql.Tx
	head  string
	one   string
	name  string
	args  []any
	rows  int
	bytes int
	skip  bool
}

func (in *inserter) table(t string, columns []string) error {
	if err := in.flush(); err != nil {
		return err
	}
	in.name, in.skip = t, slices.Contains(fleeting, t)
	if in.skip { // of a file from when it was kept
		return nil
	}
	in.head = "INSERT INTO `" + t + "` (`" + strings.Join(columns, "`, `") + "`) VALUES "
	in.one = "(" + strings.TrimSuffix(strings.Repeat("?, ", len(columns)), ", ") + ")"
	_, err := in.tx.ExecContext(in.ctx, "DELETE FROM `"+t+"`") // what a migration put in
	return err
}

func (in *inserter) row(cells []*string) error {
	if in.skip {
		return nil
	}
	for _, c := range cells {
		if c == nil {
			in.args = append(in.args, nil)
			continue
		}
		in.args = append(in.args, *c)
		in.bytes += len(*c)
	}
	in.rows++
	if in.rows < batchRows && in.bytes < batchBytes {
		return nil
	}
	return in.flush()
}

func (in *inserter) flush() error {
	if in.rows == 0 {
		return nil
	}
	q := in.head + strings.TrimSuffix(strings.Repeat(in.one+", ", in.rows), ", ")
	if _, err := in.tx.ExecContext(in.ctx, q, in.args...); err != nil {
		return fmt.Errorf("table %s: %w", in.name, err)
	}
	in.args, in.rows, in.bytes = in.args[:0], 0, 0
	return nil
}
