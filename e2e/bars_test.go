//go:build bench

package e2e

import (
	"fmt"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/stitch"
	"chalkstep/core/stitch/stitchtest"
)

// Every page answers within 50 ms.
func BenchmarkPages(b *testing.B) {
	const bar = 50 * time.Millisecond
	base := start(b)
	client := signedIn(b, base)
	for _, page := range pages {
		b.Run(page.path, func(b *testing.B) {
			for b.Loop() {
				client.get(b, page.path)
			}
			if perPage := b.Elapsed() / time.Duration(b.N); perPage > bar {
				b.Errorf("%s took %v, the bar is %v", page.path, perPage, bar)
			}
		})
	}
}

// A large design comes up within a second and scrubs at fifty frames a second.
func TestALargeDesignPlaysSmoothly(t *testing.T) {
	const stitches, mostMilliseconds, leastFrames = 200_000, 1000.0, 50.0
	base := start(t)
	data, err := stitch.Encode("huge.exp", stitchtest.Large(stitches))
	require.NoError(t, err)
	file := filepath.Join(t.TempDir(), "huge.exp")
	require.NoError(t, os.WriteFile(file, data, 0o600))
	v := visit(t, base)
	v.signIn("owner")
	v.open("/designs")
	v.follow(func() { require.NoError(t, v.find("#file").SetFiles([]string{file})) })
	v.find("[data-player][data-ready]")
	v.open(v.path()) // once more, as the upload's own work is not the player's
	v.find("[data-player][data-ready]")
	ready, err := v.page.Eval(`() => Number(document.querySelector("[data-player]").dataset.ready)`)
	require.NoError(t, err)
	frames, err := v.page.Eval(`() => new Promise((done) => {
		const scrub = document.querySelector("[data-scrub]");
		const total = 200;
		let n = 0, from = 0;
		const tick = (now) => {
			if (n === 0) from = now;
			if (n === total) return done(1000 * total / (now - from));
			scrub.value = (n * 37 % total) / total * scrub.max;
			scrub.dispatchEvent(new Event("input"));
			n++;
			requestAnimationFrame(tick);
		};
		requestAnimationFrame(tick);
	})`)
	require.NoError(t, err)
	fmt.Printf("a design of 200,000 stitches: drawn in %.0f ms, scrubbed at %.0f frames a second\n", ready.Value.Num(),
		frames.Value.Num())
	assert.Less(t, ready.Value.Num(), mostMilliseconds)
	assert.GreaterOrEqual(t, frames.Value.Num(), leastFrames)
}
