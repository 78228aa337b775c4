package motif_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/stitch"
	_ "chalkstep/core/stitch/dst"
	_ "chalkstep/core/stitch/exp"
	_ "chalkstep/core/stitch/pes"
	"chalkstep/demo/motif"
)

func TestMotifsWouldReallySew(t *testing.T) {
	for _, m := range motif.Harbour() {
		t.Run(m.Name, func(t *testing.T) {
			data, err := stitch.Encode(m.File, m.Pattern)
			require.NoError(t, err)
			pattern, _, err := stitch.Decode(m.File, data)
			require.NoError(t, err)
			a := stitch.Analyse(pattern)
			assert.Len(t, a.Stops, len(m.Stops))
			assert.Empty(t, a.Warnings)
			assert.Greater(t, a.Stitches, 400)

			var last *stitch.Move
			for i := range pattern.Moves {
				move := &pattern.Moves[i]
				if move.Kind != stitch.Stitch {
					last = nil
					continue
				}
				if last != nil {
					mm := math.Hypot(float64(move.X-last.X), float64(move.Y-last.Y)) / 10
					// A tenth either way is the file's own rounding.
					assert.LessOrEqual(t, mm, 6.1)
					assert.GreaterOrEqual(t, mm, 0.4)
				}
				last = move
			}
		})
	}
}

func TestRolesOfTheMotifsAreFound(t *testing.T) {
	roles := func(m motif.Motif) (roles []stitch.Role) {
		for _, s := range stitch.Analyse(m.Pattern).Stops {
			roles = append(roles, s.Role)
		}
		return roles
	}
	assert.Equal(t, []stitch.Role{stitch.Placement, stitch.TackDown, stitch.Cover, stitch.Fill, stitch.Satin,
		stitch.Anchor}, roles(motif.Compass()))
	assert.Equal(t, []stitch.Role{stitch.Run, stitch.Satin, stitch.Satin, stitch.Satin}, roles(motif.RopeKnot()))
	assert.Equal(t, stitch.Fill, roles(motif.Lighthouse())[0])
	assert.Equal(t, []stitch.Role{stitch.Fill, stitch.Satin}, roles(motif.Crab())[:2])
	assert.Equal(t, []stitch.Role{stitch.Run, stitch.Run, stitch.Run}, roles(motif.Sail()))
}

func TestTheCompassIsTooBigForTheSmallHoopsAndTheBuoyIsNot(t *testing.T) {
	compass, buoy := stitch.Analyse(motif.Compass().Pattern), stitch.Analyse(motif.Buoy().Pattern)
	assert.Greater(t, compass.WidthMM, 130.0)
	assert.Less(t, buoy.WidthMM, 45.0)
}
