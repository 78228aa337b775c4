// Package instance is a problem made ready to be searched: names are indices, times whole ticks,
// operations are cut into blocks inside which something is held, and what cannot be told apart is one.
package instance

import (
	"cmp"
	"errors"
	"fmt"
	"maps"
	"math"
	"slices"

	"chalkstep/core/schedule"
)

// An Instance is a Problem with its names replaced by indices: resources are the
// machines, each of capacity 1 unless it stands for identical machines, and after them the resources.
type Instance struct {
	Problem  schedule.Problem
	Machines int
	Capacity []int
	Jobs     []CompiledJob
	// Options has, for each machine choice to be made over all jobs, the
	// machine of each option; one stands there for each set of resources that may be
	// taken for it.
	Options [][]int
	// OpenChoices are the choices with more than one option that do not follow another.
	OpenChoices []int
	// Unavailable is what of each resource is out, closed when nobody works.
	Unavailable []Profile
	Closed      Profile
	// takenResources are those of which somebody keeps a unit from operation to operation, parted tells that
	// there are blocks in parts.
	takenResources map[int]bool
	Parted         bool
	// Pinned names jobs, once for each turn that is placed before all others.
	Pinned []int
	// Plain is nil where the instance is not.
	Plain *Plain
	// Interchangeable are the resources and Identical the machines that are one here, where the
	// problem was joined.
	Interchangeable Interchangeable
	Identical       Identical
}

