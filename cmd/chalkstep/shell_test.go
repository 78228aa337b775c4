package main

import (
	"bytes"
	"encoding/json"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/cutplan"
	"chalkstep/core/schedule"
	"chalkstep/core/stitch"
	"chalkstep/demo/motif"
)

// shell runs a command as main does and returns what it printed.
func shell(args ...string) (out, errors string, err error) {
	var stdout, stderr bytes.Buffer
	root := newRoot()
	root.SetArgs(args)
	root.SetOut(&stdout)
	root.SetErr(&stderr)
	err = root.Execute()
	return stdout.String(), stderr.String(), err
}

func file(t *testing.T, name string, data []byte) string {
	t.Helper()
	path := filepath.Join(t.TempDir(), name)
	require.NoError(t, os.WriteFile(path, data, 0o600))
	return path
}

func motifFile(t *testing.T, m motif.Motif) string {
	t.Helper()
	data, err := stitch.Encode(m.File, m.Pattern)
	require.NoError(t, err)
	return file(t, m.File, data)
}

func TestInspectPrintsTheContractsFields(t *testing.T) {
	out, _, err := shell("inspect", motifFile(t, motif.Compass()), "--json")
	require.NoError(t, err)
	var got map[string]any
	require.NoError(t, json.Unmarshal([]byte(out), &got))
	for _, field := range []string{"format", "width_mm", "height_mm", "stitches", "jumps", "trims", "color_changes",
		"stops", "warnings"} {
		assert.Contains(t, got, field)
	}
	assert.Equal(t, "dst", got["format"])
	assert.Equal(t, 5.0, got["color_changes"])
	assert.Equal(t, []any{}, got["warnings"])
	stop := got["stops"].([]any)[0].(map[string]any)
	assert.Equal(t, "placement", stop["role"])
	assert.Nil(t, stop["color"])
	assert.Contains(t, stop, "color", "null, not left out")
	bounds := stop["bounds_mm"].([]any)
	require.Len(t, bounds, 4)
	assert.InDelta(t, -60, bounds[0], 0.6)
	assert.InDelta(t, 60, bounds[3], 0.6)
}

func TestConvertThereAndBackKeepsWhatMatters(t *testing.T) {
	in := motifFile(t, motif.Lighthouse())
	there, back := filepath.Join(t.TempDir(), "there.exp"), filepath.Join(t.TempDir(), "back.dst")
	_, lost, err := shell("convert", in, there)
	require.NoError(t, err)
	assert.Empty(t, lost)
	_, _, err = shell("convert", there, back)
	require.NoError(t, err)
	before, _, err := shell("inspect", in, "--json")
	require.NoError(t, err)
	after, _, err := shell("inspect", back, "--json")
	require.NoError(t, err)
	assert.JSONEq(t, before, after)
}

func TestRecipeAndPlanAnswerInJSON(t *testing.T) {
	out, _, err := shell("recipe",
		file(t, "r.json", []byte(
			`{"fabric":"terry","uses":["washed"],"width_mm":64,"height_mm":51,"stitches":1800,"colors":3,"hoop_mm":[100,100],
				"house":{}}`)), "--json")
	require.NoError(t, err)
	assert.Contains(t, out, `"over":{"what":"water-soluble topper","cut_mm":[150,150]}`)

	problem := `{"window_minutes":60,"stations":[{"id":"m1"}],"pools":[],"people":[{"id":"p1","ready":2,
		"steps":[{"id":"sew","on":{"m1":20.5}}]}]}`
	path := file(t, "p.json", []byte(problem))
	for _, args := range [][]string{{"--iterations", "10"}, {"--budget", "20ms", "--seed", "7"}, {}} {
		out, _, err = shell(append([]string{"plan", path, "--json"}, args...)...)
		require.NoError(t, err)
		var result schedule.Plan
		require.NoError(t, json.Unmarshal([]byte(out), &result))
		assert.Equal(t, 22.5, result.MakespanMinutes)
		assert.Equal(t, "m1", result.Bottleneck)
	}
}

