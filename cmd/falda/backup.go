package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"falda/internal/backup"
	"falda/internal/localdb"
)

// onDatabase runs f on the database that --dsn or --data names.
func onDatabase(ctx context.Context, dsn, data string, f func(dsn string) error) error {
	if data == "" {
		if dsn == "" {
			return errors.New("--dsn: say which database, such as falda:secret@tcp(127.0.0.1:3306)/falda, or --data for a " +
				"stopped demo")
		}
		return f(dsn)
	}
	lock, err := localdb.Take(data)
	if err != nil {
		return err
	}
	defer lock.Release()
	db, err := localdb.Start(ctx, filepath.Join(data, "database"))
	if err != nil {
		return err
	}
	defer db.Stop()
	return f(db.DSN)
}

func databaseFlags(c *cobra.Command, dsn, data *string) {
	dsnFlag(c, dsn)
	c.Flags().StringVar(data, "data", "", "folder of a stopped demo, instead of --dsn")
}

func backupCommand() *cobra.Command {
	var dsn, data string
	c := &cobra.Command{
		Use:   "backup FILE",
		Short: "Write the whole database into one file, as it stands, while it is in use",
		Args:  cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			return onDatabase(c.Context(), dsn, data,
				func(dsn string) error { return runBackup(c.Context(), dsn, args[0], os.Stdout) })
		},
	}
	databaseFlags(c, &dsn, &data)
	return c
}

func runBackup(ctx context.Context, dsn, file string, out io.Writer) error {
	if _, err := os.Stat(file); err == nil {
		return fmt.Errorf("%s is there already: take another name", file)
	}
	tail, err := backup.File(ctx, dsn, file, time.Now())
	if err != nil {
		return err
	}
	_, err = fmt.Fprintf(out, "%s: %d rows of %d tables, checksum %s\n", file, tail.Total(), len(tail.Rows), tail.SHA256)
	return err
}

func restoreCommand() *cobra.Command {
	var dsn, data, ownAtlas string
	var replace, checkOnly bool
	c := &cobra.Command{
		Use:   "restore FILE",
		Short: "Put a backup into an empty database, checking it before and after",
		Args:  cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			if checkOnly {
				head, tail, err := backup.Check(args[0])
				if err == nil {
					fmt.Printf("whole: made %s, schema %d, %d rows\n", head.At.Format(time.RFC3339), head.Schema, tail.Total())
				}
				return err
			}
			return onDatabase(c.Context(), dsn, data,
				func(dsn string) error { return runRestore(c.Context(), dsn, ownAtlas, args[0], replace, os.Stdout) })
		},
	}
	databaseFlags(c, &dsn, &data)
	atlasFlag(c, &ownAtlas)
	c.Flags().BoolVar(&replace, "replace", false, "replace what the database holds; it is backed up beside FILE first")
	c.Flags().BoolVar(&checkOnly, "check", false, "only check that the file is whole")
	return c
}

func runRestore(ctx context.Context, dsn, ownAtlas, file string, replace bool, out io.Writer) error {
	done, err := backup.Restore(ctx, dsn, file, replace, time.Now())
	if done.Copy != "" {
		fmt.Fprintln(out, "what was in the database before is in", done.Copy)
	}
	if err != nil {
		return err
	}
	fmt.Fprintf(out, "restored %d rows as of %s\n", done.Tail.Total(), done.Head.At.Format(time.RFC3339))
	return runVerify(ctx, dsn, ownAtlas, false, out)
}

func verifyCommand() *cobra.Command {
	var dsn, data, ownAtlas string
	var rebuild bool
	c := &cobra.Command{
		Use:   "verify",
		Short: "Check the whole database: that everything balances and that the read tables are what the log says",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			return onDatabase(c.Context(), dsn, data,
				func(dsn string) error { return runVerify(c.Context(), dsn, ownAtlas, rebuild, os.Stdout) })
		},
	}
	databaseFlags(c, &dsn, &data)
	atlasFlag(c, &ownAtlas)
	c.Flags().BoolVar(&rebuild, "rebuild", false, "write read tables that do not agree anew from the log")
	return c
}

func runVerify(ctx context.Context, dsn, ownAtlas string, rebuild bool, out io.Writer) error {
	st, w, err := openWork(dsn, ownAtlas)
	if err != nil {
		return err
	}
	defer st.Close()
	if err := st.CheckSchema(ctx); err != nil {
		return err
	}
	v, err := w.Bench.Verify(ctx, rebuild)
	if err != nil {
		return err
	}
	for _, f := range v.Flaws {
		fmt.Fprintln(out, f)
	}
	for _, h := range v.Audits {
		fmt.Fprintln(out, h)
	}
	fmt.Fprintf(out, "%d shops, %d breakdowns, %d events: %d flaws, %d rebuilt\n", v.Shops, v.Breakdowns, v.Events,
		len(v.Flaws), v.Rebuilt)
	if len(v.Flaws) > 0 && !rebuild {
		return errors.New("not everything agrees; read tables are written anew with --rebuild, the log is never touched")
	}
	return nil
}

func passwordLinkCommand() *cobra.Command {
	var dsn, url, email string
	c := &cobra.Command{
		Use:   "password-link",
		Short: "Print a one-time link with which somebody chooses a new password",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			st, w, err := openWork(dsn, "")
			if err != nil {
				return err
			}
			defer st.Close()
			link, err := w.People.PasswordLinkByEmail(c.Context(), email)
			if err != nil {
				return fmt.Errorf("--email: nobody signs in with %q: %w", email, err)
			}
			fmt.Println("good once, for 72 hours: " + strings.TrimSuffix(url, "/") + "/welcome#" + link)
			return nil
		},
	}
	dsnFlag(c, &dsn)
	c.Flags().StringVar(&email, "email", "", "address they sign in with")
	c.Flags().StringVar(&url, "url", "http://127.0.0.1:8087", "address by which browsers reach the app")
	return c
}