// A CompiledJob is one job's operations, cut into blocks.
type CompiledJob struct {
	Ready schedule.Tick
	// Fill is how much of their waits is not idle, whatever it is; practice is what they
	// can do in them, once each.
	Fill       schedule.Tick
	Practice   []schedule.Activity
	Operations []CompiledOperation
	Blocks     []Block
	// Turns are how many of the blocks are placed with each turn in an order: up
	// to the next for which others may have to be waited for. leads is the time before that
	// block in each turn, left the least after the turn.
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

type Claim struct{ Resource, Units int }

// A Hold keeps a unit of a resource from the start of operation from to the end
// of operation to, both counted in the job.
type Hold struct {
	From, To int
	// Resource is fixed, or -1 where it follows the chain's choice: then
	// byOption has it for each option (-1 for none).
	Resource int
	Chain    int
	ByOption []int
	// AtOperation is the first operation of that chain.
	AtOperation int
	// choice has the resources by machine, until the chain's options are final.
	choice [][]int
}

// A Block is a stretch of operations inside which something is held from operation to
// operation. Before and after it the job holds nothing, so blocks can be placed
// one after another in any order without a deadlock.
type Block struct {
	From, To int // operations from … to−1 of the job
	Holds    []Hold
	Chains   []Chain
	// Free tells that it waits for nothing but the block before.
	Free bool
	// Leads tells that its operations before its one chain wait for nothing of their own.
	Leads bool
	// Parted is nil for a block that is whole. The parts of one follow one another; then it has
	// all of it, parts tells how many are left with this one, and later that it is not the first.
	Parted *Block
	Parts  int
	Later  bool
	// Sure tells that it can be placed wherever the windows of its one chain are free:
	// nothing of it waits for anything else.
	Sure bool
	// Alone are, for one operation at the bench that waits for resources and nothing else, what has
	// to be free from its start; nil for all others.
	Alone []Window
}

// A Chain is one choice of a machine, shared by the operations that keep it.
type Chain struct {
	Index   int
	Options []int // machines
	// Before and after are the least time of its block before and after it, length
	// is its own by option.
	Before, After schedule.Tick
	Length        []schedule.Tick
	// Windows are, by option, what has to be free around its start.
	Windows [][]Window
	// Tied is the chain of the block whose machine this one follows, −1 for none: then
	// follows has the option here for each of that one, and leader is an operation of that one.
	Tied    int
	Follows []int
	Leader  int
}

// A Window is a stretch around the start of a chain in which a resource has to have
// units free, however its block is placed.
type Window struct {
	Resource, Units int
	From, To        schedule.Tick
}

// Compile checks a problem and turns it into an instance.
func Compile(p schedule.Problem) (*Instance, error) {
	if err := p.Check(); err != nil {
		return nil, err
	}
	return build(p, nil)
}

// build is the instance of a problem that was checked, in which some machines stand for several.
func build(p schedule.Problem, twins Identical) (*Instance, error) {
	s := &Instance{Problem: p, Machines: len(p.Machines)}
	machine, resource := map[string]int{}, map[string]int{}
	s.Closed = away(p.Closed, 1)
	for i, st := range p.Machines {
		machine[st.ID] = i
		s.Capacity = append(s.Capacity, max(1, len(twins[st.ID])))
		s.Unavailable = append(s.Unavailable, away(st.Unavailable, 1))
	}
	for i, pl := range p.Resources {
		resource[pl.ID] = len(p.Machines) + i
		s.Capacity = append(s.Capacity, pl.Count)
		s.Unavailable = append(s.Unavailable, away(pl.Unavailable, pl.Count))
	}
	s.takenResources = map[int]bool{}
	for _, job := range p.Jobs {
		for _, step := range job.Operations {
			for _, name := range slices.Concat(step.Take, step.MayTake()) {
				s.takenResources[resource[name]] = true
			}
		}
	}
	for _, job := range p.Jobs {
		j, err := s.compileJob(job, machine, resource)
		if err != nil {
			return nil, err
		}
		s.Jobs = append(s.Jobs, j)
		s.Parted = s.Parted || slices.ContainsFunc(j.Blocks, func(b Block) bool { return b.Parted != nil })
	}
	s.OpenChoices = s.findOpenChoices()
	s.pin()
	s.Plain = s.newPlain()
	return s, nil
}

// away is what spans take of a resource.
func away(spans []schedule.Interval, all int) Profile {
	var p Profile
	p.reset()
	for _, span := range spans {
		p.Add(schedule.Ticks(span.From), schedule.Ticks(span.To), cmp.Or(span.Units, all))
	}
	return p
}

// pin lists who is placed first: those who are pinned, up to their last pinned operation, the
// earliest pin first.
func (s *Instance) pin() {
	type pin struct {
		person, turns int
		at            float64
	}
	var pins []pin
	for i, job := range s.Problem.Jobs {
		p := pin{person: i, at: math.Inf(1)}
		for k, step := range job.Operations {
			if step.At != nil {
				p.at = min(p.at, *step.At)
				p.turns = 1 + slices.IndexFunc(s.Jobs[i].Turns, func(blocks int) bool { return k < s.Jobs[i].Blocks[blocks-1].To })
			}
		}
		if p.turns > 0 {
			pins = append(pins, p)
		}
	}
	slices.SortStableFunc(pins, func(a, b pin) int { return cmp.Compare(a.at, b.at) })
	for _, p := range pins {
		for range p.turns {
			s.Pinned = append(s.Pinned, p.person)
		}
	}
}

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
	c.holds = append(c.holds, s.takes(person, resource, c.chainOf)...)
	if err := c.settleChains(); err != nil {
		return CompiledJob{}, fmt.Errorf("person %s: %w", person.ID, err)
	}
	c.settleOperations()
	s.cutBlocks(&c.made, c.holds, c.chains, c.chainOf)
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

// tie leaves chains that others follow only the machines that serve those too.
func tie(chains []Chain) error {
	for _, c := range chains {
		if c.Tied < 0 {
			continue
		}
		first := &chains[c.Tied]
		first.Options = slices.DeleteFunc(slices.Clone(first.Options), func(o int) bool {
			return !slices.Contains(c.Options, o)
		})
		if len(first.Options) == 0 {
			return errors.New("no station does both a step and the later one that wants the same")
		}
	}
	return nil
}

// nothing is a hold that keeps two operations in one block and takes nothing.
func (s *Instance) nothing(from, to, chain int) Hold {
	h := Hold{From: from, To: to, Resource: -1, Chain: chain}
	for range s.Machines {
		h.choice = append(h.choice, []int{-1})
	}
	return h
}

// follow gives a tied chain its option for each of the other's, once these are final.
func (c *Chain) follow(earlier *Chain) {
	for _, machine := range earlier.Options {
		c.Follows = append(c.Follows, slices.Index(c.Options, machine))
	}
}

// mostOptions of one choice: machines times the resources that may be taken there.
const mostOptions = 200

// widen gives a chain an option for each of its machines and each set of resources
// that its holds may take for it.
func widen(c *Chain, at int, holds []Hold) error {
	for i := range holds {
		h := &holds[i]
		if h.Chain != at || h.choice == nil {
			continue
		}
		var machines []int
		var mine []int
		from := []int{} // the option each new one comes of
		for o, st := range c.Options {
			for _, resource := range h.choice[st] {
				machines, mine, from = append(machines, st), append(mine, resource), append(from, o)
			}
		}
		if len(machines) > mostOptions {
			return fmt.Errorf("it may choose among %d ways at a station: expected at most %d", len(machines), mostOptions)
		}
		for k := range holds[:i] {
			if earlier := &holds[k]; earlier.Chain == at && earlier.ByOption != nil {
				wide := make([]int, len(from))
				for n, o := range from {
					wide[n] = earlier.ByOption[o]
				}
				earlier.ByOption = wide
			}
		}
		c.Options, h.ByOption = machines, mine
	}
	return nil
}

// takes lists what a job's Take, TakeFor and Release hold and for how
// long.
func (s *Instance) takes(job schedule.Job, resource map[string]int, chainOf []int) []Hold {
	var holds []Hold
	last := len(job.Operations) - 1
	until := func(from int, names []string) int {
		for i := from; i <= last; i++ {
			if slices.ContainsFunc(names, func(n string) bool { return slices.Contains(job.Operations[i].Release, n) }) {
				return i
			}
		}
		return last
	}
	for i, step := range job.Operations {
		for n, name := range step.Take {
			from := i
			// A second unit of the same resource goes back at the next release.
			for _, earlier := range step.Take[:n] {
				if earlier == name {
					from = min(last, until(from, []string{name})+1)
				}
			}
			holds = append(holds, Hold{From: i, To: until(from, []string{name}), Resource: resource[name], Chain: -1})
		}
		if len(step.TakeFor) > 0 {
			next := i
			for chainOf[next] < 0 {
				next++
			}
			h := Hold{From: i, Resource: -1, Chain: chainOf[next]}
			h.To = max(next, until(i, step.MayTake()))
			for _, st := range s.Problem.Machines {
				choice := []int{-1}
				if names, ok := step.TakeFor[st.ID]; ok {
					choice = choice[:0]
					for _, name := range names {
						choice = append(choice, resource[name])
					}
				}
				h.choice = append(h.choice, choice)
			}
			holds = append(holds, h)
		}
	}
	return holds
}

// cutBlocks cuts the job wherever nothing is held from one operation to the next,
// and gives each block its holds and chains.
func (s *Instance) cutBlocks(j *CompiledJob, holds []Hold, chains []Chain, chainOf []int) {
	start := 0
	for i := range j.Operations {
		held := slices.ContainsFunc(holds, func(h Hold) bool { return h.From <= i && i < h.To })
		if held {
			continue
		}
		b := Block{From: start, To: i + 1}
		for _, h := range holds {
			if h.From >= start && h.From <= i {
				if h.Chain >= 0 {
					h.AtOperation, _ = j.ChainSpan(h.Chain)
				}
				b.Holds = append(b.Holds, h)
			}
		}
		first := -1
		for c := range chains {
			if at := slices.Index(chainOf, c); at >= start && at <= i {
				if first < 0 {
					first = c
				}
				one := chains[c]
				if one.Tied >= 0 {
					one.Leader = slices.Index(chainOf, one.Tied)
					one.Tied -= first // its place in the block
				}
				b.Chains = append(b.Chains, one)
			}
		}
		for c := range b.Chains {
			j.measure(&b, &b.Chains[c])
		}
		j.watch(&b)
		b.Free = len(b.Holds) == 0 && i == start && j.Operations[i].free()
		j.Blocks = append(j.Blocks, j.part(&b, s.takenResources)...)
		start = i + 1
	}
	j.cutTurns()
}

// Waits is the first operation of the turn of so many blocks that may have to wait.
func (j *CompiledJob) Waits(blocks int) int { return j.Blocks[j.Waiting(blocks)].From }

// Waiting is the block of the turn of so many blocks that may have to wait.
func (j *CompiledJob) Waiting(blocks int) int {
	b := blocks - 1
	for b > 0 && j.Blocks[b].Free {
		b--
	}
	return b
}

// free tells whether an operation waits for nothing but the one before it.
func (o *CompiledOperation) free() bool { return o.Chain < 0 && o.waitsForNothing() }

// waitsForNothing tells that an operation waits for nothing of its own, but maybe for a machine.
func (o *CompiledOperation) waitsForNothing() bool {
	return o.At == 0 && len(o.OneOf) == 0 && len(o.Needs) == 0
}

// measure tells how long a chain is, and its block before and after it.
func (j *CompiledJob) measure(b *Block, c *Chain) {
	first, last := j.ChainSpan(c.Index)
	if first > b.From {
		c.Before = j.Between(b.From, first-1)
	}
	c.After = j.Between(last+1, b.To-1)
	for option := range c.Options {
		length := schedule.Tick(0)
		for k := first; k <= last; k++ {
			if j.Operations[k].Chain == c.Index {
				length += j.Operations[k].On[option]
			} else {
				length += j.OperationMinimum(k)
			}
		}
		c.Length = append(c.Length, length)
	}
}

// watch finds the windows of a block's chain, where it has one alone, whether they are all
// there is to wait for, and whether the operations before it wait for nothing of their own.
func (j *CompiledJob) watch(b *Block) {
	if o := &j.Operations[b.From]; b.To == b.From+1 && len(b.Holds) == 0 && o.Chain < 0 && o.At == 0 && len(o.OneOf) == 0 {
		for _, need := range o.Needs {
			b.Alone = append(b.Alone, Window{need.Resource, need.Units, 0, o.Minutes})
		}
	}
	if len(b.Chains) != 1 {
		return
	}
	c := &b.Chains[0]
	first, last := j.ChainSpan(c.Index)
	b.Leads = true
	for k := b.From; k < first; k++ {
		b.Leads = b.Leads && j.Operations[k].free()
	}
	b.Sure = b.Leads && j.Operations[first].At == 0 && len(j.Operations[first].OneOf) == 0
	for k := first + 1; k < b.To; k++ {
		b.Sure = b.Sure && j.Operations[k].waitsForNothing()
	}
	for option := range c.Options {
		c.Windows = append(c.Windows, j.windowsOf(b, c, option, first, last))
	}
}

// windowsOf are the windows of a block's one chain with an option; the block is not sure where more
// than these has to be free.
func (j *CompiledJob) windowsOf(b *Block, c *Chain, option, first, last int) []Window {
	machine := c.Options[option]
	windows := []Window{{machine, 1, 0, c.Length[option]}}
	for _, need := range j.Operations[first].Needs {
		windows = append(windows, Window{need.Resource, need.Units, 0, j.Operations[first].On[option]})
	}
	for _, h := range b.Holds {
		resource := h.Resource
		if resource < 0 {
			resource = h.ByOption[option]
		}
		switch {
		case resource == machine:
			b.Sure = b.Sure && h.From >= first && h.To <= last
			continue
		case resource < 0:
			continue
		case h.From > first || h.To < first:
			b.Sure = false
			continue
		}
		to := schedule.Tick(0)
		for k := first; k <= h.To; k++ {
			if j.Operations[k].Chain == c.Index {
				to += j.Operations[k].On[option]
			} else {
				to += j.Operations[k].Minutes
			}
		}
		windows = append(windows, Window{resource, 1, -j.Between(h.From, first-1), to})
	}
	for i, w := range windows {
		b.Sure = b.Sure && !slices.ContainsFunc(windows[:i], func(o Window) bool { return o.Resource == w.Resource })
	}
	return windows
}

// HasCalendar tells whether anything is out at times.
func (s *Instance) HasCalendar() bool {
	return !s.Closed.Flat() || slices.ContainsFunc(s.Unavailable, func(p Profile) bool { return !p.Flat() })
}

// anyTime tells that nothing is bound to a time, nothing is out and no operation pinned: an order
// says all there is to say.
func (s *Instance) anyTime() bool { return len(s.Pinned) == 0 && !s.HasCalendar() }

func (j *CompiledJob) cutTurns() {
	for b := range j.Blocks {
		if !j.Blocks[b].Free {
			j.Turns = append(j.Turns, b+1)
		}
	}
	if len(j.Blocks) == 0 {
		return
	}
	if len(j.Turns) == 0 {
		j.Turns = []int{len(j.Blocks)}
	}
	j.Turns[len(j.Turns)-1] = len(j.Blocks)
	j.Ordered = len(j.Turns)
	for last := len(j.Turns); last > 0; last-- {
		if len(j.Blocks[j.Waiting(j.Turns[last-1])].Chains) > 0 {
			j.Ordered = last
			break
		}
	}
	from := 0
	for _, blocks := range j.Turns {
		lead, left := schedule.Tick(0), schedule.Tick(0)
		for b := from; b < j.Waiting(blocks); b++ {
			lead += j.BlockMinimum(&j.Blocks[b])
		}
		from = blocks
		for b := blocks; b < len(j.Blocks); b++ {
			left += j.BlockMinimum(&j.Blocks[b])
		}
		j.Leads, j.Left = append(j.Leads, lead), append(j.Left, left)
	}
}

// MachineAt is the machine of operation k of a job, or −1 at the bench.
func (s *Instance) MachineAt(j *CompiledJob, k, option int) int {
	if j.Operations[k].Chain < 0 {
		return -1
	}
	return s.Options[j.Operations[k].Chain][option]
}

// Held is the resource a hold takes under the chosen options, −1 for none.
func (j *CompiledJob) Held(h Hold, options []int) int {
	if h.Resource >= 0 {
		return h.Resource
	}
	return h.ByOption[options[h.AtOperation]]
}

func (s *Instance) Name(resource int) string {
	switch {
	case resource < 0:
		return ""
	case resource < s.Machines:
		return s.Problem.Machines[resource].ID
	}
	return s.Problem.Resources[resource-s.Machines].ID
}

// TurnOf is the turn in which an operation is placed, from 0.
func (j *CompiledJob) TurnOf(step int) int {
	for t, blocks := range j.Turns {
		if step < j.Blocks[blocks-1].To {
			return t
		}
	}
	return len(j.Turns) - 1
}

// findOpenChoices are the chains that may choose, and do not follow another.
func (s *Instance) findOpenChoices() []int {
	var open []int
	for i := range s.Jobs {
		for _, b := range s.Jobs[i].Blocks {
			for _, c := range b.Chains {
				if c.Tied < 0 && len(c.Options) > 1 {
					open = append(open, c.Index)
				}
			}
		}
	}
	return open
}

// Tie has chains follow the machines of those they are tied to.
func (b *Block) Tie(options []int) {
	for i, c := range b.Chains {
		if c.Tied >= 0 {
			options[i] = c.Follows[options[c.Tied]]
		}
	}
}
