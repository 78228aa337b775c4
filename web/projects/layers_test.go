package projects

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/projects"
	"chalkstep/core/kit"
	"chalkstep/core/project"
	"chalkstep/web/ui"
)

// A row of which nobody has said yet what it is stands in the form and is not
// drawn; empty rows between layers count for none.
func TestARowThatSaysNoLayerIsNotDrawn(t *testing.T) {
	page := projects.ProjectPage{Lying: []project.Lying{{N: 1}, {Layer: project.Layer{As: kit.Batting}, N: 2, Before: 1}}}
	page.Typed.Layers = []projects.LayerInput{{Fabric: "linen"}, {}, {As: "batting"}}
	v := newLayersView(ui.P{}, page)
	require.Len(t, v.Rows, 4, "and one for another")
	assert.Equal(t, []string{"1", "", "2", ""},
		[]string{v.Rows[0].Number, v.Rows[1].Number, v.Rows[2].Number, v.Rows[3].Number})
	require.Len(t, v.Bars, 1)
	assert.Equal(t, "Batting", v.Bars[0].Name)
	assert.Equal(t, 2, v.Bars[0].Index, "its ring moves its own row")
}
