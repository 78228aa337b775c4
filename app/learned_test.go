package app_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	applive "chalkstep/app/live"
	"chalkstep/app/people"
	"chalkstep/app/prep"
	"chalkstep/core/fleet"
	"chalkstep/core/live"
	"chalkstep/core/pace"
	"chalkstep/core/supply"
	"chalkstep/store"
)

// What steps really took is noted as they are done, and forgotten when that is taken back;
// what is learned from it can be set aside with a reason, and planned with again.
func TestClassesTeach(t *testing.T) {
	all := desks(t)
	owner, d := all[store.Owner], all[store.Instructor]
	at := func(minute float64) person { return atMinute(t, d, badges, minute) }
	before, err := d.Workshop.Observed()
	require.NoError(t, err)
	require.NoError(t, at(0).Happen(badges, applive.HappenInput{Kind: "started"}))
	page, err := at(1).Run(badges)
	require.NoError(t, err)
	minute := 1.0
	for _, s := range page.Standings {
		require.NoError(t, at(1).Happen(badges, applive.HappenInput{Kind: "here", StudentID: s.StudentID}))
	}
	talk := float64(page.Plan.Class.OpeningMinutes)
	for _, s := range page.Standings { // everybody takes ten minutes over the first step
		minute += 0.1
		first, _ := s.Step()
		require.NoError(t, at(talk+10).Happen(badges,
			applive.HappenInput{Kind: "done", StudentID: s.StudentID, Step: first.Operation}))
	}
	observed, err := d.Workshop.Observed()
	require.NoError(t, err)
	n := len(observed)
	require.Greater(t, n, len(before))
	assert.InDelta(t, 10, observed[0].TookMinutes, 1e-6)
	page, err = at(talk + 11).Run(badges)
	require.NoError(t, err)
	require.Equal(t, live.Done, page.Last.Kind)
	require.NoError(t, at(talk+11).Happen(badges, applive.HappenInput{Kind: "undone", Undoes: page.Last.Seq}))
	observed, err = d.Workshop.Observed()
	require.NoError(t, err)
	assert.Len(t, observed, n-1, "it was taken back")

	assert.ErrorIs(t, d.LearnNow(), actor.ErrMayNot)
	require.NoError(t, owner.LearnNow())
	settings, err := d.Workshop.Settings()
	require.NoError(t, err)
	mark := settings.Learned.Steps[pace.StepMark]
	require.Greater(t, mark.N, 3)
	assert.Greater(t, mark.Factor, 1.1)
	require.NoError(t, owner.SetAside(people.OfStep, string(pace.StepMark), "the template was lost", false))
	assert.Error(t, owner.SetAside(people.OfStep, string(pace.StepMark), " ", false), "no reason")
	assert.ErrorIs(t, owner.SetAside(people.OfStep, "sang", "why", false), actor.ErrNotFound)
	assert.ErrorIs(t, owner.SetAside("moon", "1", "why", false), actor.ErrNotFound)
	settings, err = d.Workshop.Settings()
	require.NoError(t, err)
	assert.InDelta(t, 1, settings.Learned.Steps[pace.StepMark].Used(), 1e-9)
	learned, err := owner.Learned()
	require.NoError(t, err)
	require.NotEmpty(t, learned.Lines)
	assert.NotEmpty(t, learned.Classes)
	require.NoError(t, owner.SetAside(people.OfStep, string(pace.StepMark), "", true))
	settings, err = d.Workshop.Settings()
	require.NoError(t, err)
	assert.Greater(t, settings.Learned.Steps[pace.StepMark].Used(), 1.1)
}

// Nothing is learned in a rehearsal, nor while a class runs.
func TestWhenNothingIsLearned(t *testing.T) {
	d := desks(t)[store.Owner]
	before, err := d.Workshop.Observed()
	require.NoError(t, err)
	const noor = 9
	require.NoError(t, d.Happen(towels, applive.HappenInput{Kind: "clocked", Speed: 60}))
	page, err := d.Run(towels)
	require.NoError(t, err)
	for _, s := range page.Standings {
		if placed, more := s.Step(); more && s.StudentID != noor {
			require.NoError(t, d.Happen(towels,
				applive.HappenInput{Kind: "done", StudentID: s.StudentID, Step: placed.Operation}))
		}
	}
	after, err := d.Workshop.Observed()
	require.NoError(t, err)
	assert.Len(t, after, len(before))
	require.NoError(t, d.App().Learn(t.Context()))
	settings, err := d.Workshop.Settings()
	require.NoError(t, err)
	assert.Empty(t, settings.Learned.Steps, "a class goes on")
}

// Thread that was weighed after a class teaches what a length on the face draws; what was
// used as reserved teaches nothing.
func TestThreadOfAClassTeaches(t *testing.T) {
	all := desks(t)
	owner, d := all[store.Owner], all[store.Instructor]
	require.NoError(t, d.Reserve(towels))
	shelfPage, err := d.Shelf(towels)
	require.NoError(t, err)
	ran, err := d.Run(towels)
	require.NoError(t, err)
	for _, s := range ran.Standings {
		for _, step := range s.Steps[s.Next:] {
			require.NoError(t, d.Happen(towels, applive.HappenInput{Kind: "done", StudentID: s.StudentID, Step: step.Operation}))
		}
	}
	ran, err = d.Run(towels)
	require.NoError(t, err)
	sewn := ran.Sewn()
	require.NotEmpty(t, sewn)
	gone, paths := map[int64]prep.Gone{}, 0.0
	for _, n := range shelfPage.Needs {
		if n.Item != nil && n.Key.Kind == supply.Thread && n.Reserved > 0 && sewn[n.Key].PathMM > 0 {
			drawn := sewn[n.Key]
			real := 1.8*drawn.PathMM + 40*float64(drawn.Ends)
			gone[n.Item.ID] = prep.Gone{Used: form.TypedQuantity(d.Printer(), *n.Item, real)}
			paths += drawn.PathMM
		}
	}
	require.NotEmpty(t, gone)
	require.NoError(t, d.PutRight(towels, gone))
	require.NoError(t, owner.LearnNow())
	settings, err := d.Workshop.Settings()
	require.NoError(t, err)
	learned := settings.Learned.Thread
	assert.InDelta(t, paths, learned.PathMM, 1)
	assert.InDelta(t, 1.8*paths+40*float64(learned.Ends), learned.RealMM, 500)
	assert.Greater(t, fleet.Learn(nil, settings.Rules).Kit.DrawFactor, settings.Kit.DrawFactor)

	require.NoError(t, owner.SetAside(people.OfThread, "", "the scales were off", false))
	settings, err = d.Workshop.Settings()
	require.NoError(t, err)
	assert.InDelta(t, settings.Kit.DrawFactor, fleet.Learn(nil, settings.Rules).Kit.DrawFactor, 1e-9)
	page, err := owner.Learned()
	require.NoError(t, err)
	at := slices.IndexFunc(page.Lines, func(l people.LearnedLine) bool { return l.Of == people.OfThread })
	require.GreaterOrEqual(t, at, 0)
	assert.Equal(t, "the scales were off", page.Lines[at].Aside)
	assert.Greater(t, page.Lines[at].Factor.Factor, 1.0)
}
