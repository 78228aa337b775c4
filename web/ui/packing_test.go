package ui

import (
	"bytes"
	"compress/gzip"
	"io"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What streams pack in turn with the same compressors, each browser unpacks.
func TestPackedTextsAreUnpacked(t *testing.T) {
	rng := rand.New(rand.NewPCG(1, 2))
	words := strings.Fields("hoop needle Noor Heron waits loads 12:04 12:05 <li> </li> bobbin")
	const streams = 5
	var sent, moved [streams]bytes.Buffer
	var out [streams]*packed
	for i := range out {
		out[i] = &packed{out: &moved[i]}
	}
	for range 300 {
		i := rng.IntN(streams)
		text := ""
		for range rng.IntN([]int{2, 40, 9000}[rng.IntN(3)]) {
			text += words[rng.IntN(len(words))] + " "
		}
		n, err := out[i].Write([]byte(text))
		require.NoError(t, err)
		assert.Equal(t, len(text), n)
		_, _ = sent[i].WriteString(text)
		unpacked, err := gzip.NewReader(bytes.NewReader(moved[i].Bytes()))
		if text == "" && err == io.EOF {
			continue // nothing was sent yet
		}
		require.NoError(t, err)
		got, err := io.ReadAll(unpacked)
		require.ErrorIs(t, err, io.ErrUnexpectedEOF, "it has no end")
		require.Equal(t, sent[i].Bytes(), got, "all that was sent is there at once")
	}
}

// A page that is sent again with one word changed costs next to nothing.
func TestWhatRepeatsIsPackedSmall(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 4))
	page := make([]byte, 20_000)
	for i := range page {
		page[i] = byte('a' + rng.IntN(26))
	}
	var moved bytes.Buffer
	out := &packed{out: &moved}
	_, err := out.Write(page)
	require.NoError(t, err)
	first := moved.Len()
	copy(page[9_000:], "another word")
	_, err = out.Write(page)
	require.NoError(t, err)
	assert.Less(t, moved.Len()-first, first/50)
}
