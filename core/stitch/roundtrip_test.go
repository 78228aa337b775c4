package stitch_test

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/stitch"
	_ "chalkstep/core/stitch/dst"
	_ "chalkstep/core/stitch/exp"
	_ "chalkstep/core/stitch/jef"
	_ "chalkstep/core/stitch/pes"
	"chalkstep/core/stitch/stitchtest"
)

// Every pair of formats keeps penetrations, changes and trims, whatever the
// pattern: the promise a person relies on when one machine reads only .dst.
func TestRoundTripThroughEveryPairOfFormats(t *testing.T) {
	for _, first := range stitch.Names() {
		for _, second := range stitch.Names() {
			t.Run(first+" to "+second, func(t *testing.T) {
				for seed := range uint64(500) {
					rng := rand.New(rand.NewPCG(seed, 7))
					original := stitchtest.Random(rng, 20+rng.IntN(400), 110)
					there := through(t, "a."+first, original)
					back := through(t, "b."+second, there)
					require.Equal(t, stitchtest.Penetrations(original), stitchtest.Penetrations(back), "seed %d", seed)
					require.Equal(t, stitchtest.Count(original, stitch.Change), stitchtest.Count(back, stitch.Change), "seed %d", seed)
					require.Equal(t, stitchtest.Count(original, stitch.Trim), stitchtest.Count(back, stitch.Trim), "seed %d", seed)
				}
			})
		}
	}
}

func TestMovesTooLongForARecordAddNoPenetration(t *testing.T) {
	original := &stitch.Pattern{
		Moves: []stitch.Move{{X: 10, Y: 10}, {X: 510, Y: -300}, {X: 0, Y: 900, Kind: stitch.Change}, {X: -700, Y: 900}}}
	for _, name := range stitch.Names() {
		back := through(t, "long."+name, original)
		assert.Equal(t, stitchtest.Penetrations(original), stitchtest.Penetrations(back), name)
	}
}

func TestAWrongFileIsNamedForWhatItIs(t *testing.T) {
	dst, err := stitch.Encode("x.dst", stitchtest.Random(rand.New(rand.NewPCG(1, 1)), 30, 100))
	require.NoError(t, err)
	for name, c := range map[string]struct {
		file string
		data []byte
		want string
	}{
		"a dst named exp":      {"crab.exp", dst, "the start of a .dst file"},
		"a zip named dst":      {"crab.dst", []byte("PK\x03\x04 and more"), "the start of a .zip file"},
		"an unknown extension": {"crab.doc", dst, "expected one of .dst, .exp, .jef, .pes"},
		"prose named exp": {"notes.exp",
			[]byte("Dear students, please bring your own snips and a towel that has been washed."), "the start of a .txt file"},
		"an empty exp":       {"none.exp", nil, "expected at least one stitch"},
		"an unknown command": {"odd.exp", []byte{5, 5, 0x80, 0x33, 0, 0}, "at byte 3 expected the command of a change"},
		"a header only":      {"head.dst", dst[:512], "at byte 512 expected a header of 512 bytes and a stitch"},
		"a mark that is none": {"odd.dst", append(append([]byte{}, dst[:512]...), 0, 0, 0x40, 0, 0, 0xF3),
			"at byte 514 expected the mark of a stitch"},
		"a design 3 m wide": {"far.exp", farRight(), "more than 2 m from the start"},
	} {
		t.Run(name, func(t *testing.T) {
			_, _, err := stitch.Decode(c.file, c.data)
			assert.ErrorContains(t, err, c.want)
			assert.ErrorContains(t, err, c.file)
		})
	}
}

func TestATruncatedFileYieldsWhatWasReadAndAWarning(t *testing.T) {
	pattern := stitchtest.Random(rand.New(rand.NewPCG(2, 2)), 200, 100)
	for _, name := range stitch.Names() {
		data, err := stitch.Encode("x."+name, pattern)
		require.NoError(t, err)
		// An .exp file cut between two moves cannot be told from a whole one;
		// a .pes file has its pictures behind the stitches.
		kept := len(data) - 31
		if name == "pes" {
			kept = 22 + 532 + 301
		}
		cut, _, err := stitch.Decode("x."+name, data[:kept])
		require.NoError(t, err)
		assert.NotEmpty(t, stitchtest.Penetrations(cut))
		if name != "exp" {
			assert.Contains(t, fmt.Sprint(cut.Warnings), "cut off")
		}
	}
	half, _, err := stitch.Decode("x.exp", []byte{5, 5, 9})
	require.NoError(t, err)
	assert.Equal(t, []string{"The file ends inside a move: it may be cut off."}, half.Warnings)
}

