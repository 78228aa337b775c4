package planning

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	app "chalkstep/app/planning"
	"chalkstep/core/classday"
	"chalkstep/core/schedule/odds"
	"chalkstep/demo/demotest"
	"chalkstep/store/storetest"
	"chalkstep/web/classhead"
	"chalkstep/web/ui"
)

func TestMain(m *testing.M) { storetest.Main(m) }

var now = demotest.Now

func plans(t *testing.T) []classday.Plan {
	t.Helper()
	s := demotest.Open(t)
	a := actor.New(s, func() time.Time { return now })
	who, err := a.Who(t.Context(), 1, 1)
	require.NoError(t, err)
	d := app.UseCases{Actor: a.For(t.Context(), who)}
	list, err := d.Classes(1)
	require.NoError(t, err)
	var all []classday.Plan
	for _, line := range list.Classes {
		page, err := d.Class(line.ID)
		require.NoError(t, err)
		all = append(all, page)
	}
	return all
}

// The picture shows every seat, nothing outside its frame, nobody over
// anybody else, and words only where they fit.
func TestTheDayIsDrawnInsideItsFrame(t *testing.T) {
	for _, page := range plans(t) {
		d := newPicture(ui.P{}, page, odds.Outlook{}, now)
		seats := 0
		for _, row := range d.Machines {
			end := laneLeft
			for _, b := range row.Bars {
				seats++
				assert.GreaterOrEqual(t, b.X, end-0.01, "%s: two people at %s at once", page.Class.Name, row.Name)
				assert.LessOrEqual(t, float64(len([]rune(b.Text)))*letterWidth, b.Width)
				assert.Len(t, b.Notches, len(page.Works[0].Sewing[0].Design.Stops)-1)
				end = b.X + b.Width
			}
			assert.LessOrEqual(t, end, laneRight+0.01)
		}
		assert.Equal(t, len(page.Class.Places), seats, page.Class.Name)
		assert.Len(t, d.Students, len(page.Class.Places))
		for _, row := range d.Students {
			at := laneLeft
			for _, b := range row.Bars {
				if b.Kind != "together" { // whoever is done may be at ease until all tidy up
					assert.InDelta(t, at, b.X, 2, "%s: a gap that is neither work nor waiting", row.Name)
				}
				at = b.X + b.Width
			}
			assert.Less(t, row.Y, d.Bottom)
		}
		require.NotEmpty(t, d.Pools)
		assert.Less(t, d.Bottom, d.Height)
	}
}

func TestWordsAreCutToTheirRoom(t *testing.T) {
	assert.Equal(t, "Ana", fitted("Ana", 40))
	assert.Equal(t, "Wren Ach…", fitted("Wren Achterberg-Holloway", 9*letterWidth))
	assert.Empty(t, fitted("Wren", 10))
	assert.Equal(t, "Wren", classhead.First("Wren Achterberg"))
	assert.Equal(t, "Cher", classhead.First("Cher"))
}
