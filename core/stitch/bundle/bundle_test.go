package bundle_test

import (
	"archive/zip"
	"bytes"
	"fmt"
	"math/rand/v2"
	"runtime"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/stitch"
	"chalkstep/core/stitch/bundle"
	_ "chalkstep/core/stitch/dst"
	_ "chalkstep/core/stitch/exp"
	_ "chalkstep/core/stitch/jef"
	_ "chalkstep/core/stitch/pes"
	"chalkstep/core/stitch/stitchtest"
)

type entry struct {
	name string
	data []byte
}

func pack(t testing.TB, entries ...entry) []byte {
	t.Helper()
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	for _, e := range entries {
		w, err := z.Create(e.name)
		require.NoError(t, err)
		_, err = w.Write(e.data)
		require.NoError(t, err)
	}
	require.NoError(t, z.Close())
	return out.Bytes()
}

func stitches(t testing.TB, name string, n int) entry {
	t.Helper()
	data, err := stitch.Encode(name, stitchtest.Random(rand.New(rand.NewPCG(1, 1)), n, 60))
	require.NoError(t, err)
	return entry{name, data}
}

func TestABundleIsTakenInWhole(t *testing.T) {
	b, err := bundle.Read(pack(t,
		entry{"Lighthouse/", nil}, stitches(t, "Lighthouse/light.dst", 300), stitches(t, "Lighthouse/LIGHT.PES", 300),
		stitches(t, "Lighthouse/light.exp", 300),
		entry{"Lighthouse/colours.txt", []byte("1 sea, 2 tower")}, entry{"Lighthouse/.hidden", []byte("x")},
		entry{"Lighthouse/light.vip", []byte("x")},
		stitches(t, "Lighthouse/again.dst", 300),
	))
	require.NoError(t, err)
	require.Len(t, b.Designs, 1)
	require.Len(t, b.Designs[0].Files, 3)
	assert.Equal(t, "LIGHT.PES", b.Designs[0].Files[0].Name, "the file that knows its colours is drawn")
	assert.Equal(t, []bundle.Chart{{Name: "colours.txt", Data: []byte("1 sea, 2 tower")}}, b.Charts)
	assert.Equal(t, []string{"light.vip is neither a stitch file nor a colour chart.",
		"again.dst is a second .dst file of LIGHT.PES; the first is kept."}, b.Skipped)
	assert.Empty(t, b.Designs[0].Disagreements)
}

func TestFilesThatDisagreeALittleAreNamed(t *testing.T) {
	b, err := bundle.Read(pack(t, square(t, "a.pes", 300, 400), square(t, "a.dst", 300, 380)))
	require.NoError(t, err)
	require.Len(t, b.Designs, 1)
	require.NotEmpty(t, b.Designs[0].Disagreements)
	assert.Contains(t, b.Designs[0].Disagreements[0], "a.dst has")
}

// Files of other stitches or another size are other designs, each with the
// formats it comes in, whatever they are called.
func TestDifferentDesignsInOneZip(t *testing.T) {
	b, err := bundle.Read(pack(t, square(t, "crab.pes", 300, 400), square(t, "set.dst", 300, 400),
		square(t, "sail.pes", 500, 900), square(t, "set.exp", 500, 900), square(t, "hull.dst", 800, 400)))
	require.NoError(t, err)
	var designs [][]string
	for _, d := range b.Designs {
		var names []string
		for _, f := range d.Files {
			names = append(names, f.Name)
		}
		designs = append(designs, names)
	}
	assert.ElementsMatch(t, [][]string{{"crab.pes", "set.dst"}, {"sail.pes", "set.exp"}, {"hull.dst"}}, designs)
	assert.Empty(t, b.Skipped)
}

// square is a design of a side in tenths of a millimetre, with so many stitches.
func square(t testing.TB, name string, side int32, n int) entry {
	t.Helper()
	p := &stitch.Pattern{Moves: []stitch.Move{{}, {X: side}, {X: side, Y: side}, {Y: side}}}
	for i := range int32(n) {
		p.Moves = append(p.Moves, stitch.Move{X: side / 2 * (i % 2), Y: side / 2})
	}
	data, err := stitch.Encode(name, p)
	require.NoError(t, err)
	return entry{name, data}
}

func TestHostileZipsAreRefusedWithAReason(t *testing.T) {
	many := make([]entry, 10_000)
	for i := range many {
		many[i].name = fmt.Sprintf("%d.txt", i)
	}
	bomb := make([]byte, 40<<20)
	inner := pack(t, stitches(t, "a.dst", 50))
	for says, data := range map[string][]byte{
		"holds 10000 files; a bundle holds 200":  pack(t, many...),
		"names a file outside itself":            pack(t, entry{"../../etc/a.dst", []byte("x")}),
		"outside itself (\"/a.dst\")":            pack(t, entry{"/a.dst", []byte("x")}),
		"the zip holds another zip":              pack(t, entry{"inner.zip", inner}),
		"unpacks to more than a bundle may hold": pack(t, entry{"bomb.dst", bomb}),
		"the zip holds no stitch file":           pack(t, entry{"notes.txt", []byte("x")}),
		"no stitch file in the zip can be read":  pack(t, entry{"a.dst", []byte("x")}),
		"the zip cannot be read":                 []byte("PK\x03\x04 and no more"),
	} {
		_, err := bundle.Read(data)
		assert.ErrorContains(t, err, says)
	}
	assert.True(t, bundle.Is(inner))
	assert.False(t, bundle.Is([]byte("LA:")))
}

// Many files that each stay within bounds do not add up to more than one
// bundle may unpack to.
func TestABombOfManyPartsIsRefused(t *testing.T) {
	var parts []entry
	for i := range 20 {
		parts = append(parts, entry{fmt.Sprintf("%d.txt", i), make([]byte, 7<<20)})
	}
	data := pack(t, parts...)
	var before, after runtime.MemStats
	runtime.ReadMemStats(&before)
	_, err := bundle.Read(data)
	runtime.ReadMemStats(&after)
	assert.ErrorContains(t, err, "more than a bundle may hold")
	assert.Less(t, len(data), 1<<20, "a small file")
	assert.Less(t, after.HeapInuse, before.HeapInuse+uint64(256<<20))
}

func FuzzRead(f *testing.F) {
	f.Add(pack(f, stitches(f, "a.dst", 40), stitches(f, "a.pes", 40), entry{"c.txt", []byte("x")}))
	f.Add([]byte("PK\x03\x04"))
	f.Fuzz(func(t *testing.T, data []byte) {
		b, err := bundle.Read(data)
		if err == nil {
			require.NotEmpty(t, b.Designs)
			require.Positive(t, b.Designs[0].Files[0].Analysis.Stitches)
		}
	})
}
