package app_test

import (
	"archive/zip"
	"bytes"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/app/bookings"
	"chalkstep/app/designs"
	appfleet "chalkstep/app/fleet"
	"chalkstep/app/form"
	applive "chalkstep/app/live"
	"chalkstep/app/people"
	"chalkstep/app/planning"
	"chalkstep/app/prep"
	"chalkstep/app/projects"
	"chalkstep/app/stock"
	"chalkstep/app/wrapup"
	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/skill"
	"chalkstep/core/stitch"
	"chalkstep/demo"
	"chalkstep/demo/demotest"
	"chalkstep/demo/motif"
	"chalkstep/store"
	"chalkstep/store/storetest"
)

func TestMain(m *testing.M) { storetest.Main(m) }

var now = demotest.Now

// The areas' use cases, by names of their own so that one person can hold them all.
type (
	planningUse = planning.UseCases
	prepUse     = prep.UseCases
	liveUse     = applive.UseCases
	wrapupUse   = wrapup.UseCases
	designsUse  = designs.UseCases
	peopleUse   = people.UseCases
	projectsUse = projects.UseCases
	bookingsUse = bookings.UseCases
	fleetUse    = appfleet.UseCases
	stockUse    = stock.UseCases
)

// A person at work has the use cases of every area at hand.
type person struct {
	actor.Actor
	planningUse
	prepUse
	liveUse
	wrapupUse
	designsUse
	peopleUse
	projectsUse
	bookingsUse
	fleetUse
	stockUse
}

func atWork(d actor.Actor) person {
	return person{
		d, planningUse{Actor: d}, prepUse{Actor: d}, liveUse{Actor: d}, wrapupUse{Actor: d}, designsUse{Actor: d},
		peopleUse{Actor: d}, projectsUse{Actor: d}, bookingsUse{Actor: d}, fleetUse{Actor: d}, stockUse{Actor: d},
	}
}

// after is somebody a while later.
func (p person) after(d time.Duration) person {
	later := p.Actor
	later.Now = later.Now.Add(d)
	return atWork(later)
}

// desks opens the demo workshop for each of its people, by role.
func desks(t *testing.T) map[store.Role]person {
	t.Helper()
	s := demotest.Open(t)
	a := actor.New(s, func() time.Time { return now })
	all := map[store.Role]person{}
	for i, l := range demo.Logins {
		who, err := a.Who(t.Context(), 1, int64(i+1))
		require.NoError(t, err)
		all[l.Role] = atWork(a.For(t.Context(), who))
	}
	return all
}

func TestSigningIn(t *testing.T) {
	s := demotest.Open(t)
	clock := now
	a := actor.New(s, func() time.Time { return clock })
	in := actor.SignInInput{Email: " " + demo.Logins[0].Email + " ", Password: demo.Logins[0].Password, Agent: "a browser"}
	first, err := a.SignIn(t.Context(), in)
	require.NoError(t, err)
	token := first.Token
	who, err := a.Session(t.Context(), token)
	require.NoError(t, err)
	assert.Equal(t, demo.Logins[0].Name, who.Name)
	_, err = a.SignIn(t.Context(), actor.SignInInput{Email: demo.Logins[0].Email, Password: "wrong"})
	assert.ErrorIs(t, err, actor.ErrSignIn)
	_, err = a.SignIn(t.Context(), actor.SignInInput{Email: "nobody@ferry.example", Password: "wrong"})
	assert.ErrorIs(t, err, actor.ErrSignIn, "an unknown e-mail sounds the same")
	for _, odd := range []string{strings.Repeat("x", 300) + "@ferry.example", "nul\x00@ferry.example",
		"bad\xff@ferry.example", ""} {
		_, err = a.SignIn(t.Context(), actor.SignInInput{Email: odd, Password: "wrong"})
		assert.ErrorIs(t, err, actor.ErrSignIn, "%q", odd)
	}

	// A session lives by being used, and ends for good.
	for range 3 {
		clock = clock.Add(actor.SessionLength - time.Minute)
		_, err = a.Session(t.Context(), token)
		require.NoError(t, err)
	}
	in.Before = token
	again, err := a.SignIn(t.Context(), in)
	require.NoError(t, err)
	second := again.Token
	_, err = a.Session(t.Context(), token)
	assert.ErrorIs(t, err, store.ErrNotFound, "the browser's earlier session has ended")
	require.NoError(t, a.SignOut(t.Context(), second))
	_, err = a.Session(t.Context(), second)
	assert.ErrorIs(t, err, store.ErrNotFound)
	in.Before = ""
	later, err := a.SignIn(t.Context(), in)
	require.NoError(t, err)
	third := later.Token
	clock = clock.Add(actor.SessionLength + time.Minute)
	_, err = a.Session(t.Context(), third)
	assert.ErrorIs(t, err, store.ErrNotFound, "not used for too long")
	require.NoError(t, a.Tidy(t.Context()))
}

