package schedule_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"chalkstep/core/schedule"
)

func TestWaitsAreFilledWithWhatFits(t *testing.T) {
	list := []schedule.Practice{{Minutes: 12}, {Minutes: 5}, {Minutes: 8, Early: true}}
	for _, c := range []struct {
		name  string
		waits []schedule.Interval
		sits  float64
		want  [][]schedule.Filled
	}{
		{"ten minutes are not filled", []schedule.Interval{{From: 0, To: 10}}, 50, [][]schedule.Filled{nil}},
		{"the first of the list, if it fits", []schedule.Interval{{From: 0, To: 14}}, 50,
			[][]schedule.Filled{{{Practice: 0, Start: 0, End: 12}}}},
		{"the next that fits, with a minute to put it away", []schedule.Interval{{From: 0, To: 12.5}}, 50,
			[][]schedule.Filled{{{Practice: 1, Start: 0, End: 5}}}},
		{"one after another, as long as over ten minutes are left", []schedule.Interval{{From: 3, To: 40}}, 50,
			[][]schedule.Filled{{{Practice: 0, Start: 3, End: 15}, {Practice: 1, Start: 16, End: 21},
				{Practice: 2, Start: 22, End: 30}}}},
		{"each once, over all waits", []schedule.Interval{{From: 0, To: 14}, {From: 20, To: 34}}, 50,
			[][]schedule.Filled{{{Practice: 0, Start: 0, End: 12}}, {{Practice: 1, Start: 20, End: 25}}}},
		{"some only before they sit down", []schedule.Interval{{From: 60, To: 90}}, 50,
			[][]schedule.Filled{{{Practice: 0, Start: 60, End: 72}, {Practice: 1, Start: 73, End: 78}}}},
	} {
		assert.Equal(t, c.want, schedule.Fill(c.waits, c.sits, list), c.name)
	}
}
