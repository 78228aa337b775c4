package app_test

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/planning"
	"chalkstep/core/classday"
	"chalkstep/core/kit"
	"chalkstep/core/schedule"
	"chalkstep/store"
)

// overlaps counts the most stretches that are open at one moment.
func overlaps(uses []schedule.Assignment) int {
	most := 0
	for _, u := range uses {
		now := 0
		for _, v := range uses {
			if v.Start <= u.Start+1e-6 && u.Start < v.End-1e-6 {
				now++
			}
		}
		most = max(most, now)
	}
	return most
}

// Whatever the roster of the day: nobody is in two places, no machine serves
// two, no hoop, iron or instructor is used by more than there are, late people
// start late, and everyone does all of their steps in order.
func TestPlansBreakNoRule(t *testing.T) {
	d := desks(t)[store.Owner]
	rng := rand.New(rand.NewPCG(12, 12))
	for _, classID := range []int64{badges, totes} {
		for range 6 {
			page, err := d.Class(classID)
			require.NoError(t, err)
			for _, s := range page.Class.Places {
				place := planning.PlaceInput{Version: s.Version, Attendance: string(classday.Expected)}
				switch rng.IntN(5) {
				case 0:
					place.Attendance = string(classday.Absent)
				case 1:
					place.Attendance, place.LateMinutes = string(classday.Late), fmt.Sprint(1+rng.IntN(60))
				case 2:
					place.Project = []string{"Rope-knot sampler", "Crab hand towel"}[rng.IntN(2)]
				}
				require.NoError(t, d.SavePlace(classID, s.ID, place))
			}
			page, err = d.Class(classID)
			require.NoError(t, err)
			if !page.Planned() {
				continue
			}
			checkPlan(t, page)
		}
	}
}

func checkPlan(t *testing.T, page classday.Plan) {
	t.Helper()
	byStation := map[string][]schedule.Assignment{}
	for _, w := range page.Works {
		for _, s := range w.Places {
			steps := page.StepsOf(idText(s.ID))
			var keys, want []string
			for _, ps := range w.Steps {
				want = append(want, string(ps.Key))
			}
			at := float64(s.LateMinutes)
			for _, step := range steps {
				keys = append(keys, step.Operation)
				assert.GreaterOrEqual(t, step.Start, at-1e-6, "%s of %s", step.Operation, s.Name)
				at = step.End
				if step.Machine != "" {
					byStation[step.Machine] = append(byStation[step.Machine], step)
				}
			}
			assert.Equal(t, want, keys, "all steps, in order")
		}
	}
	for station, steps := range byStation {
		assert.Equal(t, 1, overlaps(steps), "two at %s at once", station)
	}
	for _, pool := range page.Problem.Resources {
		assert.LessOrEqual(t, overlaps(page.Uses(pool.ID)), pool.Count, "more of %s than there are", page.PoolName(pool.ID))
	}
	for _, s := range page.Class.Places {
		if s.Attendance == classday.Absent {
			assert.Empty(t, page.StepsOf(idText(s.ID)))
		}
	}
}

// Kits list what the pieces of the cut plan are cut for: together they are
// the same, but for tests and spares.
func TestKitsAndCutPlansAgree(t *testing.T) {
	d := desks(t)[store.Owner]
	for _, classID := range []int64{badges, totes} {
		shelf, err := d.Shelf(classID)
		require.NoError(t, err)
		kits, err := d.Kits(classID)
		require.NoError(t, err)
		cut := map[kit.ItemID]int{}
		for _, c := range shelf.Cuts {
			placed := 0
			for _, bed := range c.Beds {
				placed += len(bed.Layout.Placed)
			}
			assert.Equal(t, c.Count(), placed, "every piece of %s is laid out", c.Material)
			for _, p := range c.Pieces {
				cut[kit.Item{As: p.As, Key: p.Key, SizeMM: p.SizeMM}.ID()] += p.Count
			}
		}
		packed := map[kit.ItemID]int{}
		for _, b := range kits.Bags {
			for _, item := range b.Items {
				packed[item.ID()] += item.Count
			}
		}
		for key, n := range cut {
			assert.GreaterOrEqual(t, n, packed[key], key)
			assert.LessOrEqual(t, n, packed[key]+len(kits.Bags)/2+3, "%s: no more than tests and spares on top", key)
		}
		sitting := slices.IsSortedFunc(kits.Bags, func(a, b classday.Bag) int { return a.Sitting - b.Sitting })
		assert.True(t, sitting)
	}
}