func TestRepeatLaysCopiesAndSortsTheirColours(t *testing.T) {
	in, out := motifFile(t, motif.Buoy()), filepath.Join(t.TempDir(), "six.exp")
	printed, _, err := shell("repeat", in, out, "--copies", "7", "--hoop", "130x180", "--sort", "--json")
	require.NoError(t, err)
	var got repetition
	require.NoError(t, json.Unmarshal([]byte(printed), &got))
	assert.Equal(t, 6, got.Placed)
	assert.Equal(t, 1, got.LeftOver)
	assert.Equal(t, 23, got.ChangesBefore)
	assert.Equal(t, 3, got.ChangesAfter)
	assert.Len(t, got.CentresMM, 6)
	inspected, _, err := shell("inspect", out, "--json")
	require.NoError(t, err)
	assert.Contains(t, inspected, `"color_changes":3`)

	printed, _, err = shell("repeat", in, out, "--copies", "2", "--hoop", "130x180", "--gap", "0")
	require.NoError(t, err)
	assert.Equal(t, "2 copies placed, 0 left over; 7 changes instead of 7\n", printed)
	printed, _, err = shell("repeat", in, out, "--copies", "99", "--hoop", "200x300", "--layout", "best", "--json")
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal([]byte(printed), &got))
	assert.Equal(t, 25, got.Placed, "round badges in staggered rows, where plain ones take 24")
	assert.Len(t, got.CentresMM[0], 3, "with the turn of each")
	_, _, err = shell("repeat", in, out, "--copies", "2", "--hoop", "40x40")
	assert.ErrorContains(t, err, "too wide by 1 mm and too tall by 1 mm")
	var usage usageError
	for _, args := range [][]string{{"--copies", "0", "--hoop", "90x90"}, {"--copies", "2", "--hoop", "wide"},
		{"--copies", "2", "--hoop", "90x90", "--layout", "heaps"}, {"--copies", "2"}} {
		_, _, err = shell(append([]string{"repeat", in, out}, args...)...)
		assert.ErrorAs(t, err, &usage, args)
	}
}

func TestOutlineWritesCutPaths(t *testing.T) {
	in, out := motifFile(t, motif.Compass()), filepath.Join(t.TempDir(), "disc.svg")
	printed, _, err := shell("outline", in, "--stop", "1", "--offset", "1", "--mirror", out, "--json")
	require.NoError(t, err)
	var got cutReport
	require.NoError(t, json.Unmarshal([]byte(printed), &got))
	assert.Equal(t, 1, got.Paths)
	assert.InDelta(t, 122, got.WidthMM, 0.5, "a disc of 120 mm and 1 mm all round")
	svg, err := os.ReadFile(out)
	require.NoError(t, err)
	assert.Contains(t, string(svg), "mm\" viewBox")
	_, _, err = shell("outline", in, "--stop", "6", out)
	assert.ErrorContains(t, err, "compass.dst: stop 6")
	var usage usageError
	for _, args := range [][]string{{"outline", in, out}, {"outline", in, "--stop", "1", "disc.pdf"}} {
		_, _, err = shell(args...)
		assert.ErrorAs(t, err, &usage)
	}
}

func TestCutLaysPieces(t *testing.T) {
	in := file(t, "cut.json",
		[]byte(`{"material":{"width_mm":500,"max_length_mm":20000},"pieces":[{"id":"stabilizer","w_mm":200,"h_mm":250,
			"count":8,"turn":true}]}`))
	printed, _, err := shell("cut", in, "--json")
	require.NoError(t, err)
	var got cutplan.Layout
	require.NoError(t, json.Unmarshal([]byte(printed), &got))
	assert.Equal(t, 800.0, got.LengthMM)
	assert.Equal(t, 800.0, got.AreaBoundMM)
	assert.Zero(t, got.Waste)
	assert.Len(t, got.Placed, 8)
	for _, field := range []string{`"x1_mm"`, `"y2_mm"`, `"turned"`, `"w_mm"`} {
		assert.Contains(t, printed, field)
	}
	printed, _, err = shell("cut", in)
	require.NoError(t, err)
	assert.Contains(t, printed, "8 pieces from a length of 800 mm")
	_, _, err = shell("cut",
		file(t, "wide.json", []byte(`{"material":{"width_mm":100},"pieces":[{"id":"x","w_mm":200,"h_mm":250,"count":1}]}`)))
	assert.ErrorContains(t, err, `wide.json: piece "x" is 200 mm wide, and the material 100 mm`)
}

func TestWithoutJSONTheAnswerIsWords(t *testing.T) {
	out, _, err := shell("inspect", motifFile(t, motif.Crab()))
	require.NoError(t, err)
	assert.Contains(t, out, "in 3 stops, .exp")
	out, _, err = shell("recipe",
		file(t, "r.json", []byte(`{"fabric":"terry","width_mm":64,"height_mm":51,"stitches":1800,"hoop_mm":[100,100]}`)))
	require.NoError(t, err)
	assert.Contains(t, out, "over: water-soluble topper")
	out, _, err = shell("plan",
		file(t, "p.json", []byte(
			`{"window_minutes":9,"stations":[{"id":"m1"}],"people":[{"id":"p1","steps":[{"id":"sew","on":{"m1":4}}]}]}`)))
	require.NoError(t, err)
	assert.Contains(t, out, "done after 4.0 minutes")
}

