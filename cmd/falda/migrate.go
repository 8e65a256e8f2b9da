package main

import (
	"context"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"time"

	"falda/internal/store"
	"falda/internal/work"
)

// backupBefore writes a backup into a folder before a database is brought up to date: none where no folder is named,
// where the database is empty, and where nothing is to be done.
func backupBefore(ctx context.Context, st *store.Store, dsn, dir string, out io.Writer) error {
	version, err := st.Version(ctx)
	if err != nil || dir == "" || version == 0 {
		return err
	}
	knows, err := store.KnownSchema()
	if err != nil || version >= knows {
		return err
	}
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return fmt.Errorf("--backup-dir: %w", err)
	}
	name := fmt.Sprintf("schema-%d-%s.falda", version, time.Now().UTC().Format("20060102-150405"))
	return runBackup(ctx, dsn, filepath.Join(dir, name), out)
}

// migrate brings a database up to date: its schema, then the plans of the shops, which become steps as new versions. It
// says what it did to each plan, and lists every finished piece whose figures are not what they were.
func migrate(ctx context.Context, st *store.Store, w *work.Rooms, out io.Writer) error {
	before, err := st.Version(ctx)
	if err != nil {
		return err
	}
	version, err := st.Migrate(ctx)
	if err != nil {
		return err
	}
	fmt.Fprintln(out, "schema version", version)
	moved, err := w.Stock.MovePlans(ctx)
	for _, m := range moved {
		if m.Left != "" {
			fmt.Fprintf(out, "plan “%s” of %s (%s) was left as it was: %s\n", m.Plan, m.Piece, m.Shop, m.Left)
			continue
		}
		fmt.Fprintf(out, "plan “%s” of %s (%s) is now %d steps, version %d\n", m.Plan, m.Piece, m.Shop, m.Steps, m.Version)
	}
	if err != nil {
		return err
	}
	if err := follow(ctx, w, out); err != nil || before == version {
		return err
	}
	v, err := w.Bench.Verify(ctx, false)
	if err != nil {
		return err
	}
	for _, f := range v.Flaws {
		fmt.Fprintln(out, "changed:", f)
	}
	fmt.Fprintf(out, "%d breakdowns looked through, %d of them changed\n", v.Breakdowns, len(v.Flaws))
	return nil
}

// follow works the answers of finished pieces out by the atlas of this program, and lists those that changed.
func follow(ctx context.Context, w *work.Rooms, out io.Writer) error {
	changed, err := w.Bench.FollowAtlas(ctx)
	for _, f := range changed {
		was, is := f.Was, f.Is
		if was == "" {
			was = "not known"
		}
		if is == "" {
			is = "not known"
		}
		fmt.Fprintf(out, "answer of %s (%s): gained %s a kilogram on the other way of cutting, was %s\n", f.Piece, f.Shop, is,
			was)
	}
	if len(changed) > 0 {
		fmt.Fprintf(out, "%d answers follow the atlas of this version; what the pieces brought stays\n", len(changed))
	}
	return err
}
