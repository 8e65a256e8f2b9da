// Falda is the whole program: the demo, the server, its migrations and the simulated devices.
package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"os"
	"os/signal"
	"syscall"

	"github.com/spf13/cobra"

	"falda"
)

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	context.AfterFunc(ctx, stop) // a second Ctrl-C ends it at once
	slog.SetDefault(slog.New(slog.NewTextHandler(os.Stderr, &slog.HandlerOptions{Level: slog.LevelInfo})))
	root := &cobra.Command{Use: "falda", Short: "Seam beef and lamb muscle by muscle, and learn whether it paid",
		SilenceUsage: true, SilenceErrors: true}
	root.AddCommand(demoCommand(), serveCommand(), migrateCommand(), backupCommand(), restoreCommand(), verifyCommand(),
		passwordLinkCommand(), simulateCommand(), licencesCommand(), versionCommand())
	if err := root.ExecuteContext(ctx); err != nil && !errors.Is(err, context.Canceled) {
		fmt.Fprintln(os.Stderr, "falda:", err)
		os.Exit(1)
	}
}

func licencesCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "licences",
		Short: "Print what others made of it, and the terms on which they give it",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			_, err := fmt.Fprint(c.OutOrStdout(), falda.ThirdParty)
			return err
		},
	}
}
