package main

import (
	"fmt"
	"runtime"

	"github.com/spf13/cobra"

	"falda"
)

func versionCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "version",
		Short: "Print which version this is, and what it was built from",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			_, err := fmt.Fprintf(c.OutOrStdout(), "falda %s, %s %s/%s\n", falda.Build(), runtime.Version(), runtime.GOOS,
				runtime.GOARCH)
			return err
		},
	}
}
