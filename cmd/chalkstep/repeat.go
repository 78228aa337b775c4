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
	// CentresMM are (x, y) from the centre of the hoop, y up, and in the best
	// layout the turn of each in degrees.
	CentresMM     [][]float64 `json:"centres_mm"`
	Rotated       bool        `json:"rotated"`
	ChangesBefore int         `json:"changes_before"`
	ChangesAfter  int         `json:"changes_after"`
	LeftOver      int         `json:"left_over"`
}

func newRepeat() *cobra.Command {
	var copies int
	var hoopSize, layout string
	var gap float64
	var sorted, asJSON bool
	cmd := &cobra.Command{
		Use:   "repeat IN OUT --copies N --hoop WxH [--gap MM] [--layout grid|best] [--sort] [--json]",
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
			lay, known := map[string]laying{"grid": hoop.Copies, "best": hoop.BestCopies}[layout]
			if !known {
				return usageError{fmt.Errorf("--layout is %q: expected grid or best", layout)}
			}
			pattern, _, err := readPattern(args[0])
			if err != nil {
				return err
			}
			result, out, err := repeat(pattern, field, gap, copies, sorted, lay, layout == "best")
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
				measure.Plural(result.Placed, "copy"), result.LeftOver, measure.Plural(result.ChangesAfter, "change"),
				result.ChangesBefore)
			return nil
		},
	}
	cmd.Flags().IntVar(&copies, "copies", 0, "how many")
	cmd.Flags().StringVar(&hoopSize, "hoop", "", "the hoop's field in mm, such as 130x180")
	cmd.Flags().Float64Var(&gap, "gap", hoop.DefaultGapMM, "space between copies in mm")
	cmd.Flags().StringVar(&layout, "layout", "grid",
		"grid: rows, all turned alike; best: also mixed turns and staggered rows")
	cmd.Flags().BoolVar(&sorted, "sort", false, "sew colour by colour")
	cmd.Flags().BoolVar(&asJSON, "json", false, "print one JSON object")
	return cmd
}

// A laying lays copies of an item in a field.
type laying func(field hoop.Field, item hoop.Item, gapMM float64, copies int) (hoop.Layout, error)

// repeat lays copies of a pattern in a field; turns says whether each centre
// tells its turn.
func repeat(p *stitch.Pattern, field hoop.Field, gap float64, copies int, sorted bool, lay laying,
	turns bool) (repetition, *stitch.Pattern, error) {
	a := stitch.Analyse(p)
	item := hoop.Item{WidthMM: a.WidthMM, HeightMM: a.HeightMM,
		Round: hoop.RoundHull(hoop.Points(a.Hull()), a.WidthMM, a.HeightMM)}
	layout, err := lay(field, item, gap, copies)
	if err != nil {
		return repetition{}, nil, err
	}
	result := repetition{Placed: len(layout.Spots), Rotated: layout.AllTurned(), LeftOver: layout.LeftOver}
	spots := make([]stitch.Spot, len(layout.Spots))
	for i, s := range layout.Spots {
		centre := []float64{round(s.X), round(s.Y)}
		if turns {
			centre = append(centre, float64(s.Degrees()))
		}
		result.CentresMM = append(result.CentresMM, centre)
		spots[i] = stitch.Spot{X: s.X * 10, Y: s.Y * 10, Turned: s.Turned}
	}
	sheet, err := stitch.Copies(p, spots, sorted, nil)
	result.ChangesBefore, result.ChangesAfter = sheet.Before, sheet.After
	return result, sheet.Pattern, err
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
