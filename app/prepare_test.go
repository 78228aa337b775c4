package app_test

import (
	"archive/zip"
	"bytes"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/app/actor"
	"chalkstep/app/classload"
	"chalkstep/app/designs"
	"chalkstep/app/people"
	"chalkstep/app/planning"
	"chalkstep/app/prep"
	"chalkstep/app/projects"
	appstock "chalkstep/app/stock"
	"chalkstep/core/classday"
	"chalkstep/core/kit"
	"chalkstep/core/say"
	"chalkstep/core/stitch"
	"chalkstep/core/stock"
	"chalkstep/core/supply"
	"chalkstep/store"
)

// Classes and projects of the demo workshop by number.
const (
	ropes, towels, badges, totes   = 1, 2, 3, 4
	toteProject, towel, badge, mat = 2, 3, 5, 6
)

func need(t *testing.T, page classload.ShelfPage, what string) stock.Need {
	t.Helper()
	for _, n := range page.Needs {
		if n.Say().String() == what {
			return n
		}
	}
	require.Fail(t, "nothing is needed of "+what)
	return stock.Need{}
}

// Two oranges of the crab would both be sewn in the one red there is: it is
// given to one, and the other waits until somebody says what to do.
func TestTwoColoursAreNotSewnInOneThreadUnasked(t *testing.T) {
	d := desks(t)[store.Instructor]
	page, err := d.Shelf(towels)
	require.NoError(t, err)
	taken := map[string]int{}
	var without []stock.Need
	for _, n := range page.Needs {
		switch {
		case n.Key.Kind != supply.Thread:
		case n.Item != nil:
			taken[n.Item.Name]++
		default:
			without = append(without, n)
		}
	}
	assert.Equal(t, 1, taken["Buoy red"])
	for _, n := range without {
		require.NotNil(t, n.Taken)
		assert.True(t, n.Short())
	}

	page, err = d.Shelf(badges)
	require.NoError(t, err)
	for _, n := range page.Needs {
		assert.Nil(t, n.Taken, "each colour of the badge has its own thread")
	}
}

// A class is prepared: what it needs is found, reserved, short things are on
// the buy list, and afterwards the shelf is right.
func TestTheShelfIsRightAfterwards(t *testing.T) {
	d := desks(t)[store.Instructor]
	page, err := d.Shelf(badges)
	require.NoError(t, err)
	pins := need(t, page, "badge pin")
	assert.Equal(t, 66.0, pins.Quantity, "six for each of eight students, a test and two spares")
	assert.Equal(t, 41.0, pins.Missing())
	red := need(t, page, "thread Buoy red")
	assert.Less(t, red.Near.Off, 1.0)
	assert.InDelta(t, float64(page.Plan.Spools[supply.Spool(supply.Polyester, stitch.RGB{R: 0xc2, G: 0x3b, B: 0x2a})]),
		float64(red.AtOnce), 1e-9, "as many spools as machines sew it at once")
	assert.Less(t, red.Quantity, 1e6, "of which less than a thousand metres are sewn")
	roll := need(t, page, "medium tear-away")
	assert.Greater(t, roll.Quantity, 0.0)
	assert.Equal(t, "Tear-away medium, 50 cm", roll.Item.Name)
	remnant := need(t, page, "medium tear-away, remnant")
	assert.Equal(t, 1.0, remnant.Quantity, "the remnant goes first")
	assert.Greater(t, page.FeeCents, 0.0)

	list, err := d.BuyList()
	require.NoError(t, err)
	bought := map[string]stock.Purchase{}
	for _, line := range list.Purchases {
		bought[line.Item.Name] = line
		assert.InDelta(t, float64(line.Packs)*line.Item.Pack, line.Buy, 1e-9, "whole packs")
		assert.GreaterOrEqual(t, line.Buy, line.Short-1e-6)
	}
	assert.Equal(t, 3, bought["Badge pins"].Packs)
	csv, err := d.BuyCSV()
	require.NoError(t, err)
	assert.Contains(t, string(csv), "Badge pins,,51,3,60,9.00")
	pdf, err := d.BuyPDF(t.Context(), "A4")
	require.NoError(t, err)
	assert.True(t, bytes.HasPrefix(pdf, []byte("%PDF-")))

	require.NoError(t, d.Reserve(badges))
	page, err = d.Shelf(badges)
	require.NoError(t, err)
	assert.Equal(t, 25.0, need(t, page, "badge pin").Reserved, "what there is")
	assert.Equal(t, 41.0, need(t, page, "badge pin").Missing())
	assert.InDelta(t, roll.Quantity, need(t, page, "medium tear-away").Reserved, 1e-6)
	assert.Contains(t, problem(t, d.Reserve(badges), ""), "nothing more to reserve")
	other, err := d.Shelf(totes)
	require.NoError(t, err)
	assert.Less(t, need(t, other, "medium tear-away").Item.Available(), 1900-roll.Quantity+1,
		"what one class has spoken for no other sees as free")

	require.NoError(t, d.PutRight(badges, map[int64]prep.Gone{pins.Item.ID: {Used: "20", Spoiled: "2"}}))
	after, err := d.StockItem(pins.Item.ID)
	require.NoError(t, err)
	assert.Equal(t, []float64{3, 0}, []float64{after.Item.OnHand, after.Item.Reserved},
		"twenty were used and two spoiled, the rest is back")
	after, err = d.StockItem(roll.Item.ID)
	require.NoError(t, err)
	assert.InDelta(t, 1900-roll.Quantity, after.Item.OnHand, 1e-6)
	assert.Contains(t, problem(t, d.PutRight(badges, nil), ""), "nothing reserved")
	assert.Equal(t, stock.Used, after.Ledger[0].Kind)
}

