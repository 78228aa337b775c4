package app_test

import (
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app"
	"chalkstep/core/floor"
	"chalkstep/store"
)

// overlaps counts the most stretches that are open at one moment.
func overlaps(uses []floor.Placed) int {
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
			for _, s := range page.Class.Students {
				place := app.PlaceInput{Version: s.KitVersion, Attendance: store.Expected}
				switch rng.IntN(5) {
				case 0:
					place.Attendance = store.Absent
				case 1:
					place.Attendance, place.LateMinutes = store.Late, 1+rng.IntN(60)
				case 2:
					place.ProjectID = []int64{1, towel}[rng.IntN(2)]
				}
				require.NoError(t, d.SavePlace(classID, s.StudentID, place))
			}
			page, err = d.Class(classID)
			require.NoError(t, err)
			if page.PlanProblem != "" {
				continue
			}
			checkPlan(t, page)
		}
	}
}

func checkPlan(t *testing.T, page app.ClassPage) {
	t.Helper()
	byStation := map[string][]floor.Placed{}
	for _, w := range page.Works {
		for _, s := range w.Students {
			steps := page.StepsOf(idText(s.StudentID))
			var keys, want []string
			for _, ps := range w.Project.Steps {
				want = append(want, ps.Key)
			}
			at := float64(s.LateMinutes)
			for _, step := range steps {
				keys = append(keys, step.Step)
				assert.GreaterOrEqual(t, step.Start, at-1e-6, "%s of %s", step.Step, s.Student.Name)
				at = step.End
				if step.Station != "" {
					byStation[step.Station] = append(byStation[step.Station], step)
				}
			}
			assert.Equal(t, want, keys, "all steps, in order")
		}
	}
	for station, steps := range byStation {
		assert.Equal(t, 1, overlaps(steps), "two at %s at once", page.MachineName(station))
	}
	for _, pool := range page.Pools() {
		assert.LessOrEqual(t, overlaps(page.Uses(pool.ID)), pool.Count, "more of %s than there are", page.PoolName(pool.ID))
	}
	for _, s := range page.Class.Students {
		if s.Attendance == store.Absent {
			assert.Empty(t, page.StepsOf(idText(s.StudentID)))
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
		cut := map[string]int{}
		for _, sheet := range shelf.Cuts {
			placed := len(sheet.Layout.Placed)
			for _, r := range sheet.Remnants {
				placed += len(r.Layout.Placed)
			}
			assert.Equal(t, sheet.Count(), placed, "every piece of %s is laid out", sheet.Material)
			for _, p := range sheet.Pieces {
				cut[p.What+" "+p.Size()] += p.Count
			}
		}
		packed := map[string]int{}
		for _, k := range kits.Kits {
			for _, line := range k.Lines {
				packed[line.Key()] += line.Count
			}
		}
		for key, n := range cut {
			assert.GreaterOrEqual(t, n, packed[key], key)
			assert.LessOrEqual(t, n, packed[key]+len(kits.Kits)/2+3, "%s: no more than tests and spares on top", key)
		}
		sitting := slices.IsSortedFunc(kits.Kits, func(a, b app.StudentKit) int { return a.Sitting - b.Sitting })
		assert.True(t, sitting)
	}
}
