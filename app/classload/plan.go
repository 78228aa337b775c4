package classload

import (
	"bytes"
	"crypto/sha256"
	"encoding/json"
	"errors"
	"fmt"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/classday"
	"chalkstep/core/fleet"
	"chalkstep/core/policy"
	"chalkstep/core/say"
	"chalkstep/core/schedule"
	"chalkstep/core/schedule/search"
	"chalkstep/store"
)

// ClassIn is [Loader.Class] with all machines of the room.
func (d Loader) ClassIn(classID int64) (classday.Plan, []fleet.Machine, error) {
	c, err := d.Workshop.Class(classID)
	if err != nil {
		return classday.Plan{}, nil, err
	}
	rules, machines, err := d.Floorplan()
	if err != nil {
		return classday.Plan{}, nil, err
	}
	plans, err := d.plannedIn([]classday.Class{c}, rules, machines)
	if err != nil {
		return classday.Plan{}, nil, err
	}
	return plans[0], machines, nil
}

// planIterations find a class's plan, which is kept: it may take a few times what a
// preview does.
const planIterations = 12000

// planner names the way plans are made and bounded: those kept of another way
// are made anew.
const planner = " planner 16"

// PlanHash names what the plan of a day is made from.
func PlanHash(opened classday.Day) ([32]byte, error) {
	text, err := json.Marshal(opened.Problem)
	if err != nil {
		return [32]byte{}, fmt.Errorf("writing down the day of class %d: %w", opened.Class.ID, err)
	}
	return sha256.Sum256(append(text, planner...)), nil
}

// planned opens classes with their plans: as they were worked out before where
// nothing they are made from has changed. What classes share is read once. One
// that cannot be planned says why and spoils no other.
func (d Loader) planned(classes []classday.Class) ([]classday.Plan, error) {
	rules, machines, err := d.Floorplan()
	if err != nil {
		return nil, err
	}
	return d.plannedIn(classes, rules, machines)
}

func (d Loader) plannedIn(classes []classday.Class, rules policy.Rules, machines []fleet.Machine) ([]classday.Plan,
	error) {
	days, kept, err := d.Open(classes, rules, machines)
	if err != nil {
		return nil, err
	}
	plans, taken := make([]classday.Plan, len(days)), make([]*schedule.Plan, len(days))
	hashes, failed := make([][32]byte, len(days)), make([]error, len(days))
	each(len(days), func(i int) {
		hashes[i], failed[i] = PlanHash(days[i])
	})
	for i, opened := range days {
		if !opened.Why.Silent() {
			plans[i] = opened.Unplanned(opened.Why)
			continue
		}
		if failed[i] != nil {
			return nil, failed[i]
		}
		hash := hashes[i]
		k := kept[opened.Class.ID]
		isKept := bytes.Equal(k.InputHash, hash[:])
		past := (opened.Class.Over(d.Now) || k.Begun) && k.InputHash != nil
		if past || isKept && !d.Memo().Plans.Contains(hash) {
			result, known := d.Memo().Plans.Get([32]byte(k.InputHash))
			if !known {
				if result, known, err = k.Result(); err != nil {
					return nil, err
				}
			}
			solved := opened.Problem.IsSolvedBy(result) || k.Begun && opened.Problem.Has(result)
			if past && known && solved { // however plans are made today
				taken[i] = &result
				continue
			}
			if isKept && known {
				d.Memo().Plans.Add(hash, result)
			}
			isKept = isKept && known // forgotten just now: it is read again
		}
		result, err := d.plan(opened, hash, isKept)
		var cannot cannotPlan
		switch {
		case errors.As(err, &cannot):
			plans[i] = opened.Unplanned(say.Name(form.Sentence(cannot.Error())))
		case err != nil:
			return nil, err
		default:
			taken[i] = &result
		}
	}
	each(len(days), func(i int) {
		if taken[i] != nil {
			plans[i] = days[i].Take(*taken[i])
		}
		k := kept[days[i].Class.ID]
		plans[i].SaidCents, plans[i].SaidFeeCents, plans[i].Begun = k.CostCents, k.FeeCents, k.Begun
	})
	return plans, nil
}