// problem is what an error says of a form field; what somebody else saved meanwhile is about the
// whole form.
func problem(t *testing.T, err error, field string) string {
	t.Helper()
	var problems form.Problems
	var conflict form.Conflict
	if errors.As(err, &conflict) && field == "" {
		return conflict.Error()
	}
	require.ErrorAs(t, err, &problems)
	return problems[field]
}

func TestAddingDesigns(t *testing.T) {
	d := desks(t)[store.Owner]
	crab := motif.Crab()
	data, err := stitch.Encode(crab.File, crab.Pattern)
	require.NoError(t, err)
	_, err = d.AddDesign("again.exp", data)
	assert.Equal(t, "again.exp holds the same stitches as “Crab”, which is here already.", problem(t, err, "file"))
	asPES, err := stitch.Encode("crab.pes", crab.Pattern)
	require.NoError(t, err)
	joined, err := d.AddDesign("crab.pes", asPES)
	require.NoError(t, err)
	twin, err := d.Design(joined)
	require.NoError(t, err)
	assert.Equal(t, "Crab", twin.Design.Name, "the same stitches in another format join their twin")
	assert.Equal(t, []string{"exp", "pes"}, twin.Design.Formats())
	_, err = d.AddDesign("crab-again.pes", append(asPES, 0))
	assert.Equal(t, "crab-again.pes holds the same stitches as “Crab”, which is here already.",
		problem(t, err, "file"))
	_, err = d.AddDesign(`C:\stick\crab.dst`, data)
	assert.Contains(t, problem(t, err, "file"), "Reading crab.dst: not a .dst file")
	_, err = d.AddDesign("", nil)
	assert.Contains(t, problem(t, err, "file"), "Choose a stitch file")

	other := motif.Lighthouse()
	other.Pattern.Moves = other.Pattern.Moves[:len(other.Pattern.Moves)-3]
	data, err = stitch.Encode("x.dst", other.Pattern)
	require.NoError(t, err)
	id, err := d.AddDesign("../lighthouse.dst", data)
	require.NoError(t, err)
	page, err := d.Design(id)
	require.NoError(t, err)
	assert.Equal(t, "Lighthouse 2", page.Design.Name, "the name is taken, so it gets a number")
	assert.Equal(t, "lighthouse.dst", page.Design.FileName)
	name, original, err := d.DesignFile(id)
	require.NoError(t, err)
	assert.Equal(t, "lighthouse.dst", name)
	assert.Equal(t, data, original)
	_, _, err = d.FileAs(id, "pdf")
	assert.ErrorIs(t, err, store.ErrNotFound, "there is no such format")
}

func TestAFileOfOnlyLongJumpsIsStillADesignOfNothing(t *testing.T) {
	d := desks(t)[store.Owner]
	_, err := d.AddDesign("jumps.exp", []byte{0x80, 4, 100, 100, 0x80, 4, 100, 100})
	assert.Contains(t, problem(t, err, "file"), "at least one stitch")
}

