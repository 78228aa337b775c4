package main

import (
	"errors"
	"fmt"
	"strings"

	"github.com/spf13/cobra"

	"chalkstep/core/measure"
	"chalkstep/core/stitch"
	"chalkstep/core/stitch/outline"
)

// cutReport is what outline prints.
type cutReport struct {
	Paths     int     `json:"paths"`
	Holes     int     `json:"holes"`
	HolesLost int     `json:"holes_lost"`
	WidthMM   float64 `json:"width_mm"`
	HeightMM  float64 `json:"height_mm"`
	AreaMM2   float64 `json:"area_mm2"`
}

func newOutline() *cobra.Command {
	var stop int
	var offset float64
	var mirror, asJSON bool
	cmd := &cobra.Command{
		Use:   "outline IN --stop N [--offset MM] [--mirror] OUT.svg [--json]",
		Short: "Write a stop's closed outlines as cut paths at actual size",
		Args:  usageArgs(cobra.ExactArgs(2)),
		RunE: func(cmd *cobra.Command, args []string) error {
			if stop < 1 {
				return usageError{errors.New("--stop is the number of a stop, from 1")}
			}
			if !strings.HasSuffix(strings.ToLower(args[1]), ".svg") {
				return usageError{fmt.Errorf("%s: cut paths are written as .svg", args[1])}
			}
			pattern, _, err := readPattern(args[0])
			if err != nil {
				return err
			}
			cut, err := outline.Of(stitch.Analyse(pattern), stop, offset, mirror)
			if err != nil {
				return fmt.Errorf("%s: %w", args[0], err)
			}
			if err := writeFile(args[1], []byte(cut.SVG())); err != nil {
				return err
			}
			if cut.HolesLost > 0 {
				fmt.Fprintf(cmd.ErrOrStderr(), "warning: the offset closes %s: choose a smaller one to keep the opening\n",
					measure.Plural(cut.HolesLost, "inner hole"))
			}
			if cut.MouthsClosed > 0 {
				fmt.Fprintf(cmd.ErrOrStderr(), "warning: the offset closes the mouth of %s: choose a smaller one to keep it open\n",
					measure.Plural(cut.MouthsClosed, "bay"))
			}
			if asJSON {
				return printJSON(cmd.OutOrStdout(),
					cutReport{len(cut.Paths), cut.Holes, cut.HolesLost, round(cut.WidthMM), round(cut.HeightMM), round(cut.AreaMM2)})
			}
			fmt.Fprintf(cmd.OutOrStdout(), "%s, %s, %s\n", measure.Plural(len(cut.Paths), "path"),
				measure.Plural(cut.Holes, "hole"), measure.Size(cut.WidthMM, cut.HeightMM))
			return nil
		},
	}
	cmd.Flags().IntVar(&stop, "stop", 0, "which stop")
	cmd.Flags().Float64Var(&offset, "offset", 0, "outward, 0 to 2.5 mm")
	cmd.Flags().BoolVar(&mirror, "mirror", false, "for cutting from the paper side")
	cmd.Flags().BoolVar(&asJSON, "json", false, "print one JSON object")
	return cmd
}
