package main

import (
	"fmt"

	"github.com/spf13/cobra"

	"chalkstep/core/cutplan"
	"chalkstep/core/measure"
)

// A cutRequest is the file that cut reads.
type cutRequest struct {
	Material cutplan.Material `json:"material"`
	Pieces   []cutplan.Piece  `json:"pieces"`
}

func newCut() *cobra.Command {
	var asJSON bool
	cmd := &cobra.Command{
		Use:   "cut FILE.json",
		Short: "Lay pieces on a roll or a width of fabric, for straight cuts",
		Args:  usageArgs(cobra.ExactArgs(1)),
		RunE: func(cmd *cobra.Command, args []string) error {
			var request cutRequest
			if err := readJSON(args[0], &request); err != nil {
				return err
			}
			layout, err := cutplan.Plan(request.Material, request.Pieces)
			if err != nil {
				return fmt.Errorf("%s: %w", args[0], err)
			}
			out := cmd.OutOrStdout()
			if asJSON {
				return printJSON(out, layout)
			}
			fmt.Fprintf(out, "%s from a length of %s, %.0f %% of it wasted\n", measure.Plural(len(layout.Placed), "piece"),
				measure.MM(layout.LengthMM), layout.Waste*100)
			for i, c := range layout.Cuts {
				fmt.Fprintf(out, "%3d  cut from (%.1f, %.1f) to (%.1f, %.1f)\n", i+1, c.X1MM, c.Y1MM, c.X2MM, c.Y2MM)
			}
			return nil
		},
	}
	cmd.Flags().BoolVar(&asJSON, "json", false, "print one JSON object")
	return cmd
}
