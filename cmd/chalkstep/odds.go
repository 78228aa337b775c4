package main

import (
	"fmt"

	"github.com/spf13/cobra"

	"chalkstep/core/say"
	"chalkstep/core/schedule"
	"chalkstep/core/schedule/lever"
	"chalkstep/core/schedule/odds"
	"chalkstep/core/schedule/search"
)

// A leversFile is a plan's file with what could be otherwise.
type leversFile struct {
	schedule.Problem
	Levers []lever.Lever `json:"levers"`
}

// mostLevers of one file are planned.
const mostLevers = 100

func newLevers() *cobra.Command {
	var asJSON bool
	var iterations int
	var seed uint64
	cmd := &cobra.Command{
		Use:   "levers FILE.json [--json] [--iterations N] [--seed 1]",
		Short: "Say what would make a class day shorter, best first",
		Args:  usageArgs(cobra.ExactArgs(1)),
		RunE: func(cmd *cobra.Command, args []string) error {
			var file leversFile
			if err := readJSON(args[0], &file); err != nil {
				return err
			}
			if len(file.Levers) > mostLevers {
				return fmt.Errorf("%s: %d levers: at most %d are planned at once", args[0], len(file.Levers), mostLevers)
			}
			now, outcomes, err := lever.Compare(file.Problem, file.Levers,
				search.Options{Iterations: max(0, iterations), Seed: seed})
			if err != nil {
				return fmt.Errorf("%s: %w", args[0], err)
			}
			if asJSON {
				return printJSON(cmd.OutOrStdout(), struct {
					MakespanMinutes float64         `json:"makespan_minutes"`
					Fits            bool            `json:"fits"`
					Levers          []lever.Outcome `json:"levers"`
				}{now.MakespanMinutes, now.Fits, outcomes})
			}
			out := cmd.OutOrStdout()
			fmt.Fprintf(out, "as it is: done after %.1f minutes\n", now.MakespanMinutes)
			for _, o := range outcomes {
				if o.Problem != "" {
					fmt.Fprintf(out, "%s: %s\n", o.Name, o.Problem)
					continue
				}
				fmt.Fprintf(out, "%s: done after %.1f minutes; %s\n", o.Name, o.MakespanMinutes, o.Because)
			}
			return nil
		},
	}
	cmd.Flags().BoolVar(&asJSON, "json", false, "print one JSON object")
	cmd.Flags().IntVar(&iterations, "iterations", 0, "try this many changed plans for each")
	cmd.Flags().Uint64Var(&seed, "seed", 1, "seed of the search")
	return cmd
}

func newOdds() *cobra.Command {
	var asJSON bool
	var days int
	var seed uint64
	cmd := &cobra.Command{
		Use:   "odds FILE.json [--json] [--days 1000] [--seed 1]",
		Short: "Play a class day many times: how likely is it that everyone finishes",
		Args:  usageArgs(cobra.ExactArgs(1)),
		RunE: func(cmd *cobra.Command, args []string) error {
			var problem schedule.Problem
			if err := readJSON(args[0], &problem); err != nil {
				return err
			}
			r, err := search.Solve(problem, search.Options{Seed: seed})
			if err != nil {
				return fmt.Errorf("%s: %w", args[0], err)
			}
			o, err := odds.Of(problem, r, days, seed)
			if err != nil {
				return fmt.Errorf("%s: %w", args[0], err)
			}
			if asJSON {
				return printJSON(cmd.OutOrStdout(), o)
			}
			out := cmd.OutOrStdout()
			fmt.Fprintf(out, "everyone finishes on %s; five days of ten are done after %.0f minutes, nine after %.0f\n",
				say.Plain.Say(say.T("%s days of %s", say.Count(int(o.FitsShare*float64(o.Days)+0.5)), say.Count(o.Days))), o.P50,
				o.P90)
			for _, risk := range o.Late {
				fmt.Fprintf(out, "%s is late on %.0f %%\n", risk.Job, 100*risk.Share)
			}
			return nil
		},
	}
	cmd.Flags().BoolVar(&asJSON, "json", false, "print one JSON object")
	cmd.Flags().IntVar(&days, "days", 1000, "play this many days")
	cmd.Flags().Uint64Var(&seed, "seed", 1, "seed of the plan and of the days")
	return cmd
}
