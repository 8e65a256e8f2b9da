package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"time"

	"github.com/spf13/cobra"

	"falda/internal/core/atlas"
	"falda/internal/localdb"
	"falda/internal/work"
)

func verifyCommand() *cobra.Command {
	var dsn, data string
	var rebuild bool
	c := &cobra.Command{
		Use:   "verify",
		Short: "Check that every closed breakdown balances and that the read tables are what the log says",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			if data == "" {
				return runVerify(c.Context(), dsn, rebuild, os.Stdout)
			}
			lock, err := localdb.Take(data)
			if err != nil {
				return err
			}
			defer lock.Release()
			db, err := localdb.Start(c.Context(), filepath.Join(data, "database"))
			if err != nil {
				return err
			}
			defer db.Stop()
			return runVerify(c.Context(), db.DSN, rebuild, os.Stdout)
		},
	}
	c.Flags().StringVar(&dsn, "dsn", os.Getenv("FALDA_DSN"), "database, such as falda:secret@tcp(127.0.0.1:3306)/falda; or FALDA_DSN")
	c.Flags().StringVar(&data, "data", "", "folder of a stopped demo, instead of --dsn")
	c.Flags().BoolVar(&rebuild, "rebuild", false, "write read tables that do not agree anew from the log")
	return c
}

func runVerify(ctx context.Context, dsn string, rebuild bool, out io.Writer) error {
	st, err := openStore(dsn)
	if err != nil {
		return err
	}
	defer st.Close()
	a, err := atlas.Load()
	if err != nil {
		return err
	}
	v, err := work.New(st, a, time.Now).Verify(ctx, rebuild)
	if err != nil {
		return err
	}
	for _, f := range v.Flaws {
		fmt.Fprintln(out, f)
	}
	fmt.Fprintf(out, "%d breakdowns, %d events: %d flaws, %d rebuilt\n", v.Breakdowns, v.Events, len(v.Flaws), v.Rebuilt)
	if len(v.Flaws) > 0 && !rebuild {
		return errors.New("the read tables do not agree with the log; run it again with --rebuild")
	}
	return nil
}