// cutKits says of all kits of a class that they are cut.
func cutKits(t *testing.T, d person, classID int64) {
	t.Helper()
	page, err := d.Kits(classID)
	require.NoError(t, err)
	for _, bag := range page.Bags {
		require.NoError(t, d.SaveKit(classID, prep.KitInput{StudentID: bag.ID, Version: bag.Version, State: string(kit.Cut)}))
	}
}

// fewerTotes has somebody of the totes miss the class, so that something is left over
// of what is cut.
func fewerTotes(t *testing.T, d person) {
	t.Helper()
	plan, err := d.Class(totes)
	require.NoError(t, err)
	place := plan.Class.Places[0]
	require.NoError(t, d.SavePlace(totes, place.ID,
		planning.PlaceInput{Version: place.Version, Attendance: string(classday.Absent)}))
}

func TestOffcutsComeBackAsRemnants(t *testing.T) {
	d := desks(t)[store.Owner]
	fewerTotes(t, d)
	page, err := d.Shelf(totes)
	require.NoError(t, err)
	offcuts := 0
	for _, sheet := range page.Cuts {
		offcuts += len(sheet.Offcuts())
	}
	require.Positive(t, offcuts)
	_, err = d.KeepOffcuts(totes, tearAway)
	assert.Contains(t, problem(t, err, ""), "not all cut yet", "nothing is left over of what nobody has cut")
	cutKits(t, d, totes)
	kept, err := d.KeepOffcuts(totes, tearAway)
	require.NoError(t, err)
	assert.Equal(t, offcuts, kept)
	_, err = d.KeepOffcuts(totes, tearAway)
	assert.Contains(t, problem(t, err, ""), "on the shelf already", "what the class left is kept once")
	_, err = d.KeepOffcuts(totes, "felt")
	assert.Contains(t, problem(t, err, ""), "Choose whose off-cuts")
	stock, err := d.Stock("", 1)
	require.NoError(t, err)
	remnants := 0
	for _, item := range stock.Items {
		if item.Remnant {
			remnants++
			assert.GreaterOrEqual(t, min(item.WidthMM, item.HeightMM), 100.0)
		}
	}
	assert.Equal(t, 1+kept, remnants)
}

