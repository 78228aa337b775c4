package instance

import (
	"errors"
	"fmt"
	"maps"
	"slices"

	"chalkstep/core/schedule"
)

// A CompiledJob is one job's operations, cut into blocks.
type CompiledJob struct {
	Ready schedule.Tick
	// Fill is how much of their waits is not idle, whatever it is; Practice is what they
	// can do in them, once each.
	Fill       schedule.Tick
	Practice   []schedule.Activity
	Operations []CompiledOperation
	Blocks     []Block
	// Turns are how many of the blocks are placed with each turn in an order: up
	// to the next for which others may have to be waited for. Leads is the time before that
	// block in each turn, Left the least after the turn.
	Turns       []int
	Leads, Left []schedule.Tick
	// Ordered is how many of the turns an order has to say: all up to the last at a
	// machine, or all where there is none.
	Ordered int
}

// A CompiledOperation is an operation.
type CompiledOperation struct {
	Minutes schedule.Tick
	// Chain is the machine choice the operation follows, -1 at the bench.
	Chain int
	// On holds, by index into the chain's options, the operation's ticks there.
	On    []schedule.Tick
	Needs []Claim
	// OneOf are resources of which one gives a unit.
	OneOf []int
	// At is the minute before which it does not begin.
	At schedule.Tick
}

// A Claim is a number of units of a resource that an operation needs.
type Claim struct{ Resource, Units int }

// compileJob makes one job of the problem ready. It fails where no machine can do what the job needs.
func (s *Instance) compileJob(person schedule.Job, machine, resource map[string]int) (CompiledJob, error) {
	c := jobCompiler{Instance: s, job: person, machine: machine, resource: resource, kept: -1}
	c.made = CompiledJob{Ready: schedule.Ticks(person.Ready), Fill: schedule.Ticks(person.FillMinutes),
		Practice: schedule.Activities(person.Practice), Operations: make([]CompiledOperation, len(person.Operations))}
	for i := range person.Operations {
		c.chainOf = append(c.chainOf, -1)
		if err := c.onMachine(i); err != nil {
			return CompiledJob{}, fmt.Errorf("person %s, step %d (%s): %w", person.ID, i+1, person.Operations[i].ID, err)
		}
		c.atBench(i)
	}
	c.takes()
	if err := c.settleChains(); err != nil {
		return CompiledJob{}, fmt.Errorf("person %s: %w", person.ID, err)
	}
	c.settleOperations()
	c.cutBlocks()
	return c.made, nil
}

// A jobCompiler makes one job ready.
type jobCompiler struct {
	*Instance
	job               schedule.Job
	machine, resource map[string]int
	made              CompiledJob
	holds             []Hold
	chains            []Chain
	chainOf           []int // by operation: index into chains, -1 at the bench
	kept              int   // the operation whose machine is kept, -1 for none
}

// onMachine finds the chain of an operation that is done at a machine.
func (c *jobCompiler) onMachine(i int) error {
	operation := c.job.Operations[i]
	if len(operation.On) == 0 {
		return nil
	}
	if c.kept >= 0 { // the chain goes on: only machines that serve both operations are left
		c.chainOf[i] = c.chainOf[c.kept]
		c.holds = append(c.holds, Hold{From: c.kept, To: i, Resource: -1, Chain: c.chainOf[i]})
		chain := &c.chains[c.chainOf[i]]
		chain.Options = slices.DeleteFunc(chain.Options, func(o int) bool {
			_, ok := operation.On[c.Problem.Machines[o].ID]
			return !ok
		})
		if len(chain.Options) == 0 {
			return errors.New("no station does both this step and the one that keeps its station")
		}
	} else {
		chain := Chain{Index: len(c.Options), Tied: -1}
		for _, name := range slices.Sorted(maps.Keys(operation.On)) {
			chain.Options = append(chain.Options, c.machine[name])
		}
		c.Options = append(c.Options, nil)
		c.chainOf[i] = len(c.chains)
		c.chains = append(c.chains, chain)
		if operation.SameMachine {
			c.tieToLast(i)
		}
	}
	c.kept = -1
	if operation.KeepMachine {
		c.kept = i
	}
	return nil
}

// tieToLast has the chain of an operation follow that of the operation before at a machine.
func (c *jobCompiler) tieToLast(i int) {
	last := machineOperationBefore(c.job, i)
	chain := &c.chains[c.chainOf[i]]
	if chain.Tied = c.chainOf[last]; c.chains[chain.Tied].Tied >= 0 {
		chain.Tied = c.chains[chain.Tied].Tied
	}
	c.holds = append(c.holds, c.nothing(last, i, c.chainOf[last]))
}

// atBench is what an operation needs wherever it is done.
func (c *jobCompiler) atBench(i int) {
	operation, made := c.job.Operations[i], &c.made.Operations[i]
	if operation.Minutes != nil {
		made.Minutes = schedule.Ticks(*operation.Minutes)
	}
	if operation.At != nil {
		made.At = schedule.Ticks(*operation.At)
	}
	for _, name := range operation.NeedsOneOf {
		made.OneOf = append(made.OneOf, c.resource[name])
	}
	for _, name := range slices.Sorted(maps.Keys(operation.Needs)) {
		if units := operation.Needs[name]; units > 0 {
			made.Needs = append(made.Needs, Claim{c.resource[name], units})
		}
	}
}

// settleChains gives the chains their options.
func (c *jobCompiler) settleChains() error {
	if err := tie(c.chains); err != nil {
		return err
	}
	for i := range c.chains {
		if err := widen(&c.chains[i], i, c.holds); err != nil {
			return err
		}
		c.Options[c.chains[i].Index] = c.chains[i].Options
	}
	for i := range c.chains {
		if tied := c.chains[i].Tied; tied >= 0 {
			c.chains[i].follow(&c.chains[tied])
		}
	}
	return nil
}

// settleOperations gives operations and holds what the options of their chains are for them.
func (c *jobCompiler) settleOperations() {
	for i, operation := range c.job.Operations {
		made := &c.made.Operations[i]
		made.Chain = -1
		if n := c.chainOf[i]; n >= 0 {
			made.Chain = c.chains[n].Index
			for _, o := range c.chains[n].Options {
				made.On = append(made.On, schedule.Ticks(operation.On[c.Problem.Machines[o].ID]))
			}
		}
	}
	for i := range c.holds {
		if h := &c.holds[i]; h.Chain >= 0 {
			if h.choice == nil {
				h.ByOption = c.chains[h.Chain].Options // a kept machine
			}
			h.Chain, h.choice = c.chains[h.Chain].Index, nil
		}
	}
}

// machineOperationBefore is the operation with On before one.
func machineOperationBefore(job schedule.Job, i int) int {
	for i--; len(job.Operations[i].On) == 0; i-- {
	}
	return i
}

// free tells whether an operation waits for nothing but the one before it.
func (o *CompiledOperation) free() bool { return o.Chain < 0 && o.waitsForNothing() }

// waitsForNothing tells that an operation waits for nothing of its own, but maybe for a machine.
func (o *CompiledOperation) waitsForNothing() bool {
	return o.At == 0 && len(o.OneOf) == 0 && len(o.Needs) == 0
}
