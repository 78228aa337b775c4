// Chalkstep plans and runs beginner machine-embroidery classes. One binary
// serves the web application and offers its computing core to the shell.
package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"os/signal"
	"syscall"
	_ "time/tzdata" // time zones, where the system has none

	"github.com/spf13/cobra"
)

// Exit codes of the shell commands.
const (
	exitBadInput = 1
	exitBadUsage = 2
)

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	if err := newRoot().ExecuteContext(ctx); err != nil {
		fmt.Fprintln(os.Stderr, "chalkstep: "+err.Error())
		var usage usageError
		if errors.As(err, &usage) {
			os.Exit(exitBadUsage)
		}
		os.Exit(exitBadInput)
	}
}

// A usageError is a call whose words are wrong, as opposed to bad input.
type usageError struct{ error }

func newRoot() *cobra.Command {
	root := &cobra.Command{
		Use:           "chalkstep",
		Short:         "Plan and run beginner machine-embroidery classes",
		SilenceErrors: true,
		SilenceUsage:  true,
		Args:          usageArgs(cobra.NoArgs),
		RunE: func(cmd *cobra.Command, _ []string) error {
			return usageError{errors.New("a command is needed: " + commandNames(cmd))}
		},
	}
	root.CompletionOptions.DisableDefaultCmd = true
	root.SetFlagErrorFunc(func(_ *cobra.Command, err error) error { return usageError{err} })
	root.AddCommand(
		newServe("serve", "Serve the application", false),
		newServe("demo", "Serve the application with the demo workshop", true),
		newWorkshop(),
		newInspect(), newConvert(), newRepeat(), newOutline(), newRecipe(), newCut(), newPlan(), newLevers(), newOdds(),
		newSimulate(), newLicences(),
	)
	return root
}

func commandNames(root *cobra.Command) string {
	names := ""
	for _, c := range root.Commands() {
		if names != "" {
			names += ", "
		}
		names += c.Name()
	}
	return names
}

// usageArgs makes a wrong number of arguments a usage error.
func usageArgs(check cobra.PositionalArgs) cobra.PositionalArgs {
	return func(cmd *cobra.Command, args []string) error {
		if err := check(cmd, args); err != nil {
			return usageError{fmt.Errorf("%w; use: %s", err, cmd.UseLine())}
		}
		return nil
	}
}