func TestWhatIsWrittenOfStockIsChecked(t *testing.T) {
	d := desks(t)[store.Instructor]
	_, err := d.SaveStockItem(appstock.StockInput{Kind: "stabilizer", Material: "tear-away", Weight: "light", Form: "roll",
		Width: "wide", Pack: "none", PackCost: "dear", Reorder: "-1"})
	for field, says := range map[string]string{"name": "name on its box", "width": "Write a length", "pack": "more than 0",
		"pack-cost": "such as 12.50", "reorder": "buy again"} {
		assert.Contains(t, problem(t, err, field), says)
	}
	_, err = d.SaveStockItem(appstock.StockInput{Kind: "thread", Name: "Fog", Fibre: "fog", Color: "grey", Metres: "lots"})
	assert.Contains(t, problem(t, err, "fibre"), "spun of")
	assert.Contains(t, problem(t, err, "color"), "colour")
	assert.Contains(t, problem(t, err, "metres"), "metres")
	_, err = d.SaveStockItem(appstock.StockInput{Kind: "treasure", Name: "Gold"})
	assert.Contains(t, problem(t, err, "kind"), "kind of thing")
	itemID, err := d.SaveStockItem(appstock.StockInput{Kind: "fabric", Name: "Storm canvas", Fabric: "canvas",
		Form: "roll", Width: "150 cm", Pack: "2", PackCost: "31.00", Reorder: "1.5"})
	require.NoError(t, err)
	require.NoError(t, d.MoveStock(itemID, appstock.MoveInput{Kind: stock.Bought, Quantity: "2,5"}))
	page, err := d.StockItem(itemID)
	require.NoError(t, err)
	assert.Equal(t, 2500.0, page.Item.OnHand, "metres of what is counted by length")
	assert.Equal(t, "2.50 m", page.Item.Amount(page.Item.OnHand).String())
	assert.Contains(t, problem(t, d.MoveStock(itemID, appstock.MoveInput{Kind: stock.Used, Quantity: "9"}), "quantity"),
		"Only 2.50 m is there and free")
	assert.Contains(t, problem(t, d.MoveStock(itemID, appstock.MoveInput{Kind: "lost", Quantity: "some"}), "kind"),
		"what happened")
	require.NoError(t, d.MoveStock(itemID, appstock.MoveInput{Kind: stock.Counted, Quantity: "2"}))
	page, err = d.StockItem(itemID)
	require.NoError(t, err)
	assert.Equal(t, 2000.0, page.Item.OnHand)
	assert.Equal(t, -500.0, page.Ledger[0].Quantity, "counting is a movement of the difference")
}

func TestAKitIsPackedWhenNothingIsMissing(t *testing.T) {
	everyone := desks(t)
	d := everyone[store.Assistant]
	page, err := d.Kits(badges)
	require.NoError(t, err)
	require.Len(t, page.Bags, 8)
	bag := page.Bags[0]
	assert.Equal(t, 1, bag.Sitting)
	var all []string
	for _, item := range bag.Items {
		all = append(all, string(item.ID()))
	}
	in := prep.KitInput{StudentID: bag.ID, Version: bag.Version, Packed: all[:2], State: string(kit.Packed)}
	err = d.SaveKit(badges, in)
	assert.Contains(t, problem(t, err, "kit-"+idText(bag.ID)),
		"kit is not complete: badge pin and step card are still missing")
	in.Packed = all
	require.NoError(t, d.SaveKit(badges, in))
	assert.Contains(t, problem(t, d.SaveKit(badges, in), ""), "Someone else changed this", "packed by two at once")
	page, err = d.Kits(badges)
	require.NoError(t, err)
	assert.Equal(t, 1, page.Done())
	next, _ := page.Bags[0].Kit.Next()
	assert.Equal(t, kit.HandedOut, next)
	assert.Zero(t, page.Bags[0].Missing)

	// A change of the roster leaves packed kits as they are.
	packed := page.Bags[0].ID
	edit, err := everyone[store.Owner].ClassInput(badges)
	require.NoError(t, err)
	leaves := slices.IndexFunc(edit.StudentIDs, func(id int64) bool { return id != packed })
	edit.StudentIDs = slices.Delete(edit.StudentIDs, leaves, leaves+1)
	_, err = everyone[store.Owner].SaveClass(edit)
	require.NoError(t, err)
	page, err = d.Kits(badges)
	require.NoError(t, err)
	require.Len(t, page.Bags, 7)
	at := slices.IndexFunc(page.Bags, func(b classday.Bag) bool { return b.ID == packed })
	assert.Equal(t, kit.Packed, page.Bags[at].Kit)
	assert.Len(t, page.Bags[at].Packed, len(all), "what is in the bag stays in it, whichever hoop it is for now")
}

func idText(n int64) string { return strconv.FormatInt(n, 10) }

