package planning

import (
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	app "chalkstep/app/planning"
	"chalkstep/core/classday"
	"chalkstep/core/say"
)

// The answer is what one press does, as far as that brings everyone into the window, and
// else whatever would help most; where nothing does it praises nothing.
func TestTheAnswerOfTheLevers(t *testing.T) {
	lever := func(name string, finish float64, fits, adopts bool) classday.Lever {
		return classday.Lever{Name: say.Name(name), FinishMinutes: finish, Fits: fits, Adopts: adopts}
	}
	page := func(levers ...classday.Lever) app.LeversPage {
		p := app.LeversPage{Each: levers}
		p.Plan.Class.Name, p.Plan.Class.StartsAt = "Totes", time.Date(2026, 12, 5, 13, 0, 0, 0, time.UTC)
		return p
	}
	twice := lever("Two sessions", 60, true, false)
	for name, c := range map[string]struct {
		page         app.LeversPage
		answer, best string
	}{
		"a press that brings it in": {page(twice, lever("An assistant", 90, true, true)),
			"An assistant: everyone of Totes done by 14:30.", "That helps most of what one press does."},
		"no press brings it in": {page(twice, lever("An assistant", 90, false, true)),
			"Two sessions: everyone of Totes done by 14:00.", "That would help most."},
		"what cannot be done at all": {page(lever("Two sessions", math.Inf(1), false, false)),
			"Nothing of the room would end Totes sooner.", ""},
		"nothing to offer": {page(), "Nothing of the room would end Totes sooner.", ""},
	} {
		t.Run(name, func(t *testing.T) {
			answer, best := leversAnswer(c.page)
			assert.Equal(t, c.answer, answer.String())
			assert.Equal(t, c.best, best.String())
		})
	}
}