func TestABundleKeepsAFileForEachMachine(t *testing.T) {
	d := desks(t)[store.Owner]
	light := motif.Lighthouse().Pattern
	light.Moves = light.Moves[:len(light.Moves)-9]
	var packed bytes.Buffer
	z := zip.NewWriter(&packed)
	for _, name := range []string{"light/night.dst", "light/night.jef", "light/chart.txt"} {
		w, err := z.Create(name)
		require.NoError(t, err)
		data := []byte("1 sea")
		if !strings.HasSuffix(name, ".txt") {
			data, err = stitch.Encode(name, light)
			require.NoError(t, err)
		}
		_, err = w.Write(data)
		require.NoError(t, err)
	}
	require.NoError(t, z.Close())
	id, err := d.AddDesign("night_light.zip", packed.Bytes())
	require.NoError(t, err)
	page, err := d.Design(id)
	require.NoError(t, err)
	assert.Equal(t, "Night light", page.Design.Name)
	assert.Equal(t, []string{"jef", "dst"}, page.Design.Formats(), "the one that knows its colours is drawn")
	assert.Empty(t, page.Design.Warnings, "the files agree")
	ready := map[string]string{}
	for _, m := range page.Seats {
		ready[m.Machine.Name] = m.FileFormat + m.ConvertTo
	}
	assert.Equal(t, map[string]string{"Heron": "dst", "Kettle": "exp", "Lantern": "dst", "Pigeon": "jef", "Wharf": "dst"},
		ready)
	name, data, err := d.FileAs(id, "dst")
	require.NoError(t, err)
	assert.Equal(t, "night.dst", name)
	assert.Equal(t, "LA:", string(data[:3]))
	name, data, err = d.Chart(id, 1)
	require.NoError(t, err)
	assert.Equal(t, "chart.txt 1 sea", name+" "+string(data))
	retired, err := d.DeleteDesign(id)
	require.NoError(t, err)
	assert.False(t, retired, "nothing was made of it")

	_, err = d.AddDesign("empty.zip", []byte("PK\x03\x04"))
	assert.Contains(t, problem(t, err, "file"), "Reading empty.zip: the zip cannot be read")
}

// A zip of two designs is two designs, each with its own files, so that no stick
// gets the other's stitches; sent again with a third, only that is new.
func TestAZipOfTwoDesigns(t *testing.T) {
	d := desks(t)[store.Owner]
	shorter := func(m motif.Motif) *stitch.Pattern {
		p := m.Pattern
		p.Moves = p.Moves[:len(p.Moves)-9]
		return p
	}
	pack := func(files map[string]*stitch.Pattern) []byte {
		var out bytes.Buffer
		z := zip.NewWriter(&out)
		for _, name := range slices.Sorted(maps.Keys(files)) {
			w, err := z.Create(name)
			require.NoError(t, err)
			data, err := stitch.Encode(name, files[name])
			require.NoError(t, err)
			_, err = w.Write(data)
			require.NoError(t, err)
		}
		require.NoError(t, z.Close())
		return out.Bytes()
	}
	crab, sail := shorter(motif.Crab()), shorter(motif.Sail())
	id, err := d.AddDesign("set.zip",
		pack(map[string]*stitch.Pattern{"my-crab.pes": crab, "my-crab.dst": crab, "my-sail.pes": sail, "my-sail.exp": sail}))
	require.NoError(t, err)
	first, err := d.Design(id)
	require.NoError(t, err)
	library, err := d.Designs(designs.DesignFilter{Words: "my"}, 1)
	require.NoError(t, err)
	formats := map[string][]string{}
	for _, e := range library.Designs {
		formats[e.Design.Name] = e.Design.Formats()
	}
	assert.Equal(t, map[string][]string{"My crab": {"pes", "dst"}, "My sail": {"pes", "exp"}}, formats)
	require.Len(t, first.Design.Warnings, 1)
	assert.Contains(t, first.Design.Warnings[0], "another design, too, which is listed by itself")

	_, err = d.AddDesign("set.zip", pack(map[string]*stitch.Pattern{"my-crab.pes": crab, "my-sail.pes": sail}))
	assert.Contains(t, problem(t, err, "file"), "which is here already")
	id, err = d.AddDesign("more.zip",
		pack(map[string]*stitch.Pattern{"my-crab.pes": crab, "my-knot.pes": shorter(motif.RopeKnot())}))
	require.NoError(t, err)
	knot, err := d.Design(id)
	require.NoError(t, err)
	assert.Equal(t, "My knot", knot.Design.Name)
}

