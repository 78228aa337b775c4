package demo_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/app/designs"
	"chalkstep/app/fleet"
	"chalkstep/app/people"
	"chalkstep/app/planning"
	"chalkstep/demo"
	"chalkstep/store/storetest"
)

func TestMain(m *testing.M) { storetest.Main(m) }

var now = time.Date(2026, 11, 24, 15, 20, 0, 0, time.UTC)

// owner is the owner at work in a new demo workshop.
func owner(t *testing.T) actor.Actor {
	t.Helper()
	s := storetest.Open(t)
	loaded, err := demo.Load(t.Context(), s, now)
	require.NoError(t, err)
	require.True(t, loaded)
	again, err := demo.Load(t.Context(), s, now)
	require.NoError(t, err)
	require.False(t, again, "the demo is loaded once")

	a := actor.New(s, func() time.Time { return now })
	who, err := a.Who(t.Context(), 1, 1)
	require.NoError(t, err)
	return a.For(t.Context(), who)
}

func TestTheDemoWorkshopIsAllThere(t *testing.T) {
	at := owner(t)
	machines, err := fleet.UseCases{Actor: at}.Machines()
	require.NoError(t, err)
	assert.Len(t, machines.Machines, 5)
	assert.Equal(t, 9, machines.HoopCount())
	library, err := designs.UseCases{Actor: at}.Designs(designs.DesignFilter{}, 1)
	require.NoError(t, err)
	assert.Len(t, library.Designs, 7)
	lighthouse, err := designs.UseCases{Actor: at}.Design(2)
	require.NoError(t, err)
	assert.Len(t, lighthouse.StitchOuts, 3)
	students, err := people.UseCases{Actor: at}.Students("", 1)
	require.NoError(t, err)
	assert.Len(t, students.Students, 14)

	list, err := planning.UseCases{Actor: at}.Classes(1)
	require.NoError(t, err)
	fits := map[string]bool{}
	for _, c := range list.Classes {
		page, err := planning.UseCases{Actor: at}.Class(c.ID)
		require.NoError(t, err)
		require.True(t, page.Planned(), c.Name)
		fits[c.Name] = page.Result.Fits
		t.Logf("%s: done after %.0f of %.0f minutes (bound %.0f), %s", c.Name, page.Result.MakespanMinutes,
			page.Class.WindowMinutes(), page.Result.LowerBoundMinutes, page.Tight)
	}
	assert.Equal(t, map[string]bool{"First stitches": true, "Towels that last": true, "Buoy badges, first felt": true,
		"Lighthouse totes": false}, fits, "one planned class does not fit as it stands")
}

// The demo is there whenever somebody first looks at it: what is booked is in nobody's way.
func TestTheDemoIsLoadedOnAnyDay(t *testing.T) {
	for name, at := range map[string]time.Time{
		"a Friday afternoon":   time.Date(2026, 11, 27, 15, 44, 0, 0, time.UTC),
		"a Friday at midnight": time.Date(2026, 11, 27, 23, 55, 0, 0, time.UTC),
		"a Saturday morning":   time.Date(2026, 11, 28, 10, 10, 0, 0, time.UTC),
		"a Saturday afternoon": time.Date(2026, 11, 28, 14, 10, 0, 0, time.UTC),
		"a Sunday":             time.Date(2026, 11, 29, 9, 0, 0, 0, time.UTC),
	} {
		t.Run(name, func(t *testing.T) {
			loaded, err := demo.Load(t.Context(), storetest.Open(t), at)
			require.NoError(t, err)
			assert.True(t, loaded)
		})
	}
}

func TestTheCompassSewsOnOneMachineOnly(t *testing.T) {
	library, err := designs.UseCases{Actor: owner(t)}.Designs(designs.DesignFilter{}, 1)
	require.NoError(t, err)
	for _, page := range library.Designs {
		density, working := page.Design.Density()
		t.Logf("%s: %.0f × %.0f mm, %d stitches, %d stops, %.0f minutes, fits %d, %s, %s", page.Design.Name,
			page.Design.WidthMM, page.Design.HeightMM, page.Design.Stitches, len(page.Stops), page.Minutes, page.Fit, density,
			working)
		if page.Design.Name == "Compass rose" {
			assert.Equal(t, 1, page.Fit)
		}
	}
}