func TestBadInputNamesFilePlaceAndWhatWasExpected(t *testing.T) {
	bad := func(name, text string) string { return file(t, name, []byte(text)) }
	for says, args := range map[string][]string{
		`line 2 column 2: unknown field "fabricc"`: {"recipe",
			bad("a.json", "{\n \"fabricc\":1}")},
		`field width_mm: expected a number, found string`: {"recipe",
			bad("b.json", `{"width_mm":"wide"}`)},
		`expected one whole JSON object`:                     {"recipe", bad("c.json", `{"fabric":`)},
		`expected the end of the file after one JSON object`: {"recipe", bad("d.json", `{} {}`)},
		`fabric "silk" is not known`: {"recipe",
			bad("e.json", `{"fabric":"silk"}`)},
		`f.json: person p1, step 1 (sew): station "m9" is not in stations`: {"plan",
			bad("f.json", `{"people":[{"id":"p1","steps":[{"id":"sew","on":{"m9":1}}]}]}`)},
		`not a .dst file: at byte 0 expected "LA:"`: {"inspect",
			bad("g.dst", "nothing of the kind")},
		`no stitch file ends in ".doc"; expected one of .dst, .exp, .jef, .pes`: {"inspect", bad("h.doc", "x")},
		`no such file`: {"inspect", "/nowhere/i.dst"},
	} {
		_, _, err := shell(args...)
		require.ErrorContains(t, err, says)
		var usage usageError
		assert.NotErrorAs(t, err, &usage, "bad input is status 1, not 2")
	}
}

func TestBadUsageIsToldApart(t *testing.T) {
	plan := file(t, "p.json", []byte(`{}`))
	for _, args := range [][]string{{}, {"dance"}, {"inspect"}, {"convert", "only-one.dst"},
		{"inspect", "a.dst", "--loud"}, {"plan", plan, "--budget", "soon"},
		{"plan", plan, "--budget", "1s", "--iterations", "5"}, {"plan", plan, "--iterations", "-1"}} {
		_, _, err := shell(args...)
		var usage usageError
		assert.ErrorAs(t, err, &usage, args)
	}
}

func TestAFailedConversionWritesNothing(t *testing.T) {
	out := filepath.Join(t.TempDir(), "out.exp")
	_, _, err := shell("convert", file(t, "bad.dst", []byte("LA:")), out)
	require.Error(t, err)
	_, err = os.Stat(out)
	assert.ErrorIs(t, err, os.ErrNotExist)
}

// What would help, and how likely it is that everyone finishes, in the shell.
func TestLeversAndOdds(t *testing.T) {
	const plan = `"window_minutes":60,"stations":[{"id":"m1"}],"pools":[{"id":"small","count":1}],"people":[
		{"id":"p1","steps":[{"id":"hoop","minutes":6,"take":["small"]},{"id":"sew","on":{"m1":20}},
			{"id":"unhoop","minutes":3,"release":["small"]}]},
		{"id":"p2","steps":[{"id":"hoop","minutes":6,"take":["small"]},{"id":"sew","on":{"m1":20}},
			{"id":"unhoop","minutes":3,"release":["small"]}]}]`
	out, _, err := shell("levers",
		file(t, "l.json", []byte(`{`+plan+`,"levers":[{"lever":"a hoop more","cost":"12.00","pools":{"small":1}}]}`)),
		"--json")
	require.NoError(t, err)
	var levers struct {
		Makespan float64 `json:"makespan_minutes"`
		Levers   []struct {
			Lever, Cost, Because string
			Makespan             float64 `json:"makespan_minutes"`
			Fits                 bool
			Share                float64 `json:"fits_share"`
		}
	}
	require.NoError(t, json.Unmarshal([]byte(out), &levers))
	assert.Equal(t, 58.0, levers.Makespan)
	require.Len(t, levers.Levers, 1)
	assert.Equal(t, 49.0, levers.Levers[0].Makespan)
	assert.Equal(t, "small held it up, and now m1 does", levers.Levers[0].Because)
	assert.Greater(t, levers.Levers[0].Share, 0.9)
	first, _, err := shell("odds", file(t, "o.json", []byte(`{`+plan+`}`)), "--days", "500", "--seed", "4", "--json")
	require.NoError(t, err)
	again, _, err := shell("odds", file(t, "o.json", []byte(`{`+plan+`}`)), "--days", "500", "--seed", "4", "--json")
	require.NoError(t, err)
	assert.Equal(t, first, again)
	assert.Contains(t, first, `"fits_share":0.`)
	for says, args := range map[string][]string{
		"unknown field":   {"odds", file(t, "a.json", []byte(`{`+plan+`,"levers":[]}`))},
		"days is 0":       {"odds", file(t, "b.json", []byte(`{`+plan+`}`)), "--days", "0"},
		"is not in pools": {"levers", file(t, "c.json", []byte(`{`+plan+`,"levers":[{"lever":"x","pools":{"large":1}}]}`))},
	} {
		_, _, err := shell(args...)
		assert.ErrorContains(t, err, says)
	}
}
