package main

import (
	"errors"
	"fmt"
	"time"

	"github.com/spf13/cobra"

	"chalkstep/core/measure"
	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/schedule"
	"chalkstep/core/schedule/search"
	"chalkstep/core/technique"
)

// A recipeAnswer is a recipe with the techniques that the house proposes for it.
type recipeAnswer struct {
	recipe.Recipe
	Techniques []techniqueAnswer `json:"techniques"`
}

// A techniqueAnswer is a technique, why it is proposed, and the other schools.
type techniqueAnswer struct {
	Key     technique.Key  `json:"key"`
	Group   string         `json:"group"`
	Name    say.Text       `json:"name"`
	Because say.Text       `json:"because"`
	Others  []schoolAnswer `json:"others"`
}

type schoolAnswer struct {
	Key     technique.Key `json:"key"`
	Name    say.Text      `json:"name"`
	Because say.Text      `json:"because"`
}

func proposalsOf(request recipe.Request, r recipe.Recipe) []techniqueAnswer {
	answers := []techniqueAnswer{}
	for _, p := range technique.Propose(technique.WorkFor(request, r)) {
		a := techniqueAnswer{Key: p.Key, Group: string(p.Group), Name: p.Name, Because: p.Why, Others: []schoolAnswer{}}
		for _, o := range p.Others {
			a.Others = append(a.Others, schoolAnswer{o.Key, o.Name, o.Because})
		}
		answers = append(answers, a)
	}
	return answers
}

func newRecipe() *cobra.Command {
	var asJSON bool
	cmd := &cobra.Command{
		Use:   "recipe FILE.json [--json]",
		Short: "Say what goes under, over and through a blank, and why",
		Args:  usageArgs(cobra.ExactArgs(1)),
		RunE: func(cmd *cobra.Command, args []string) error {
			var request recipe.Request
			if err := readJSON(args[0], &request); err != nil {
				return err
			}
			r, err := recipe.For(request)
			if err != nil {
				return fmt.Errorf("%s: %w", args[0], err)
			}
			if asJSON {
				for _, list := range []*[]say.Text{&r.Prepare, &r.Before, &r.After, &r.Cautions} {
					*list = append([]say.Text{}, *list...) // [] and not null
				}
				return printJSON(cmd.OutOrStdout(), recipeAnswer{r, proposalsOf(request, r)})
			}
			out := cmd.OutOrStdout()
			for _, layer := range r.Under {
				fmt.Fprintf(out, "under: %s %s, %s %s, cut %s\n", layer.Weight, layer.What, measure.Plural(layer.Sheets, "sheet"),
					layer.How, measure.Size(layer.CutMM[0], layer.CutMM[1]))
			}
			if r.Over != nil {
				fmt.Fprintf(out, "over: %s, cut %s\n", r.Over.What, measure.Size(r.Over.CutMM[0], r.Over.CutMM[1]))
			}
			fmt.Fprintf(out, "through: needle %s %s, %s, bobbin %s\nhooping: %s, %s\n", r.Needle.Size, r.Needle.Point,
				r.TopThread, r.Bobbin, r.Hooping, r.Tightness)
			for _, reason := range r.Reasons {
				fmt.Fprintf(out, "because %s: %s\n", reason.Rule, reason.Because)
			}
			for _, p := range technique.Propose(technique.WorkFor(request, r)) {
				fmt.Fprintf(out, "technique %s: %s\n", p.Name, p.Why)
			}
			for _, caution := range r.Cautions {
				fmt.Fprintln(out, "caution:", caution)
			}
			return nil
		},
	}
	cmd.Flags().BoolVar(&asJSON, "json", false, "print one JSON object")
	return cmd
}

func newPlan() *cobra.Command {
	var asJSON bool
	var budget time.Duration
	var iterations int
	var seed uint64
	cmd := &cobra.Command{
		Use:   "plan FILE.json [--json] [--budget 500ms | --iterations N] [--seed 1]",
		Short: "Plan a class day: who is at which machine when",
		Args:  usageArgs(cobra.ExactArgs(1)),
		RunE: func(cmd *cobra.Command, args []string) error {
			if cmd.Flags().Changed("budget") && cmd.Flags().Changed("iterations") {
				return usageError{errors.New("--budget and --iterations exclude each other: give one")}
			}
			if budget < 0 || iterations < 0 {
				return usageError{errors.New("--budget and --iterations are 0 or more")}
			}
			var problem schedule.Problem
			if err := readJSON(args[0], &problem); err != nil {
				return err
			}
			options := search.Options{Iterations: iterations, Seed: seed}
			if budget > 0 {
				begun := time.Now()
				options.Used = func() float64 { return float64(time.Since(begun)) / float64(budget) }
			}
			r, err := search.Solve(problem, options)
			if err != nil {
				return fmt.Errorf("%s: %w", args[0], err)
			}
			if asJSON {
				return printJSON(cmd.OutOrStdout(), r)
			}
			out := cmd.OutOrStdout()
			fmt.Fprintf(out, "done after %.1f minutes (none can be shorter than %.1f); waited for longest: %s\n",
				r.MakespanMinutes, r.LowerBoundMinutes, r.Bottleneck)
			for _, s := range r.Assignments {
				fmt.Fprintf(out, "%7.1f –%7.1f  %s  %s  %s\n", s.Start, s.End, s.Job, s.Operation, s.Machine)
			}
			return nil
		},
	}
	cmd.Flags().BoolVar(&asJSON, "json", false, "print one JSON object")
	cmd.Flags().DurationVar(&budget, "budget", 0, "search for this long")
	cmd.Flags().IntVar(&iterations, "iterations", 0, "try this many changed plans")
	cmd.Flags().Uint64Var(&seed, "seed", 1, "seed of the search")
	return cmd
}
