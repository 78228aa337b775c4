package app_test

import (
	"bytes"
	"image"
	"image/png"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/designs"
	"chalkstep/core/hoop"
	"chalkstep/core/pace"
	"chalkstep/store"
)

// Designs of the demo workshop by number, and its machines.
const (
	lighthouse, buoy, compass             = 2, 5, 7
	heron, kettle, lantern, pigeon, wharf = 1, 2, 3, 4, 5
)

// aPhoto is a small picture as a phone hands it in.
func aPhoto(t *testing.T) []byte {
	t.Helper()
	var out bytes.Buffer
	require.NoError(t, png.Encode(&out, image.NewGray(image.Rect(0, 0, 4, 3))))
	return out.Bytes()
}

func TestPlacingADesign(t *testing.T) {
	all := desks(t)
	d := all[store.Instructor]
	page, err := d.Placing(lighthouse, designs.PlacingInput{MachineID: heron})
	require.NoError(t, err)
	assert.Equal(t, "Small square", page.Hoop.Name, "the smallest that fits is shown first")
	assert.Nil(t, page.Saved)

	in := designs.PlacingInput{MachineID: heron, HoopID: page.Hoops[len(page.Hoops)-1].ID, Percent: 100, XMM: 500,
		Basted: true, Asked: true}
	page, err = d.Placing(lighthouse, in)
	require.NoError(t, err)
	assert.True(t, page.Placed.HeldBack, "moving ends at the field's edge")
	corner := page.Placed.Corners[1]
	assert.InDelta(t, page.Hoop.WidthMM/2, corner.X, 1e-9)
	assert.Equal(t, hoop.Point{X: corner.X - page.Hoop.OffXMM, Y: corner.Y - page.Hoop.OffYMM}, page.FromMarks(corner))

	in.Snap = "bottom left"
	page, err = d.SavePlacing(lighthouse, in)
	require.NoError(t, err)
	page, err = d.Placing(lighthouse, designs.PlacingInput{MachineID: heron})
	require.NoError(t, err)
	assert.True(t, page.IsSaved)
	assert.InDelta(t, -page.Hoop.WidthMM/2, page.Placed.Corners[3].X, 1e-9, "it opens where it was kept")
	_, err = d.SavePlacing(lighthouse, in)
	assert.Contains(t, problem(t, err, ""), "Someone else changed this", "saved by someone who had not seen it")

	page, err = d.Placing(compass, designs.PlacingInput{MachineID: lantern})
	require.NoError(t, err)
	assert.Contains(t, page.Problem.String(), "too wide")
	_, err = d.SavePlacing(compass, designs.PlacingInput{MachineID: lantern, Percent: 100})
	assert.Contains(t, problem(t, err, "hoop"), "Choose another hoop")
	_, err = d.Placing(lighthouse, designs.PlacingInput{MachineID: heron, Percent: 93, Asked: true})
	assert.Contains(t, problem(t, err, "percent"), "in steps of 5")
}

// Resizing an appliqué is locked: the owner alone may set that aside, and why
// is kept.
func TestALockOnResizingIsTheOwnersToSetAside(t *testing.T) {
	all := desks(t)
	in := designs.PlacingInput{MachineID: wharf, Percent: 95, Asked: true}
	page, err := all[store.Instructor].Placing(compass, in)
	require.NoError(t, err)
	require.NotEmpty(t, page.Locks)
	assert.Equal(t, "appliqué pieces", page.Locks[0].What.String())
	in.HoopID = page.Hoops[len(page.Hoops)-1].ID
	_, err = all[store.Instructor].SavePlacing(compass, in)
	assert.Contains(t, problem(t, err, "percent"), "Only the owner")
	_, err = all[store.Owner].SavePlacing(compass, in)
	assert.Contains(t, problem(t, err, "reason"), "write why")
	in.Reason = "pieces are not cut yet"
	_, err = all[store.Owner].SavePlacing(compass, in)
	require.NoError(t, err)
	page, err = all[store.Instructor].Placing(compass, designs.PlacingInput{MachineID: wharf})
	require.NoError(t, err)
	assert.Equal(t, 95, page.In.Percent)
	assert.Equal(t, "pieces are not cut yet", page.Saved.Override.Reason)
	assert.Equal(t, "Marit", page.Saved.Override.By)
	assert.Equal(t, now, page.Saved.Override.At.In(now.Location()))
}

func TestBordersAndAlignment(t *testing.T) {
	d := desks(t)[store.Owner]
	border, err := d.Border(buoy, designs.BorderInput{Length: "1200", Pitch: "45", HoopID: 6})
	require.NoError(t, err)
	assert.Equal(t, 27, border.Border.Repeats)
	assert.Equal(t, border.Hoop.HeightMM, border.FieldMM, "the longer side lies along the line")
	_, err = d.Border(buoy, designs.BorderInput{Length: "far"})
	assert.Contains(t, problem(t, err, "length"), "Write a length")
	_, err = d.Border(compass, designs.BorderInput{Length: "1200", HoopID: 1})
	assert.Contains(t, problem(t, err, "hoop"), "choose a larger one")

	page, err := d.Align(buoy, designs.AlignInput{})
	require.NoError(t, err)
	assert.False(t, page.Known)
	page, err = d.Align(buoy,
		designs.AlignInput{ClothA: [2]string{"-20", "1"}, ClothB: [2]string{"20", "1,5"}, DesignA: [2]string{"-20", "0"},
			DesignB: [2]string{"20", "0"}})
	require.NoError(t, err)
	assert.InDelta(t, 0.72, page.Alignment.TurnDegrees, 0.01)
	_, err = d.Align(buoy, designs.AlignInput{ClothA: [2]string{"left", ""}})
	assert.NotEmpty(t, problem(t, err, "cloth-a-x"))
	assert.NotEmpty(t, problem(t, err, "design-b-y"))
}

