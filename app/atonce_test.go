package app_test

import (
	"errors"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/app/bookings"
	"chalkstep/app/form"
	"chalkstep/app/people"
	"chalkstep/app/prep"
	appstock "chalkstep/app/stock"
	"chalkstep/core/kit"
	"chalkstep/core/pace"
	"chalkstep/core/skill"
	"chalkstep/core/stock"
	"chalkstep/demo/demotest"
	"chalkstep/store"
)

// What six people do at once happens as if they had come one after the other,
// even when there is a long moment between what each of them read and what
// they write.
func TestSixAtOnce(t *testing.T) {
	const six = 6
	for _, c := range []struct {
		name string
		// before makes the workshop ready, and gives what each of them does.
		before func(*testing.T, person) func(person) error
		// done is how many of them may do it.
		done int
	}{
		{"a class is reserved for once", func(*testing.T, person) func(person) error {
			return func(p person) error { return p.Reserve(badges) }
		}, 1},
		{"what it used is booked once", func(t *testing.T, p person) func(person) error {
			require.NoError(t, p.Reserve(badges))
			return func(p person) error { return p.PutRight(badges, nil) }
		}, 1},
		{"off-cuts are kept once", func(t *testing.T, p person) func(person) error {
			fewerTotes(t, p)
			cutKits(t, p, totes)
			return func(p person) error { _, err := p.KeepOffcuts(totes, tearAway); return err }
		}, 1},
		{"twenty of twenty-five pins are used once", func(t *testing.T, p person) func(person) error {
			page, err := p.Shelf(badges)
			require.NoError(t, err)
			pins := need(t, page, "badge pin").Item.ID
			return func(p person) error {
				return p.MoveStock(pins, appstock.MoveInput{Kind: stock.Used, Quantity: "20"})
			}
		}, 1},
		{"a machine is booked once", func(t *testing.T, p person) func(person) error {
			page, err := p.Machines()
			require.NoError(t, err)
			students, err := p.StudentNames("")
			require.NoError(t, err)
			in := bookings.BookingInput{MachineID: page.Machines[0].ID, Student: students[0], Date: "2026-12-14", From: "10:00",
				To: "11:00", Accompanied: true}
			return func(p person) error { return p.Book(in) }
		}, 1},
		{"a kit is packed once", func(t *testing.T, p person) func(person) error {
			page, err := p.Kits(badges)
			require.NoError(t, err)
			bag := page.Bags[0]
			in := prep.KitInput{StudentID: bag.ID, Version: bag.Version, State: string(kit.Packed)}
			for _, item := range bag.Items {
				in.Packed = append(in.Packed, string(item.ID()))
			}
			return func(p person) error { return p.SaveKit(badges, in) }
		}, 1},
		{"a project gets one new version", func(t *testing.T, p person) func(person) error {
			in, err := p.ProjectInput(badge)
			require.NoError(t, err)
			in.Name = "Buoy badge, again"
			return func(p person) error { _, err := p.SaveProject(in); return err }
		}, 1},
		{"its minutes are set once", func(t *testing.T, p person) func(person) error {
			page, err := p.Project(badge)
			require.NoError(t, err)
			return func(p person) error {
				return p.SaveMinutes(badge, page.Project.Version, map[pace.StepKey]string{pace.StepHoop: "7"})
			}
		}, 1},
		{"of six photos one stays", func(t *testing.T, _ person) func(person) error {
			photo := aPhoto(t)
			return func(p person) error { return p.SavePhoto(badge, photo) }
		}, six},
		{"a mark that six take back is taken back once", func(t *testing.T, p person) func(person) error {
			page, err := p.Student(1)
			require.NoError(t, err)
			mark := page.Rungs[0].Kinds[0].Marks[0]
			return func(p person) error { return p.TakeMarkBack(1, mark.ID) }
		}, 1},
		{"six marks of one step by six people are six", func(t *testing.T, p person) func(person) error {
			return func(p person) error {
				return p.Mark(people.MarkInput{StudentIDs: []int64{11, 10, 9}, Skill: skill.SafeStart, On: skill.SingleNeedle,
					Level: skill.Helped})
			}
		}, six},
	} {
		t.Run(c.name, func(t *testing.T) {
			var slow bool
			s, err := store.Open(t.Context(), demotest.URL(t), store.OnStatement(func(sql string) {
				if verb, _, _ := strings.Cut(sql, " "); slow && (verb == "INSERT" || verb == "UPDATE" || verb == "DELETE") {
					time.Sleep(20 * time.Millisecond)
				}
			}))
			require.NoError(t, err)
			t.Cleanup(func() { s.Close() })
			a := actor.New(s, func() time.Time { return now })
			who, err := a.Who(t.Context(), 1, 1)
			require.NoError(t, err)
			do := c.before(t, atWork(a.For(t.Context(), who)))
			slow = true
			var all sync.WaitGroup
			answers := make([]error, six)
			for i := range six {
				all.Go(func() { answers[i] = do(atWork(a.For(t.Context(), who))) })
			}
			all.Wait()
			done := 0
			for _, err := range answers {
				if err == nil {
					done++
					continue
				}
				var problems form.Problems
				var conflict form.Conflict
				assert.True(t, errors.As(err, &problems) || errors.As(err, &conflict) || errors.Is(err, store.ErrNotFound),
					"the others get a reason: %v", err)
			}
			assert.Equal(t, c.done, done)
		})
	}
}