func TestColoursGoThroughTheFormatsThatHoldThem(t *testing.T) {
	original := &stitch.Pattern{Name: "Two threads", Colors: []stitch.RGB{{R: 250, G: 5, B: 5}, {R: 250, G: 250, B: 250}},
		Moves: []stitch.Move{
			{X: 0}, {X: 30}, {X: 30, Kind: stitch.Change}, {X: 30, Kind: stitch.Change}, {X: 60, Y: 20}, {X: 90},
		}}
	for _, name := range []string{"x.pes", "x.jef"} {
		back := through(t, name, original)
		require.Len(t, back.Colors, 2, "%s: a run without stitches has no colour", name)
		assert.Greater(t, back.Colors[0].R, uint8(180), "%s: red stays red", name)
		assert.Less(t, back.Colors[0].B, uint8(90))
		assert.Greater(t, back.Colors[1].G, uint8(220), "%s: white stays white", name)
		assert.Equal(t, back.Colors, through(t, name, back).Colors, "the table's own colours come back as they are")
	}
}

func TestAnIndexOutsideTheTableIsGreyWithAWarning(t *testing.T) {
	data, err := stitch.Encode("x.jef", &stitch.Pattern{Moves: []stitch.Move{{X: 5}, {X: 9}}})
	require.NoError(t, err)
	data[116] = 200
	p, _, err := stitch.Decode("x.jef", data)
	require.NoError(t, err)
	assert.Equal(t, []stitch.RGB{stitch.Unknown}, p.Colors)
	assert.Contains(t, p.Warnings[0], "Stop 1 has thread 200")
}

func TestLossesSayWhatAFormatCannotHold(t *testing.T) {
	original := stitchtest.Random(rand.New(rand.NewPCG(3, 3)), 100, 100)
	original.Colors = []stitch.RGB{{R: 1}, {G: 1}}
	assert.Equal(t, []string{"the colours of 2 stops: the format holds none"},
		stitch.Losses(original, through(t, "x.dst", original)))
}

func through(t *testing.T, name string, p *stitch.Pattern) *stitch.Pattern {
	t.Helper()
	data, err := stitch.Encode(name, p)
	require.NoError(t, err)
	back, _, err := stitch.Decode(name, data)
	require.NoError(t, err)
	return back
}

func farRight() []byte {
	var data []byte
	for range 300 {
		data = append(data, 120, 0x81)
	}
	return data
}

// The same stitches have one fingerprint in every format and at every place,
// and a stitch more or another stop has another.
func TestTheFingerprintIsOfTheStitchesAlone(t *testing.T) {
	p := stitchtest.NewKnown(rand.New(rand.NewPCG(6, 6))).Pattern
	same := stitch.Analyse(p).Fingerprint()
	for _, format := range stitch.Names() {
		data, err := stitch.Encode("x."+format, p)
		require.NoError(t, err)
		q, _, err := stitch.Decode("x."+format, data)
		require.NoError(t, err)
		assert.Equal(t, same, stitch.Analyse(q).Fingerprint(), format)
	}
	moved := *p
	moved.Moves = append([]stitch.Move(nil), p.Moves...)
	for i := range moved.Moves {
		moved.Moves[i].X += 77
	}
	assert.Equal(t, same, stitch.Analyse(&moved).Fingerprint(), "moved on the table")
	moved.Moves = append(moved.Moves, stitch.Move{X: 1, Y: 1})
	assert.NotEqual(t, same, stitch.Analyse(&moved).Fingerprint(), "one stitch more")
	moved.Moves = moved.Moves[:len(moved.Moves)-1]
	moved.Moves[len(moved.Moves)/2].Kind = stitch.Change
	assert.NotEqual(t, same, stitch.Analyse(&moved).Fingerprint(), "another stop")
}