func TestCutPathsAndTemplates(t *testing.T) {
	d := desks(t)[store.Owner]
	page, err := d.Pieces(compass, designs.PiecesInput{})
	require.NoError(t, err)
	require.Len(t, page.Pieces, 1, "the placement line of the disc")
	assert.InDelta(t, 122, page.Cut.WidthMM, 0.3)
	name, svg, err := d.PiecesFile(compass, designs.PiecesInput{Stops: []int{1}, Offset: "0", Mirror: true})
	require.NoError(t, err)
	assert.Equal(t, "compass-pieces.svg", name)
	assert.Contains(t, string(svg), `width="120.`)
	_, err = d.Pieces(compass, designs.PiecesInput{Offset: "9"})
	assert.Contains(t, problem(t, err, "offset"), "0 mm to 2.5 mm")
	_, err = d.Pieces(compass, designs.PiecesInput{Stops: []int{99}})
	assert.Contains(t, problem(t, err, "stop"), "at least one")

	name, pdf, err := d.TemplateFile(t.Context(), lighthouse, designs.PlacingInput{MachineID: heron}, "Letter")
	require.NoError(t, err)
	assert.Equal(t, "lighthouse-template.pdf", name)
	assert.True(t, strings.HasPrefix(string(pdf), "%PDF-"))
	name, svg, err = d.TemplateFile(t.Context(), lighthouse, designs.PlacingInput{MachineID: heron}, "")
	require.NoError(t, err)
	assert.Equal(t, "lighthouse-template.svg", name)
	assert.Contains(t, string(svg), "mm")
	_, _, err = d.TemplateFile(t.Context(), lighthouse, designs.PlacingInput{MachineID: heron}, "B5")
	assert.Contains(t, problem(t, err, ""), "A4 or Letter")
}

// What is logged moves the estimates: a machine that took longer is planned
// slower, thread that was measured changes the kits.
func TestLoggedStitchOutsTeach(t *testing.T) {
	d := desks(t)[store.Instructor]
	before, err := d.Design(lighthouse)
	require.NoError(t, err)
	minutes := func(page designs.DesignPage, machine string) float64 {
		for _, m := range page.Seats {
			if m.Machine.Name == machine {
				return m.StitchOut.Total
			}
		}
		return 0
	}
	in := designs.StitchOutInput{MachineID: wharf, Date: "2026-11-23", Fabric: "canvas", Recipe: "tear-away",
		Minutes: "20", Thread: "25", Breaks: "3", WentWrong: "one break", Photo: aPhoto(t)}
	for range 4 {
		require.NoError(t, d.LogStitchOut(lighthouse, in))
	}
	after, err := d.Design(lighthouse)
	require.NoError(t, err)
	require.Len(t, after.StitchOuts, len(before.StitchOuts)+4)
	run := after.StitchOuts[0]
	assert.Equal(t, "one break", run.WentWrong)
	assert.Greater(t, run.OffPercent(), 25.0)
	assert.Greater(t, minutes(after, "Wharf"), minutes(before, "Wharf"))
	assert.InDelta(t, minutes(before, "Heron"), minutes(after, "Heron"), 1e-9, "other machines are not blamed")
	assert.Greater(t, after.TopMM, before.TopMM)
	require.NotNil(t, run.Breaks)
	assert.Equal(t, 3, *run.Breaks)
	for _, m := range after.Seats {
		rate := pace.Defaults().BreakRate(m.Machine.Logged.Runs)
		assert.Equal(t, m.Machine.Name == "Wharf", rate > 0.5, "%s breaks %v times in 10,000", m.Machine.Name, rate)
	}
	kind, _, err := d.StitchOutPhoto(lighthouse, run.ID)
	require.NoError(t, err)
	assert.Equal(t, "image/jpeg", kind)
	require.NoError(t, d.RemoveStitchOut(lighthouse, run.ID))
	assert.ErrorIs(t, d.RemoveStitchOut(lighthouse, run.ID), store.ErrNotFound)

	bad := designs.StitchOutInput{Date: "2027-01-01", Fabric: "tinfoil", Minutes: "long", Thread: "much", Breaks: "often",
		Photo: []byte("GIF89a")}
	err = d.LogStitchOut(lighthouse, bad)
	for field, says := range map[string]string{"machine": "Choose the machine", "date": "still to come",
		"fabric": "Choose what", "minutes": "Write the minutes", "thread": "Write the metres",
		"breaks": "how often the thread broke", "photo": "JPEG, PNG or WebP"} {
		assert.Contains(t, problem(t, err, field), says)
	}
}
