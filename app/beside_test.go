package app_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/form"
	"chalkstep/app/people"
	"chalkstep/app/planning"
	"chalkstep/core/skill"
	"chalkstep/store"
)

// A form that somebody else saved meanwhile shows what they saved beside what
// was typed, and is saved when it is sent again by who has looked.
func TestWhatWasSavedMeanwhileStandsBesideWhatWasTyped(t *testing.T) {
	for _, c := range []struct {
		name string
		// form saves something with a word that can be changed, at a version, and
		// gives the version it now has.
		open  func(*testing.T, person) (version int)
		save  func(d person, version int, word string) error
		label string
	}{
		{"machine", func(t *testing.T, d person) int {
			in, err := d.MachineInput(heron)
			require.NoError(t, err)
			return in.Version
		}, func(d person, version int, word string) error {
			in, err := d.MachineInput(heron)
			in.Version, in.BobbinStyle = version, word
			if err == nil {
				_, err = d.SaveMachine(in)
			}
			return err
		}, "Bobbins"},
		{"hoop", func(t *testing.T, d person) int {
			in, err := d.HoopInput(1)
			require.NoError(t, err)
			return in.Version
		}, func(d person, version int, word string) error {
			in, err := d.HoopInput(1)
			in.Version, in.Name = version, word
			if err == nil {
				_, err = d.SaveHoop(in)
			}
			return err
		}, "Name"},
		{"student", func(t *testing.T, d person) int {
			s, err := d.Student(1)
			require.NoError(t, err)
			return s.Version
		}, func(d person, version int, word string) error {
			_, err := d.SaveStudent(skill.Student{ID: 1, Version: version, Name: word})
			return err
		}, "Name"},
		{"class", func(t *testing.T, d person) int {
			in, err := d.ClassInput(badges)
			require.NoError(t, err)
			return in.Version
		}, func(d person, version int, word string) error {
			in, err := d.ClassInput(badges)
			in.Version, in.Name = version, word
			if err == nil {
				_, err = d.SaveClass(in)
			}
			return err
		}, "Name"},
		{"item", func(t *testing.T, d person) int {
			page, err := d.StockItem(1)
			require.NoError(t, err)
			return page.Item.Version
		}, func(d person, version int, word string) error {
			page, err := d.StockItem(1)
			in := page.Typed
			in.Version, in.Supplier = version, word
			if err == nil {
				_, err = d.SaveStockItem(in)
			}
			return err
		}, "Supplier"},
		{"project", func(t *testing.T, d person) int {
			in, err := d.ProjectInput(badge)
			require.NoError(t, err)
			return in.Version
		}, func(d person, version int, word string) error {
			in, err := d.ProjectInput(badge)
			in.Version, in.Blank = version, word
			if err == nil {
				_, err = d.SaveProject(in)
			}
			return err
		}, "Blank"},
		{"part of a project", func(t *testing.T, d person) int {
			in, err := d.ProjectInput(badge)
			require.NoError(t, err)
			return in.Version
		}, func(d person, version int, word string) error {
			page, err := d.Project(badge)
			parts := page.Typed
			if err == nil {
				parts.Parts[0].Name = word
				err = d.SavePart(badge, version, "parts", parts)
			}
			return err
		}, "Part 1 name"},
		{"place on the roster", func(t *testing.T, d person) int {
			page, err := d.Class(badges)
			require.NoError(t, err)
			return page.Class.Places[0].Version
		}, func(d person, version int, word string) error {
			attendance := map[string]string{"first": "absent", "second": "expected", "third": "expected"}[word]
			return d.SavePlace(badges, 1, planning.PlaceInput{Version: version, Attendance: attendance})
		}, "Comes"},
		{"house rules", func(t *testing.T, d person) int {
			page, err := d.House()
			require.NoError(t, err)
			return page.Settings.Version
		}, func(d person, version int, word string) error {
			page, err := d.House()
			in := people.HouseInput{Version: version, Choices: map[string]string{}, SheetMargin: "25"}
			for _, q := range page.Questions {
				in.Choices[q.Key] = q.Choice(page.House)
			}
			in.TrimMM = map[string]string{"first": "7", "second": "8", "third": "9"}[word]
			if err == nil {
				err = d.SaveHouse(in)
			}
			return err
		}, "Leave of cut-away"},
	} {
		t.Run(c.name, func(t *testing.T) {
			d := desks(t)[store.Owner]
			version := c.open(t, d)
			require.NoError(t, c.save(d, version, "first"), "she saves")
			err := c.save(d, version, "second")
			var conflict form.Conflict
			require.ErrorAs(t, err, &conflict, "he had it open before")
			assert.Contains(t, err.Error(), "Someone else changed this")
			at := slices.IndexFunc(conflict.Fields, func(d form.Difference) bool { return d.Label == c.label })
			require.GreaterOrEqual(t, at, 0, "%v", conflict.Fields)
			assert.Contains(t, conflict.Fields[at].String(), "they saved")
			assert.Equal(t, c.open(t, d), conflict.Version, "and can be sent again by who has looked")
			require.NoError(t, c.save(d, conflict.Version, "third"))
		})
	}
}