// Absent students are planned without, late ones start later, and someone who
// makes something else has their own kit and card.
func TestAbsentLateAndDifferent(t *testing.T) {
	d := desks(t)[store.Instructor]
	before, err := d.Class(badges)
	require.NoError(t, err)
	students := before.Class.Places
	require.NoError(t, d.SavePlace(badges, students[0].ID,
		planning.PlaceInput{Version: 1, Attendance: string(classday.Absent)}))
	require.NoError(t, d.SavePlace(badges, students[1].ID,
		planning.PlaceInput{Version: 1, Attendance: string(classday.Late), LateMinutes: "30"}))
	require.NoError(t, d.SavePlace(badges, students[2].ID,
		planning.PlaceInput{Version: 1, Attendance: string(classday.Expected), Project: "Crab hand towel"}))
	assert.Contains(t, problem(t,
		d.SavePlace(badges, students[2].ID, planning.PlaceInput{Version: 1, Attendance: string(classday.Absent)}), ""),
		"Someone else changed this")
	page, err := d.Class(badges)
	require.NoError(t, err)
	assert.Empty(t, page.StepsOf(idText(students[0].ID)))
	assert.GreaterOrEqual(t, page.StepsOf(idText(students[1].ID))[0].Start, 30.0)
	require.Len(t, page.Works, 2)
	assert.Equal(t, "Crab hand towel", page.Works[1].Name)
	kits, err := d.Kits(badges)
	require.NoError(t, err)
	require.Len(t, kits.Packing.Kit.Blanks, 2)
	assert.Equal(t, "hand towel", kits.Packing.Kit.Blanks[1].Say().String())
	card, err := d.StepCard(badges, students[2].ID)
	require.NoError(t, err)
	assert.Equal(t, "Crab hand towel", card.Card.Project)
	assert.Contains(t, card.Card.Steps[1].Note.String(), "water-soluble topper on top")
	_, err = d.StepCard(badges, students[0].ID)
	assert.Contains(t, problem(t, err, ""), "is absent")
	assert.Contains(t, problem(t,
		d.SavePlace(badges, students[3].ID, planning.PlaceInput{Attendance: string(classday.Late)}), "late"), "1 to 180")
	assert.Contains(t, problem(t, d.SavePlace(badges, students[3].ID, planning.PlaceInput{Attendance: "maybe"}),
		"attendance"), "late or absent")
	for _, s := range page.Class.Places {
		require.NoError(t, d.SavePlace(badges, s.ID,
			planning.PlaceInput{Version: s.Version, Attendance: string(classday.Absent)}))
	}
	page, err = d.Class(badges)
	require.NoError(t, err)
	assert.Equal(t, "Everyone is absent.", page.Why.String())
}

// A class keeps the project it was planned with until the newest is asked for.
func TestAClassKeepsItsVersionOfTheProject(t *testing.T) {
	d := desks(t)[store.Owner]
	before, err := d.Class(totes)
	require.NoError(t, err)
	project, err := d.Project(toteProject)
	require.NoError(t, err)
	require.NoError(t, d.SavePart(toteProject, project.Version, "work",
		projects.ProjectParts{Work: []projects.WorkInput{{Title: "Sew the handles on", Minutes: "20"}}}))
	assert.Contains(t, problem(t, d.SavePart(toteProject, project.Version, "work", projects.ProjectParts{}), ""),
		"Someone else changed this")
	kept, err := d.Class(totes)
	require.NoError(t, err)
	assert.Equal(t, before.Result, kept.Result)
	in, err := d.ClassInput(totes)
	require.NoError(t, err)
	assert.True(t, in.Outdated)
	in.Newest = true
	_, err = d.SaveClass(in)
	require.NoError(t, err)
	newest, err := d.Class(totes)
	require.NoError(t, err)
	assert.Greater(t, newest.Result.MakespanMinutes, before.Result.MakespanMinutes)
	titles := ""
	for _, s := range newest.Works[0].Steps {
		titles += s.Title.String() + "; "
	}
	assert.Contains(t, titles, "Sew the handles on; Inspect together")
}