func TestTheLibraryIsSearchedAndCleared(t *testing.T) {
	d := desks(t)[store.Instructor]
	names := func(filter designs.DesignFilter) (names []string) {
		library, err := d.Designs(filter, 1)
		require.NoError(t, err)
		for _, p := range library.Designs {
			names = append(names, p.Design.Name)
		}
		return names
	}
	assert.Len(t, names(designs.DesignFilter{}), 7)
	assert.Equal(t, []string{"Buoy badge", "Buoy badges, six in one hoop"},
		names(designs.DesignFilter{Words: "water BUOY"}))
	assert.Equal(t, []string{"Buoy badge", "Buoy badges, six in one hoop"}, names(designs.DesignFilter{Tag: "felt"}))
	assert.Equal(t, []string{"Buoy badge"}, names(designs.DesignFilter{Tag: "felt", Level: 2}))
	assert.Equal(t, []string{"Buoy badge", "Crab", "Rope-knot sampler"}, names(designs.DesignFilter{MostMM: "70"}))
	assert.Equal(t, []string{"Lighthouse"}, names(designs.DesignFilter{Words: "lamp"}), "what a stop sews counts")
	assert.Equal(t, []string{"Buoy badge", "Crab", "Rope-knot sampler"}, names(designs.DesignFilter{HoopID: 1}),
		"the tiny hoop")
	assert.Equal(t, []string{"Crab", "Open sail"}, names(designs.DesignFilter{MostStops: "3"}))
	assert.Empty(t, names(designs.DesignFilter{Words: "anchor chain"}))

	remove := func(id int64) error {
		_, err := d.DeleteDesign(id)
		return err
	}
	assert.Equal(t, "The design is used by “Lighthouse tote”. Give the project another design first, then delete "+
		"this one.", problem(t, remove(2), ""))
	require.NoError(t, remove(5))
	assert.Len(t, names(designs.DesignFilter{}), 6)
	assert.ErrorIs(t, remove(5), store.ErrNotFound)
	_, err := desks(t)[store.Assistant].DeleteDesign(1)
	assert.ErrorIs(t, err, actor.ErrMayNot)
}

// One press makes the copies a design with the threads of the one it repeats, and
// a project on what that is made on; pressed twice it is made once.
func TestKeepingASheetOfCopies(t *testing.T) {
	d := desks(t)[store.Owner]
	const crab = 3
	in := designs.CopiesInput{HoopID: 6, Quantity: "8", Gap: "8", Best: true}
	sending := designs.UseCases{Actor: d.Sending([]byte(strings.Repeat("crab", 8)))}
	id, err := sending.KeepCopies(crab, in)
	require.NoError(t, err)
	again, err := sending.KeepCopies(crab, in)
	require.NoError(t, err)
	assert.Equal(t, id, again)
	page, err := d.Project(id)
	require.NoError(t, err)
	made := page.Design()
	assert.Equal(t, "Crab, 8 in one hoop", made.Name)
	assert.Equal(t, "Crab, 8 in one hoop", page.Name)
	assert.Equal(t, recipe.Fabric("terry"), page.Fabric, "as the crab is made so far")
	assert.Equal(t, "hand towel", page.Blank.Name)
	one, err := d.Design(crab)
	require.NoError(t, err)
	assert.Equal(t, 8*one.Design.Stitches, made.Stitches)
	require.Len(t, made.Stops, len(one.Design.Stops))
	for i, s := range one.Design.Stops {
		assert.Equal(t, []any{s.Color, s.Sews, s.Role}, []any{made.Stops[i].Color, made.Stops[i].Sews, made.Stops[i].Role})
	}
	_, err = d.KeepCopies(crab, in)
	assert.Contains(t, problem(t, err, ""), "the same stitches", "kept before")
	_, err = desks(t)[store.Assistant].KeepCopies(crab, in)
	assert.ErrorIs(t, err, actor.ErrMayNot)
}

