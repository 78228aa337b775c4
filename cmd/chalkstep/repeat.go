package main

import (
	"errors"
	"fmt"
	"strings"

	"github.com/spf13/cobra"

	"chalkstep/core/hoop"
	"chalkstep/core/measure"
	"chalkstep/core/stitch"
)

// repetition is what repeat prints.
type repetition struct {
	Placed int `json:"placed"`
	// CentresMM are (x, y) from the centre of the hoop, y up.
	CentresMM     [][2]float64 `json:"centres_mm"`
	Rotated       bool         `json:"rotated"`
	ChangesBefore int          `json:"changes_before"`
	ChangesAfter  int          `json:"changes_after"`
	LeftOver      int          `json:"left_over"`
}

func newRepeat() *cobra.Command {
	var copies int
	var hoopSize string
	var gap float64
	var sorted, asJSON bool
	cmd := &cobra.Command{
		Use:   "repeat IN OUT --copies N --hoop WxH [--gap MM] [--sort] [--json]",
		Short: "Lay copies of a design in one hoop, colour-sorted if asked",
		Args:  usageArgs(cobra.ExactArgs(2)),
		RunE: func(cmd *cobra.Command, args []string) error {
			field, err := parseField(hoopSize)
			if err != nil {
				return usageError{err}
			}
			if copies < 1 || !(gap >= 0 && gap <= 1000) {
				return usageError{errors.New("--copies is 1 or more, --gap 0 to 1000 mm")}
			}
			pattern, _, err := readPattern(args[0])
			if err != nil {
				return err
			}
			result, out, err := repeat(pattern, field, gap, copies, sorted)
			if err != nil {
				return fmt.Errorf("%s in a hoop of %s: %w", args[0], measure.Size(field.WidthMM, field.HeightMM), err)
			}
			data, err := stitch.Encode(args[1], out)
			if err != nil {
				return err
			}
			if err := writeFile(args[1], data); err != nil {
				return err
			}
			if asJSON {
				return printJSON(cmd.OutOrStdout(), result)
			}
			fmt.Fprintf(cmd.OutOrStdout(), "%s placed, %d left over; %s instead of %d\n",
				measure.Plural(result.Placed, "copy"), result.LeftOver, measure.Plural(result.ChangesAfter, "change"), result.ChangesBefore)
			return nil
		},
	}
	cmd.Flags().IntVar(&copies, "copies", 0, "how many")
	cmd.Flags().StringVar(&hoopSize, "hoop", "", "the hoop's field in mm, such as 130x180")
	cmd.Flags().Float64Var(&gap, "gap", hoop.DefaultGapMM, "space between copies in mm")
	cmd.Flags().BoolVar(&sorted, "sort", false, "sew colour by colour")
	cmd.Flags().BoolVar(&asJSON, "json", false, "print one JSON object")
	return cmd
}

// repeat lays copies of a pattern in a field.
func repeat(p *stitch.Pattern, field hoop.Field, gap float64, copies int, sorted bool) (repetition, *stitch.Pattern, error) {
	a := stitch.Analyse(p)
	grid, err := hoop.Copies(field, a.WidthMM, a.HeightMM, gap, copies)
	if err != nil {
		return repetition{}, nil, err
	}
	result := repetition{Placed: len(grid.Centres), Rotated: grid.Rotated, LeftOver: grid.LeftOver}
	spots := make([]stitch.Spot, len(grid.Centres))
	for i, c := range grid.Centres {
		result.CentresMM = append(result.CentresMM, [2]float64{round(c.X), round(c.Y)})
		spots[i] = stitch.Spot{X: c.X * 10, Y: c.Y * 10, Turned: grid.Rotated}
	}
	out, before, after, err := stitch.Copies(p, spots, sorted, nil)
	result.ChangesBefore, result.ChangesAfter = before, after
	return result, out, err
}

// parseField reads a size such as 130x180.
func parseField(text string) (hoop.Field, error) {
	width, height, found := strings.Cut(strings.ReplaceAll(strings.ToLower(text), "×", "x"), "x")
	w, err := measure.Metric.Parse(width)
	h, err2 := measure.Metric.Parse(height)
	if !found || err != nil || err2 != nil || !(w > 0 && w <= 2000 && h > 0 && h <= 2000) {
		return hoop.Field{}, fmt.Errorf("--hoop is %q: expected width and height in mm, such as 130x180", text)
	}
	return hoop.Field{WidthMM: w, HeightMM: h}, nil
}