// A thing of two hoopings is hooped, loaded and sewn twice, with a file and a
// card page for each.
func TestTwoHoopings(t *testing.T) {
	d := desks(t)[store.Owner]
	project, err := d.Project(badge)
	require.NoError(t, err)
	require.NoError(t, d.SavePart(badge, project.Version, "hoopings",
		projects.ProjectParts{Hoopings: []projects.HoopingInput{{Title: "the back", Design: "Buoy badge"}}}))
	in, err := d.ClassInput(badges)
	require.NoError(t, err)
	in.Newest = true
	_, err = d.SaveClass(in)
	require.NoError(t, err)
	page, err := d.Class(badges)
	require.NoError(t, err)
	require.True(t, page.Planned())
	student := page.Class.Places[0]
	var keys []string
	for _, s := range page.StepsOf(idText(student.ID)) {
		keys = append(keys, s.Operation)
	}
	assert.Equal(t, []string{"mark", "stabilise", "hoop", "load", "sew", "unhoop", "hoop-2", "load-2", "sew-2", "unhoop-2",
		"clean-up", "press", "work:1", "sign-off"}, keys)
	card, err := d.StepCard(badges, student.ID)
	require.NoError(t, err)
	require.Len(t, card.Card.Sheets, 2)
	assert.Equal(t, "the back", card.Card.Sheets[1].Title)
	pdf, err := d.CardsPDF(t.Context(), badges, "A4")
	require.NoError(t, err)
	assert.True(t, bytes.HasPrefix(pdf, []byte("%PDF-")))

	require.NoError(t, err)
	for _, seat := range page.Works[0].Sewing[1].Seats {
		if len(page.Sits(seat.Machine.ID)) == 0 {
			continue
		}
		_, data, err := d.Stick(badges, seat.Machine.ID)
		require.NoError(t, err)
		archive, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
		require.NoError(t, err)
		for _, f := range archive.File {
			if f.Name == "INDEX.TXT" {
				continue
			}
			assert.Contains(t, seat.Machine.Formats, strings.ToLower(f.Name[strings.LastIndex(f.Name, ".")+1:]))
		}
	}
	_, _, err = d.Stick(badges, 4)
	assert.Contains(t, problem(t, err, ""), "Pigeon cannot sew Buoy badges, six in one hoop: too tall by 45 mm.")

	for part, wrong := range map[string]projects.ProjectParts{
		"hoopings": {Hoopings: []projects.HoopingInput{{Title: "the back", Design: "None"}}},
		"layers":   {Layers: []projects.LayerInput{{As: "custard"}}},
		"parts":    {Parts: []projects.PartInput{{Name: "pin", Count: "0"}}},
		"work":     {Work: []projects.WorkInput{{Minutes: "5"}}},
		"level":    {Level: "7"},
	} {
		assert.NotEmpty(t, problem(t, d.SavePart(badge, project.Version+1, part, wrong), part), part)
	}
	taught := d.SavePart(badge, project.Version+1, "level",
		projects.ProjectParts{Level: "1", Teaches: []string{"juggling"}})
	assert.NotEmpty(t, problem(t, taught, "teaches"))
	nameless := d.SavePart(badge, project.Version+1, "parts",
		projects.ProjectParts{Parts: []projects.PartInput{{Count: "6"}}})
	assert.Contains(t, problem(t, nameless, "parts"), "write its name", "a number without a name is not dropped")
	assert.ErrorIs(t, d.SavePart(badge, project.Version+1, "custard", projects.ProjectParts{}), store.ErrNotFound)
}

// House rules change recipes, and a project may differ.
func TestHouseRules(t *testing.T) {
	all := desks(t)
	page, err := all[store.Instructor].House()
	require.NoError(t, err)
	in := people.HouseInput{Version: page.Settings.Version,
		Choices: map[string]string{"resizing": "never", "watch": "alert"}, TrimMM: "6 mm", SheetMargin: "30"}
	assert.ErrorIs(t, all[store.Instructor].SaveHouse(in), actor.ErrMayNot)
	in.Choices["watch"], in.TrimMM = "sleep", "close"
	err = all[store.Owner].SaveHouse(in)
	assert.Contains(t, problem(t, err, "watch"), "one of the schools")
	assert.Contains(t, problem(t, err, "trim"), "Write a length")
	in.Choices["watch"], in.TrimMM = "alert", "6 mm"
	require.NoError(t, all[store.Owner].SaveHouse(in))
	page, err = all[store.Owner].House()
	require.NoError(t, err)
	assert.Equal(t, 2, page.Otherwise)
	project, err := all[store.Owner].Project(toteProject)
	require.NoError(t, err)
	assert.Equal(t, project.Hoop.WidthMM+60, project.Recipe.Under[0].CutMM[0])
	placing, err := all[store.Owner].Placing(buoy, designs.PlacingInput{MachineID: heron, Percent: 105, Asked: true})
	require.NoError(t, err)
	assert.Equal(t, "the house rule", placing.Locks[0].What.String())
	differs, err := all[store.Owner].Project(mat)
	require.NoError(t, err)
	assert.Equal(t, "Jumps", differs.Differs[0].Title)
	assert.Equal(t, "at-end", differs.Recipe.Jumps)
}