func TestSeveralInOneHoop(t *testing.T) {
	d := desks(t)[store.Owner]
	const buoy = 5
	page, err := d.Copies(buoy, designs.CopiesInput{HoopID: 3, Quantity: "30", Gap: "8"})
	require.NoError(t, err)
	assert.Equal(t, "Buoy badge", page.Design.Name)
	assert.Equal(t, 6, page.Layout.PerHooping, "in the medium hoop")
	assert.Equal(t, 5, page.Hoopings)
	assert.Equal(t, 6, page.InLast)
	assert.Equal(t, 23, page.ChangesBefore)
	assert.Equal(t, 2, page.ChangesAfter, "water line and edge share a thread")
	name, data, err := d.CopiesFile(buoy, designs.CopiesInput{HoopID: 3, Quantity: "6", Gap: "8"}, "pes")
	require.NoError(t, err)
	assert.Equal(t, "buoy-x6.pes", name)
	pattern, _, err := stitch.Decode(name, data)
	require.NoError(t, err)
	assert.Equal(t, 6*page.Design.Stitches, stitch.Analyse(pattern).Stitches)

	_, err = d.Copies(buoy, designs.CopiesInput{HoopID: 3, Quantity: "0", Gap: "-1"})
	assert.NotEmpty(t, problem(t, err, "quantity"))
	assert.NotEmpty(t, problem(t, err, "gap"))
	_, err = d.Copies(7, designs.CopiesInput{HoopID: 3, Quantity: "2", Gap: "8"})
	assert.Contains(t, problem(t, err, "hoop"), "too wide by 10 mm")

	in := designs.CopiesInput{HoopID: 3, Quantity: "6", Gap: "8", ShapeWidth: "52 mm", ShapeHeight: "52", Round: true}
	page, err = d.Copies(buoy, in)
	require.NoError(t, err)
	assert.True(t, page.Margins.Even(), "a round badge in a round shape")
	assert.InDelta(t, 52.0/2-page.Design.WidthMM/2, page.Margins.Left, 0.2)
	assert.InDelta(t, 60, page.Layout.Spots[1].X-page.Layout.Spots[0].X, 1e-9, "the shape decides how far they are apart")
	assert.Greater(t, page.On[0].MinutesBefore, page.On[0].MinutesAfter)
	assert.Equal(t, []string{"Heron", "Kettle"}, []string{d.Say(page.On[0].By), d.Say(page.On[1].By)},
		"the machines that take the hoop")
	in.ShapeHeight = "tall"
	_, err = d.Copies(buoy, in)
	assert.Contains(t, problem(t, err, "shape-height"), "Write a length")
}

func TestStopsAreThePersonsToName(t *testing.T) {
	d := desks(t)[store.Instructor]
	page, err := d.Design(2)
	require.NoError(t, err)
	var choices []designs.StopChoice
	for _, s := range page.Stops {
		choices = append(choices, designs.StopChoice{N: s.N, Color: s.Color.String(), Role: string(s.Role), Sews: s.Sews})
	}
	choices[0], choices[1].Role = designs.StopChoice{N: 1, Color: "red", Role: "glitter",
		Sews: "The sea, the sky, the gulls above it, and all of the harbour wall"}, "run"
	err = d.SaveDesign(2,
		designs.DesignInput{Version: page.Design.Version, Level: 9, Tags: strings.Repeat("long ", 9), Stops: choices})
	assert.Contains(t, problem(t, err, "color-1"), "choose a colour")
	assert.Contains(t, problem(t, err, "role-1"), "choose what kind")
	assert.Contains(t, problem(t, err, "sews-1"), "60 characters")
	assert.Contains(t, problem(t, err, "name"), "name")
	assert.Contains(t, problem(t, err, "level"), "from the list")
	assert.Contains(t, problem(t, err, "tags"), "at most 30 letters")
	choices[0] = designs.StopChoice{N: 1, Color: choices[1].Color, Role: "fill", Sews: "Sea"}
	before := page.StitchOut.Changes
	require.NoError(t, d.SaveDesign(2,
		designs.DesignInput{Version: page.Design.Version, Name: "Light", Level: 3, Tags: "Tower,  harbour light, tower",
			Stops: choices}))
	page, err = d.Design(2)
	require.NoError(t, err)
	assert.Equal(t, stitch.Run, page.Stops[1].Role, "the correction stays")
	assert.Equal(t, []string{"tower", "harbour light"}, page.Design.Tags)
	assert.Equal(t, before-1, page.StitchOut.Changes, "neighbours with one thread need no change")
	assert.Contains(t, problem(t,
		d.SaveDesign(2, designs.DesignInput{Version: page.Design.Version - 1, Name: "Late", Stops: choices}), ""),
		"Someone else changed this")
}

func TestAProjectIsCheckedAgainstItsDesign(t *testing.T) {
	d := desks(t)[store.Owner]
	in := projects.ProjectInput{Name: "Pocket", Blank: "pocket", Design: "Lighthouse", Width: "80", Height: "90 mm",
		Fabric: "denim"}
	_, err := d.SaveProject(in)
	assert.Equal(t, "The design is 85 × 95 mm: the blank has to be larger.", problem(t, err, "width"))
	in.Width, in.Height, in.Fabric, in.Uses = "4 in", "", "tinfoil", []string{"eaten"}
	_, err = d.SaveProject(in)
	assert.NotEmpty(t, problem(t, err, "height"))
	assert.NotEmpty(t, problem(t, err, "fabric"))
	assert.NotEmpty(t, problem(t, err, "uses"))
	in.Name, in.Height, in.Fabric, in.Uses = "Lighthouse tote", "110", "denim", []string{"worn"}
	_, err = d.SaveProject(in)
	assert.Contains(t, problem(t, err, "name"), "is there already")
}

