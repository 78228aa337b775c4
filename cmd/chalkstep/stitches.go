package main

import (
	"fmt"
	"math"
	"os"

	"github.com/spf13/cobra"

	"chalkstep/core/measure"
	"chalkstep/core/stitch"
	_ "chalkstep/core/stitch/dst"
	_ "chalkstep/core/stitch/exp"
	_ "chalkstep/core/stitch/jef"
	_ "chalkstep/core/stitch/pes"
)

// inspection is what inspect prints.
type inspection struct {
	Format       string       `json:"format"`
	WidthMM      float64      `json:"width_mm"`
	HeightMM     float64      `json:"height_mm"`
	Stitches     int          `json:"stitches"`
	Jumps        int          `json:"jumps"`
	Trims        int          `json:"trims"`
	ColorChanges int          `json:"color_changes"`
	Stops        []stopReport `json:"stops"`
	Warnings     []string     `json:"warnings"`
}

type stopReport struct {
	N        int         `json:"n"`
	Color    *string     `json:"color"`
	Role     stitch.Role `json:"role"`
	Stitches int         `json:"stitches"`
	Jumps    int         `json:"jumps"`
	Trims    int         `json:"trims"`
	ThreadMM float64     `json:"thread_mm"`
	// BoundsMM is left, bottom, right, top from the design's centre, y up.
	BoundsMM [4]float64 `json:"bounds_mm"`
}

func newInspect() *cobra.Command {
	var asJSON bool
	cmd := &cobra.Command{
		Use:   "inspect FILE [--json]",
		Short: "Say what a stitch file is: size, stitches, stops and what each sews",
		Args:  usageArgs(cobra.ExactArgs(1)),
		RunE: func(cmd *cobra.Command, args []string) error {
			pattern, format, err := readPattern(args[0])
			if err != nil {
				return err
			}
			a := stitch.Analyse(pattern)
			if asJSON {
				return printJSON(cmd.OutOrStdout(), report(format.Name, a))
			}
			out := cmd.OutOrStdout()
			fmt.Fprintf(out, "%s, %s stitches in %s, .%s\n", measure.Size(a.WidthMM, a.HeightMM), measure.Count(a.Stitches),
				measure.Plural(len(a.Stops), "stop"), format.Name)
			for _, s := range a.Stops {
				fmt.Fprintf(out, "%3d  %-9s  %6s stitches  %8s of path\n", s.N, s.Role, measure.Count(s.Stitches),
					measure.Metres(s.ThreadMM))
			}
			for _, w := range a.Warnings {
				fmt.Fprintln(cmd.ErrOrStderr(), "warning: "+w)
			}
			return nil
		},
	}
	cmd.Flags().BoolVar(&asJSON, "json", false, "print one JSON object")
	return cmd
}

func report(format string, a stitch.Analysis) inspection {
	r := inspection{
		Format: format, WidthMM: round(a.WidthMM), HeightMM: round(a.HeightMM),
		Stitches: a.Stitches, Jumps: a.Jumps, Trims: a.Trims, ColorChanges: a.ColorChanges,
		Stops: []stopReport{}, Warnings: append([]string{}, a.Warnings...),
	}
	for _, s := range a.Stops {
		stop := stopReport{
			N: s.N, Role: s.Role, Stitches: s.Stitches, Jumps: s.Jumps, Trims: s.Trims, ThreadMM: round(s.ThreadMM),
			BoundsMM: [4]float64{round(s.Bounds.Left), round(s.Bounds.Bottom), round(s.Bounds.Right), round(s.Bounds.Top)},
		}
		if s.Color != nil {
			text := s.Color.String()
			stop.Color = &text
		}
		r.Stops = append(r.Stops, stop)
	}
	return r
}

// round keeps a thousandth of a millimetre, far below what a file can say.
func round(mm float64) float64 { return math.Round(mm*1000) / 1000 }

func newConvert() *cobra.Command {
	return &cobra.Command{
		Use:   "convert IN OUT",
		Short: "Write a stitch file in the format of OUT's name",
		Args:  usageArgs(cobra.ExactArgs(2)),
		RunE: func(cmd *cobra.Command, args []string) error {
			pattern, _, err := readPattern(args[0])
			if err != nil {
				return err
			}
			data, err := stitch.Encode(args[1], pattern)
			if err != nil {
				return err
			}
			written, _, err := stitch.Decode(args[1], data)
			if err != nil {
				return fmt.Errorf("checking what was written: %w", err)
			}
			if err := writeFile(args[1], data); err != nil {
				return err
			}
			for _, warning := range pattern.Warnings {
				fmt.Fprintln(cmd.ErrOrStderr(), "warning: "+warning)
			}
			for _, loss := range stitch.Losses(pattern, written) {
				fmt.Fprintln(cmd.ErrOrStderr(), "lost: "+loss)
			}
			return nil
		},
	}
}

// readPattern reads a stitch file, and no more of it than a file may hold.
func readPattern(path string) (*stitch.Pattern, stitch.Format, error) {
	if _, err := stitch.ByName(path); err != nil {
		return nil, stitch.Format{}, err
	}
	info, err := os.Stat(path)
	if err != nil {
		return nil, stitch.Format{}, fmt.Errorf("reading %s: %w", path, unwrapPath(err))
	}
	if info.IsDir() || info.Size() > stitch.MaxBytes {
		return nil, stitch.Format{},
			fmt.Errorf("reading %s: expected a file of at most %s bytes", path, measure.Count(stitch.MaxBytes))
	}
	data, err := os.ReadFile(path)
	if err != nil {
		return nil, stitch.Format{}, fmt.Errorf("reading %s: %w", path, unwrapPath(err))
	}
	return stitch.Decode(path, data)
}

// writeFile keeps what a command made.
func writeFile(path string, data []byte) error {
	if err := os.WriteFile(path, data, 0o644); err != nil {
		return fmt.Errorf("writing %s: %w", path, unwrapPath(err))
	}
	return nil
}