// Open puts classes into the planner's terms: one that has begun, or is over, as it was then,
// the others as the room stands, with what other classes have of it.
func (d Loader) Open(classes []classday.Class, rules policy.Rules, machines []fleet.Machine) ([]classday.Day,
	map[int64]store.KeptPlan, error) {
	ids := make([]int64, len(classes))
	for i, c := range classes {
		ids[i] = c.ID
	}
	kept, err := d.Workshop.ClassPlans(d.Memo().PlanHashes(), d.Now, ids...)
	if err != nil {
		return nil, nil, err
	}
	days := make([]classday.Day, len(classes))
	coming, open := make([]classday.Class, len(classes)), []int{}
	for i, c := range classes {
		c.Reserved = kept[c.ID].Reserved
		if c.Over(d.Now) || kept[c.ID].Begun {
			basis, was, err := kept[c.ID].Basis()
			if err != nil {
				return nil, nil, err
			}
			if was {
				days[i] = classday.OpenAsItWas(c, basis)
				continue
			}
		}
		c.Lent = kept[c.ID].Lent
		coming[i], open = c, append(open, i)
	}
	each(len(open), func(n int) {
		i := open[n]
		days[i] = classday.Open(coming[i].In(machines), rules)
	})
	return days, kept, nil
}

// cannotPlan is why a day has no plan, as opposed to why it was not found.
type cannotPlan struct{ error }

// plan is the plan of a day by its hash: a known one, or one that is worked
// out now; isKept tells that the database has it. When many ask at once, one works it out and the others wait for it,
// those of another copy of the application too.
func (d Loader) plan(opened classday.Day, hash [32]byte, isKept bool) (schedule.Plan, error) {
	if result, known := d.Memo().Plans.Get(hash); known && isKept {
		return result, nil
	}
	classID := opened.Class.ID
	return actor.Shared(d.Actor, "plan "+string(hash[:]), func() (schedule.Plan, error) {
		result, known := d.Memo().Plans.Get(hash)
		var before store.KeptPlan
		work := func() (err error) {
			if known {
				return nil
			}
			if result, known = keeping(opened, before); known {
				return nil
			}
			if result, err = search.Solve(opened.Problem, search.Options{Iterations: planIterations, Seed: 1}); err != nil {
				return cannotPlan{err}
			}
			known = true
			return nil
		}
		err := d.Workshop.Room()
		if err == nil {
			err = d.Workshop.InTx(func(tx store.Workshop) error {
				if err := tx.LockPlan(classID); err != nil {
					return err
				}
				kept, err := tx.ClassPlans(nil, opened.Class.EndsAt, classID) // with what it was made from
				if err != nil {
					return err
				}
				before = kept[classID]
				if k := before; bytes.Equal(k.InputHash, hash[:]) {
					result, known, err = k.Result()
					return err
				}
				if err := work(); err != nil {
					return err
				}
				return tx.KeepPlan(classID, hash[:], result, opened.Basis(), opened.Take(result).HoopsTaken())
			})
		}
		if errors.Is(err, store.ErrFull) {
			err = work() // it is kept when there is room again
		}
		if err == nil {
			d.Memo().Plans.Add(hash, result)
		}
		return result, err
	})
}

// keeping is a plan that leaves everybody where an earlier one has them, where only the roster has
// changed since, and little of it; ok is false where that makes the class late, or there is none.
func keeping(opened classday.Day, before store.KeptPlan) (r schedule.Plan, ok bool) {
	was, known, err := before.Result()
	basis, made, err2 := before.Basis()
	if err != nil || err2 != nil || !known || !made {
		return r, false
	}
	p, same := opened.Keeping(was, basis.Print)
	if !same {
		return r, false
	}
	few := search.Options{Iterations: keptIterations, Seed: 1}
	r, err = search.Solve(p, few)
	if err != nil || !r.Fits {
		return r, false
	}
	free, err := search.Solve(opened.Problem, few) // what no plan can beat is so without those kept
	if err != nil {
		return r, false
	}
	r.LowerBoundMinutes, r.ShortestMinutes = free.LowerBoundMinutes, 0
	return r, true
}

// keptIterations place those who are new among those who stay.
const keptIterations = 1000