func TestAPlanFollowsWhatItWasMadeFrom(t *testing.T) {
	d := desks(t)[store.Owner]
	before, err := d.Class(3)
	require.NoError(t, err)
	again, err := d.Class(3)
	require.NoError(t, err)
	assert.Equal(t, before.Result, again.Result, "kept, not worked out anew")

	change, err := d.MachineInput(before.Class.Machines[0].ID)
	require.NoError(t, err)
	change.TopSpeed = "300"
	_, err = d.SaveMachine(change)
	require.NoError(t, err)
	slower, err := d.Class(3)
	require.NoError(t, err)
	assert.NotEqual(t, before.Result, slower.Result)
	assert.Greater(t, slower.Result.MakespanMinutes, before.Result.MakespanMinutes)
	assert.InDelta(t, slower.Class.EndsAt.Sub(slower.Finish()).Minutes(), slower.SpareMinutes, 1e-9)
}

func TestAnInstructorMoreBringsTheTotesInOnTime(t *testing.T) {
	d := desks(t)[store.Owner]
	late, err := d.Class(4)
	require.NoError(t, err)
	assert.False(t, late.Result.Fits)
	assert.Negative(t, late.SpareMinutes)
	in, err := d.ClassInput(4)
	require.NoError(t, err)
	in.Instructors = "2"
	_, err = d.SaveClass(in)
	require.NoError(t, err)
	fixed, err := d.Class(4)
	require.NoError(t, err)
	assert.True(t, fixed.Result.Fits, "%.0f minutes, and before %.0f", fixed.Result.MakespanMinutes,
		late.Result.MakespanMinutes)
}

func TestMachinesThatCannotSewItSitOut(t *testing.T) {
	d := desks(t)[store.Owner]
	in := planning.ClassInput{Name: "Mats", Project: "Compass mat", Date: "2026-12-19", From: "10:00", To: "13:00",
		Instructors: "1", Irons: "1", StudentIDs: []int64{1, 2}, Machines: []int64{1, 2}}
	id, err := d.SaveClass(in)
	require.NoError(t, err)
	page, err := d.Class(id)
	require.NoError(t, err)
	assert.Equal(t, "None of the class's machines can sew “Compass mat”.", page.Why.String())
	kits, err := d.Kits(id)
	require.NoError(t, err)
	assert.NotZero(t, kits.Packing.Kit.Sets, "what to pack is known all the same")
	_, err = d.StepCard(id, 1)
	assert.Contains(t, problem(t, err, ""), "Without a plan there are no step cards")
}

func TestAClassNamesWhatIsWrong(t *testing.T) {
	d := desks(t)[store.Owner]
	_, err := d.SaveClass(planning.ClassInput{Date: "soon", From: "ten", To: "13:00"})
	for _, field := range []string{"name", "project", "date", "from", "students", "machines", "instructors", "irons"} {
		assert.NotEmpty(t, problem(t, err, field), field)
	}
	// The clock goes by the workshop's own time zone, on a summer day too.
	id, err := d.SaveClass(planning.ClassInput{Name: "Summer", Project: "Rope-knot sampler", Date: "2027-07-03",
		From: "10:00", To: "12:00", Instructors: "1", Irons: "1", StudentIDs: []int64{1}, Machines: []int64{1}})
	require.NoError(t, err)
	page, err := d.Class(id)
	require.NoError(t, err)
	assert.Equal(t, "2027-07-03T09:00:00Z", page.Class.StartsAt.UTC().Format(time.RFC3339))
}

