package instance

import (
	"errors"
	"fmt"
	"slices"

	"chalkstep/core/schedule"
)

// A Chain is one choice of a machine, shared by the operations that keep it.
type Chain struct {
	Index   int
	Options []int // machines
	// Before and After are the least time of its block before and after it, Length
	// is its own by option.
	Before, After schedule.Tick
	Length        []schedule.Tick
	// Windows are, by option, what has to be free around its start.
	Windows [][]Window
	// Tied is the chain of the block whose machine this one follows, −1 for none: then
	// Follows has the option here for each of that one, and Leader is an operation of that one.
	Tied    int
	Follows []int
	Leader  int
}

// mostOptions of one choice: machines times the resources that may be taken there.
const mostOptions = 200

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

// follow gives a tied chain its option for each of the other's, once these are final.
func (c *Chain) follow(earlier *Chain) {
	for _, machine := range earlier.Options {
		c.Follows = append(c.Follows, slices.Index(c.Options, machine))
	}
}

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
		if len(machines) == 0 {
			return errors.New("no plan exists: of the pools of which a station takes one there is none")
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

// Tie has chains follow the machines of those they are tied to.
func (b *Block) Tie(options []int) {
	for i, c := range b.Chains {
		if c.Tied >= 0 {
			options[i] = c.Follows[options[c.Tied]]
		}
	}
}
