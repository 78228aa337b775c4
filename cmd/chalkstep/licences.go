package main

import (
	"embed"
	"fmt"

	"github.com/spf13/cobra"
)

// collected holds what the build gathers for the command itself: the notices
// of what it is built of.
//
//go:embed all:dist
var collected embed.FS

func newLicences() *cobra.Command {
	return &cobra.Command{
		Use:   "licences",
		Short: "Print the licences of this program and of all that ships in it",
		Args:  usageArgs(cobra.NoArgs),
		RunE: func(cmd *cobra.Command, _ []string) error {
			text, err := collected.ReadFile("dist/licences.txt")
			if err != nil {
				return fmt.Errorf("this binary was built without its notices, by hand: run scripts/licences before go build: %w",
					err)
			}
			_, err = cmd.OutOrStdout().Write(text)
			return err
		},
	}
}