func TestAnAssistantSignsOffAndChangesNothingElse(t *testing.T) {
	d := desks(t)[store.Assistant]
	mark := func(key skill.Key, on skill.Kind, level skill.Level) error {
		return d.Mark(people.MarkInput{StudentIDs: []int64{1}, Skill: key, On: on, Level: level})
	}
	require.NoError(t, mark("bobbin", skill.MultiNeedle, skill.Alone))
	student, err := d.Student(1)
	require.NoError(t, err)
	assert.Contains(t, student.Signed(skill.MultiNeedle), skill.Bobbin)
	assert.NotEmpty(t, problem(t, mark("juggling", skill.MultiNeedle, skill.Alone), "skill"))
	assert.NotEmpty(t, problem(t, mark("bobbin", "tractor", skill.Alone), "kind"))
	assert.NotEmpty(t, problem(t, mark("bobbin", skill.MultiNeedle, "blindfolded"), "level"))

	_, adding := d.AddDesign("x.dst", nil)
	_, machine := d.SaveMachine(appfleet.MachineInput{})
	_, hoop := d.SaveHoop(appfleet.HoopInput{})
	_, newStudent := d.SaveStudent(skill.Student{})
	for _, refused := range []error{
		adding, machine, hoop, newStudent, d.SaveDesign(1, designs.DesignInput{Version: 1, Name: "x"}),
		d.Book(bookings.BookingInput{}), d.CancelBooking(1),
		d.LogStitchOut(1, designs.StitchOutInput{}), d.RemoveStitchOut(1, 1),
	} {
		assert.ErrorIs(t, refused, actor.ErrMayNot)
	}
	_, err = d.SaveProject(projects.ProjectInput{})
	assert.ErrorIs(t, err, actor.ErrMayNot)
	_, err = d.SaveClass(planning.ClassInput{})
	assert.ErrorIs(t, err, actor.ErrMayNot)
}

func nowClock() time.Time { return now }

// clock is a time as a text has it.
func clock(t time.Time) say.Clock { return say.Clock(t) }

// choicesOf are a house's choices as its form sends them.
func choicesOf(page people.HousePage) map[string]string {
	choices := map[string]string{}
	for _, q := range page.Questions {
		choices[q.Key] = q.Choice(page.House)
	}
	return choices
}

// An hour that the change of the clocks takes away cannot be booked, and the
// day it happens on is as long as it is.
func TestAnHourThatIsNotThere(t *testing.T) {
	d := desks(t)[store.Owner]
	in := bookings.BookingInput{MachineID: heron, Student: "Iris Vale", Date: "2027-03-28", From: "01:30", To: "03:00",
		Accompanied: true, Override: "a long night"}
	assert.Equal(t, "The clocks go forward that day: there is no 01:30.", problem(t, d.Book(in), "from"))
	in.From = "00:30"
	require.NoError(t, d.Book(in))
	in.Date, in.From, in.To = "2026-10-25", "01:30", "02:30" // is there twice
	assert.NotContains(t, fmt.Sprint(d.Book(in)), "there is no")
}

// A student is in one place at a time: in a class, in another, or at a machine.
func TestAStudentIsInOnePlaceAtATime(t *testing.T) {
	d := desks(t)[store.Owner]
	class, err := d.Class(badges)
	require.NoError(t, err)
	zone := d.Who.Zone
	date := class.Class.StartsAt.In(zone).Format("2006-01-02")
	in := bookings.BookingInput{MachineID: lantern, Student: "Ana Thorne", Date: date, From: "12:30", To: "13:30",
		Accompanied: true}
	assert.Equal(t, "Ana Thorne is in the class Buoy badges, first felt 10:00–13:00. Choose another time or student.",
		problem(t, d.Book(in), "student"))
	in.From, in.To = "13:00", "14:00"
	require.NoError(t, d.Book(in))
	in.MachineID = wharf
	assert.Contains(t, problem(t, d.Book(in), "student"), "Ana Thorne has Lantern 13:00–14:00.")

	other := planning.ClassInput{Name: "Summer", Project: "Rope-knot sampler", Date: date, From: "12:00", To: "14:00",
		Instructors: "1", Irons: "1", StudentIDs: []int64{1, 4, 14}, Machines: []int64{lantern}}
	said := problem(t, second(d.SaveClass(other)), "students")
	assert.Contains(t, said,
		"Ana Thorne is in the class Buoy badges, first felt 10:00–13:00. Dee Marchetti is in the class",
		"what Ana booked for herself is moved")
	assert.NotContains(t, said, "Wren")

	edit, err := d.ClassInput(badges)
	require.NoError(t, err)
	_, err = d.SaveClass(edit)
	require.NoError(t, err, "a class does not stand in its own way")
	place := class.Class.Places[0]
	require.NoError(t, d.SavePlace(badges, place.Student.ID,
		planning.PlaceInput{Attendance: "absent", Version: place.Version}))
	in.From, in.To = "10:00", "11:00"
	require.Equal(t, "Ana Thorne", place.Name)
	in.MachineID = lantern
	require.NoError(t, d.Book(in), "who misses the class is free")
}
