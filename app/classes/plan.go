package classes

import (
	"bytes"
	"crypto/sha256"
	"encoding/json"
	"errors"
	"fmt"

	"chalkstep/app/desk"
	"chalkstep/core/day"
	"chalkstep/core/floor"
	"chalkstep/core/say"
	"chalkstep/store"
)

// Class opens a class with its plan, worked out anew when anything it was made
// from has changed.
func (d Desk) Class(classID int64) (day.Plan, error) {
	if err := d.Need(desk.See); err != nil {
		return day.Plan{}, err
	}
	c, err := d.Shop.Class(classID)
	if err != nil {
		return day.Plan{}, err
	}
	plans, err := d.planned([]day.Class{c})
	if err != nil {
		return day.Plan{}, err
	}
	return plans[0], nil
}

// planner names the way plans are made and bounded: those kept of another way
// are made anew.
const planner = " planner 2"

// planned opens classes with their plans: as they were worked out before where
// nothing they are made from has changed. What classes share is read once. One
// that cannot be planned says why and spoils no other.
func (d Desk) planned(classes []day.Class) ([]day.Plan, error) {
	rules, machines, err := d.Floorplan()
	if err != nil {
		return nil, err
	}
	days := make([]day.Day, len(classes))
	hashes := make([][32]byte, len(classes))
	var unknown []int64
	for i, c := range classes {
		days[i] = day.Open(c.In(machines), rules)
		if !days[i].Why.Silent() {
			continue
		}
		text, err := json.Marshal(days[i].Problem)
		if err != nil {
			return nil, fmt.Errorf("writing down the day of class %d: %w", c.ID, err)
		}
		hashes[i] = sha256.Sum256(append(text, planner...))
		if !d.Memo().Plans.Contains(hashes[i]) {
			unknown = append(unknown, c.ID)
		}
	}
	kept, err := d.Shop.ClassPlans(unknown...)
	if err != nil {
		return nil, err
	}
	plans := make([]day.Plan, len(days))
	for i, opened := range days {
		if !opened.Why.Silent() {
			plans[i] = opened.Unplanned(opened.Why)
			continue
		}
		if k, found := kept[opened.Class.ID]; found && bytes.Equal(k.InputHash, hashes[i][:]) {
			d.Memo().Plans.Add(hashes[i], k.Result)
		}
		result, err := d.plan(opened, hashes[i])
		var cannot cannotPlan
		switch {
		case errors.As(err, &cannot):
			plans[i] = opened.Unplanned(say.Name(desk.Sentence(cannot.Error())))
		case err != nil:
			return nil, err
		default:
			plans[i] = opened.Take(result)
		}
	}
	return plans, nil
}

// cannotPlan is why a day has no plan, as opposed to why it was not found.
type cannotPlan struct{ error }

// plan is the plan of a day by its hash: a known one, or one that is worked
// out now. When many ask at once, one works it out and the others wait for it,
// those of another copy of the application too.
func (d Desk) plan(opened day.Day, hash [32]byte) (floor.Result, error) {
	if result, known := d.Memo().Plans.Get(hash); known {
		return result, nil
	}
	classID := opened.Class.ID
	result, err, _ := d.Memo().Working.Do("plan "+string(hash[:]), func() (any, error) {
		if result, known := d.Memo().Plans.Get(hash); known {
			return result, nil
		}
		var result floor.Result
		err := d.Shop.InTx(func(tx store.Workshop) error {
			if err := tx.LockPlan(classID); err != nil {
				return err
			}
			kept, err := tx.ClassPlans(classID)
			if err != nil {
				return err
			}
			if k := kept[classID]; bytes.Equal(k.InputHash, hash[:]) {
				result = k.Result
				return nil
			}
			if result, err = floor.Plan(opened.Problem, floor.Options{Seed: 1}); err != nil {
				return cannotPlan{err}
			}
			return tx.KeepPlan(classID, hash[:], result)
		})
		if err == nil {
			d.Memo().Plans.Add(hash, result)
		}
		return result, err
	})
	if err != nil {
		return floor.Result{}, err
	}
	return result.(floor.Result), nil
}