// Layers are cut by the rules, and the placement on the blank can be moved.
func TestLayersAndPlacement(t *testing.T) {
	d := desks(t)[store.Owner]
	id, err := d.SaveClass(planning.ClassInput{Name: "Mats", Project: "Compass mat", Date: "2027-01-09", From: "10:00",
		To: "18:00", Instructors: "1", Irons: "1", StudentIDs: []int64{1, 5}, Machines: []int64{wharf}})
	require.NoError(t, err)
	page, err := d.Shelf(id)
	require.NoError(t, err)
	sizes := map[string]string{}
	for _, sheet := range page.Cuts {
		for _, p := range sheet.Pieces {
			sizes[kit.Item{As: p.As, Key: p.Key}.Say().String()] = say.Plain.Say(say.Size(p.SizeMM))
		}
	}
	assert.Equal(t, "144 × 143 mm", sizes["piece of linen"], "the placement line's 120 mm and 12 mm a side")
	assert.Equal(t, "196 × 196 mm", sizes["background of woven cotton"])
	assert.Equal(t, "716 × 63 mm", sizes["binding of linen"])
	card, err := d.StepCard(id, 1)
	require.NoError(t, err)
	stops := card.Card.Sheets[0].Stops
	assert.Contains(t, stops[1].Before[0].String(), "Lay the piece on top")
	assert.Equal(t, "Lay the backing from below, tape the corners.", stops[4].Before[0].String())
	assert.Contains(t, stops[0].Before[0].String(), "Lay the batting on top",
		"what is laid at the start comes before the first stop")
	pdf, err := d.CutPDF(t.Context(), id, "Letter")
	require.NoError(t, err)
	assert.True(t, bytes.HasPrefix(pdf, []byte("%PDF-")))
	pdf, err = d.LabelsPDF(t.Context(), id, "http://127.0.0.1:8080", "A4, 14 labels")
	require.NoError(t, err)
	assert.True(t, bytes.HasPrefix(pdf, []byte("%PDF-")))

	project, err := d.Project(mat)
	require.NoError(t, err)
	require.NoError(t, d.SavePart(mat, project.Version, "place",
		projects.ProjectParts{Place: projects.PlaceOnBlank{Shape: "square", Spot: "centre", Right: "-8 mm"}}))
	project, err = d.Project(mat)
	require.NoError(t, err)
	assert.InDelta(t, 65, project.Mark.Measures[0].MM, 1e-9, "the numbers follow the hand")
	require.NoError(t, d.SavePhoto(mat, aPhoto(t)))
	kind, _, err := d.ProjectPhoto(mat)
	require.NoError(t, err)
	assert.Equal(t, "image/jpeg", kind, "kept as it was made here")
	assert.NotEmpty(t, problem(t, d.SavePhoto(mat, nil), "photo"))
	assert.Equal(t, "Lay the piece so that it covers the line.", stops[0].After[0].String())
}

// tearAway is the key of the stabilizer of wovens.
var tearAway = supply.Sheet(supply.TearAway, supply.Medium).String()

// A shirt's template carries its neck, at the distance of its size.
func TestATemplateForEverySize(t *testing.T) {
	d := desks(t)[store.Instructor]
	sizes := map[string]string{}
	for _, size := range []string{"S", "XL"} {
		name, svg, err := d.MarkTemplate(t.Context(), 4, size, "")
		require.NoError(t, err)
		assert.Equal(t, "open-sail-mark-"+size+".svg", name)
		sizes[size] = string(svg[:120])
	}
	assert.NotEqual(t, sizes["S"], sizes["XL"], "the neck lies farther away")
	_, pdf, err := d.MarkTemplate(t.Context(), 4, "", "A4")
	require.NoError(t, err)
	assert.Equal(t, "%PDF-", string(pdf[:5]), "of the project's own size")
	_, _, err = d.MarkTemplate(t.Context(), 4, "enormous", "A4")
	require.ErrorIs(t, err, actor.ErrNotFound)
	_, _, err = d.MarkTemplate(t.Context(), 4, "M", "B5")
	assert.NotEmpty(t, problem(t, err, ""))
}
