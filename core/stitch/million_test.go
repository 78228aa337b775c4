package stitch_test

import (
	"math/rand/v2"
	"os"
	"runtime"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"

	"chalkstep/core/stitch"
	"chalkstep/core/stitch/stitchtest"
)

// TestHostileInputs throws random and mutated files at every reader. No input
// may panic or make the process hold 64 MiB more than before. HOSTILE_INPUTS
// sets how many each reader gets; make bench asks for a million.
func TestHostileInputs(t *testing.T) {
	inputs := 20_000
	if asked, err := strconv.Atoi(os.Getenv("HOSTILE_INPUTS")); err == nil {
		inputs = asked
	}
	for _, format := range stitch.Names() {
		t.Run(format, func(t *testing.T) {
			rng := rand.New(rand.NewPCG(42, 42))
			name := "hostile." + format
			good, err := stitch.Encode(name, stitchtest.Random(rng, 120, 110))
			require.NoError(t, err)
			largest := uint64(0)
			for i := range inputs {
				data := hostile(rng, good)
				if i%1000 != 0 {
					checkDecode(t, name, data)
					continue
				}
				var before, after runtime.MemStats
				runtime.ReadMemStats(&before)
				checkDecode(t, name, data)
				runtime.ReadMemStats(&after)
				largest = max(largest, after.TotalAlloc-before.TotalAlloc)
			}
			require.Less(t, largest, uint64(64<<20))
			t.Logf("%d inputs, at most %d kB allocated by one", inputs, largest>>10)
		})
	}
}

// hostile makes noise, or a good file with bytes changed, dropped or repeated.
func hostile(rng *rand.Rand, good []byte) []byte {
	if rng.IntN(4) == 0 {
		noise := make([]byte, rng.IntN(700))
		for i := range noise {
			noise[i] = byte(rng.Uint32())
		}
		switch rng.IntN(3) {
		case 0:
			return append([]byte("LA:"), noise...)
		case 1:
			return append([]byte("#PES0001\x16\x00\x00\x00"), noise...)
		}
		return noise
	}
	data := append([]byte(nil), good...)
	for range 1 + rng.IntN(8) {
		at := rng.IntN(len(data))
		switch rng.IntN(4) {
		case 0:
			data = data[:at+1]
		case 1:
			data = append(data, data[at:]...)
		default:
			data[at] = byte(rng.Uint32())
		}
	}
	return data
}

// The largest file that is taken costs a small multiple of its own size.
func TestALargeFileCostsASmallMultipleOfItsSize(t *testing.T) {
	data := make([]byte, 2*stitch.MaxMoves)
	for i := range data {
		data[i] = byte(1 - 2*(i/2%2))
	}
	var before, after runtime.MemStats
	runtime.ReadMemStats(&before)
	pattern, _, err := stitch.Decode("large.exp", data)
	require.NoError(t, err)
	stitch.Analyse(pattern)
	runtime.ReadMemStats(&after)
	require.Less(t, after.TotalAlloc-before.TotalAlloc, uint64(64<<20))

	_, _, err = stitch.Decode("larger.exp", append(data, 1, 1))
	require.ErrorContains(t, err, "more than 2,000,000 moves")
}
