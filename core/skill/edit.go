package skill

import (
	"fmt"
	"slices"
	"strings"

	"chalkstep/core/say"
)

// MostSteps are on a ladder.
const MostSteps = 60

// Own tells that a step is the workshop's own, not of the usual ladder.
func (k Key) Own() bool {
	_, usual := Usual.ByKey(k)
	return !usual
}

// Kept tells that a step stays on every ladder: clearance to be alone at a machine hangs on
// it.
func (k Key) Kept() bool { return slices.Contains(aloneNeeds, k) }

// With is the ladder with a step as it is given: in the place of the one of its key, or new
// where it has none. Steps are put in an order in which nothing comes before what it needs.
func (l Ladder) With(step Step) (Ladder, error) {
	steps := slices.Clone(l.Steps())
	if step.Key == "" {
		if len(steps) >= MostSteps {
			return nil, say.Errorf("A ladder has at most %s steps: take one off first.", say.Count(MostSteps))
		}
		step.Key = l.freeKey()
		steps = append(steps, step)
	} else if i := slices.IndexFunc(steps, func(s Step) bool { return s.Key == step.Key }); i >= 0 {
		steps[i] = step
	} else {
		return nil, say.Errorf("That step is not on the ladder any more.")
	}
	return ordered(steps)
}

// freeKey is one that no step of this ladder has.
func (l Ladder) freeKey() Key {
	for n := 1; ; n++ {
		key := Key(fmt.Sprintf("own-%d", n))
		if _, taken := l.ByKey(key); !taken {
			return key
		}
	}
}

// Without is the ladder without a step; what came after it comes after what it needed.
func (l Ladder) Without(key Key) (Ladder, error) {
	gone, there := l.ByKey(key)
	switch {
	case !there:
		return nil, say.Errorf("That step is not on the ladder any more.")
	case key.Kept():
		return nil, say.Errorf("%s stays on the ladder: nobody is alone at a machine without it.", gone.Title)
	case len(l.Steps()) == 1:
		return nil, say.Errorf("A ladder has at least one step.")
	}
	var steps []Step
	for _, s := range l.Steps() {
		if s.Key == key {
			continue
		}
		if slices.Contains(s.After, key) {
			s.After = slices.DeleteFunc(slices.Concat(s.After, gone.After), func(k Key) bool { return k == key })
			slices.Sort(s.After)
			s.After = slices.Compact(s.After)
		}
		steps = append(steps, s)
	}
	return ordered(steps)
}

// ordered puts steps into an order in which nothing comes before what it needs, and leaves
// them in theirs as far as that goes; steps that wait for each other are an error.
func ordered(steps []Step) (Ladder, error) {
	var made Ladder
	placed := map[Key]bool{}
	for len(made) < len(steps) {
		i := slices.IndexFunc(steps, func(s Step) bool {
			return !placed[s.Key] && !slices.ContainsFunc(s.After, func(k Key) bool { return !placed[k] && isAmong(steps, k) })
		})
		if i < 0 {
			var round []string
			for _, s := range steps {
				if !placed[s.Key] {
					round = append(round, string(s.Title))
				}
			}
			return nil, say.Errorf("These wait for each other, so none could come first: %s. Untick one of them.",
				say.Name(strings.Join(round, ", ")))
		}
		s := steps[i]
		s.After = slices.DeleteFunc(slices.Clone(s.After), func(k Key) bool { return !isAmong(steps, k) })
		made, placed[s.Key] = append(made, s), true
	}
	return made, nil
}

func isAmong(steps []Step, key Key) bool {
	return slices.ContainsFunc(steps, func(s Step) bool { return s.Key == key })
}
