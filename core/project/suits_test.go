package project_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/pace"
	"chalkstep/core/policy"
	"chalkstep/core/project"
	"chalkstep/core/skill"
)

// able is a student who has reached some steps.
func able(id int64, keys ...skill.Key) skill.Student {
	s := skill.Student{ID: id}
	for _, key := range keys {
		s.SignOffs = append(s.SignOffs, skill.SignOff{Skill: key, On: skill.SingleNeedle})
	}
	return s
}

// A project suits whom it teaches one to four new steps; who has reached all that it needs is
// ready, and who lacks more than four comes too early.
func TestWhomAProjectSuits(t *testing.T) {
	rules := policy.Defaults()
	badge := badges(func(p *project.Project) { p.Teaches = []skill.Key{skill.ManyInHoop, skill.Names} })
	steps, err := badge.Steps(rules)
	require.NoError(t, err)
	needs := pace.Needs(steps)
	require.Greater(t, len(needs), 4)
	plain := badges(func(p *project.Project) { p.Name, p.Teaches = "Plain", nil })
	group := []skill.Student{able(1), able(2, needs...), able(3, needs[1:]...),
		able(4, append(needs, skill.ManyInHoop, skill.Names)...)}
	offers := project.Offers([]project.Project{plain, badge}, group, rules)
	require.Equal(t, "Plain", offers[1].Project.Name, "it teaches one of them something, badges two")
	suits, ready := offers[0].Counts()
	assert.Equal(t, 2, suits)
	assert.Equal(t, 2, ready)
	by := offers[0].Suits
	assert.True(t, by[0].Early())
	assert.Len(t, by[0].Missing, len(needs))
	assert.True(t, by[1].Ready() && by[1].Suits())
	assert.Len(t, by[1].New, 2)
	assert.Len(t, by[2].Missing, 1)
	assert.True(t, by[2].Suits())
	assert.False(t, by[3].Suits(), "nothing in it is new")

	best, suit, ok := project.Best(offers, 3)
	assert.True(t, ok)
	assert.Equal(t, badge.Name, best.Project.Name, "as much is missing for both, and this teaches more")
	assert.Len(t, suit.Missing, 1)
	_, _, ok = project.Best(offers, 1)
	assert.False(t, ok, "too early for both")
}
