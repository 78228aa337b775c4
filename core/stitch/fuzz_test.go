package stitch_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/stitch"
	"chalkstep/core/stitch/stitchtest"
)

func FuzzDecodeDST(f *testing.F) { fuzzDecode(f, "fuzz.dst") }
func FuzzDecodeEXP(f *testing.F) { fuzzDecode(f, "fuzz.exp") }
func FuzzDecodePES(f *testing.F) { fuzzDecode(f, "fuzz.pes") }
func FuzzDecodeJEF(f *testing.F) { fuzzDecode(f, "fuzz.jef") }

// fuzzDecode holds a reader to its promise: an error or a pattern within the
// limits, which analyses without a panic and survives being written again.
func fuzzDecode(f *testing.F, name string) {
	for seed := range uint64(4) {
		data, err := stitch.Encode(name, stitchtest.Random(rand.New(rand.NewPCG(seed, 9)), 60, 110))
		require.NoError(f, err)
		f.Add(data)
		f.Add(data[:len(data)-2])
	}
	f.Add([]byte{})
	f.Fuzz(func(t *testing.T, data []byte) { checkDecode(t, name, data) })
}

func checkDecode(t require.TestingT, name string, data []byte) {
	pattern, _, err := stitch.Decode(name, data)
	if err != nil {
		assert.ErrorContains(t, err, name)
		return
	}
	require.LessOrEqual(t, len(pattern.Moves), len(data)+1)
	analysis := stitch.Analyse(pattern)
	require.Positive(t, analysis.Stitches)
	again, err := stitch.Encode(name, pattern)
	require.NoError(t, err)
	back, _, err := stitch.Decode(name, again)
	require.NoError(t, err)
	require.Equal(t, analysis.Stitches, stitchtest.Count(back, stitch.Stitch))
}
