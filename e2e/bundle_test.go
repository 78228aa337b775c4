package e2e

import (
	"archive/zip"
	"bytes"
	"fmt"
	"os"
	"path/filepath"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/stitch"
	"chalkstep/demo/motif"
)

// zipped packs files by name.
func zipped(t *testing.T, files map[string][]byte) string {
	t.Helper()
	var out bytes.Buffer
	archive := zip.NewWriter(&out)
	for name, data := range files {
		w, err := archive.Create(name)
		require.NoError(t, err)
		_, err = w.Write(data)
		require.NoError(t, err)
	}
	require.NoError(t, archive.Close())
	path := filepath.Join(t.TempDir(), "harbour-bell.zip")
	require.NoError(t, os.WriteFile(path, out.Bytes(), 0o600))
	return path
}

// A bought design comes as a zip: every machine that has its file is told,
// the chart is there, and zips that are up to something are refused.
func TestABundleFromTheShop(t *testing.T) {
	v := visit(t, start(t))
	v.signIn("owner")
	pattern := motif.Crab().Pattern
	pattern.Moves = pattern.Moves[:len(pattern.Moves)-6]
	pattern.Colors = []stitch.RGB{{R: 0xc4, G: 0x55, B: 0x2d}, {R: 0x9c, G: 0x3a, B: 0x1c}, {R: 0x26, G: 0x20, B: 0x1c}}
	files := map[string][]byte{"readme/colours.txt": []byte("1 shell\n2 claws\n3 eyes\n")}
	for _, format := range []string{"pes", "dst"} {
		data, err := stitch.Encode("bell."+format, pattern)
		require.NoError(t, err)
		files["harbour-bell/bell."+format] = data
	}
	send := func(path string) {
		v.open("/designs")
		v.follow(func() { require.NoError(t, v.find("#file").SetFiles([]string{path})) })
	}
	send(zipped(t, files))
	v.sees(".context", "Harbour bell")
	v.sees(".context", "bell.pes")
	v.sees(".context", ".dst")
	v.sees(".context", "chart colours.txt")
	v.sees("aside", ".pes ready")
	v.sees("aside", ".dst ready")
	v.sees("aside", "convert to .exp")
	v.focus(`button[popovertarget="density-map"]`)
	v.press(input.Enter)
	v.sees("#density-map", "in cells of 1 mm")

	send(zipped(t, files))
	v.sees("#file-problem", "which is here already")
	many := map[string][]byte{}
	for i := range 300 {
		many[fmt.Sprintf("%d.dst", i)] = []byte("x")
	}
	for says, hostile := range map[string]map[string][]byte{
		"holds 300 files; a bundle holds 200": many,
		"names a file outside itself":         {"../../bell.dst": files["harbour-bell/bell.dst"]},
		"no stitch file": {
			"readme.txt": []byte("nothing to sew here, only words and more words about sewing")},
	} {
		send(zipped(t, hostile))
		v.sees("#file-problem", says)
	}
	v.open("/designs")
	v.sees("h1", "8 designs to choose from")
}

// What the player counts is what the file says: a stitch is found by its
// number and its number by the stitch.
func TestThePlayerCountsAsTheMachineDoes(t *testing.T) {
	v := visit(t, start(t))
	v.signIn("instructor")
	v.open("/designs/7")
	v.find("[data-player][data-ready]")
	agrees, err := v.page.Eval(`async () => {
		const m = await import("/static/reel.js");
		const reel = await m.loadReel("/designs/7/stitches", false);
		const turned = await m.loadReel("/designs/7/stitches", true);
		let wrong = 0, stitches = 0;
		for (let stop = 0; stop < reel.starts.length; stop++) {
			let n = 0;
			for (let i = reel.starts[stop]; i < reel.ends[stop]; i++) {
				if (m.stopAt(reel, i) !== stop) wrong++;
				if (turned.x[i] !== -reel.y[i] || turned.y[i] !== reel.x[i]) wrong++;
				if (!m.isStitch(reel, i)) continue;
				n++;
				if (n % 97 === 0 && (m.moveOf(reel, stop, n) !== i || m.stitchOf(reel, i) !== n)) wrong++;
			}
			stitches += n;
		}
		return { wrong, stitches, stops: reel.starts.length };
	}`)
	require.NoError(t, err)
	a := stitch.Analyse(motif.Compass().Pattern)
	assert.Zero(t, agrees.Value.Get("wrong").Int())
	assert.Equal(t, a.Stitches, agrees.Value.Get("stitches").Int())
	assert.Equal(t, len(a.Stops), agrees.Value.Get("stops").Int())
}
