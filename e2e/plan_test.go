package e2e

import (
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/store"
)

// Every block of a plan says what it waits for; a sitting is moved by keys and by
// dragging, refused where it breaks a rule, and put back.
func TestMovingASittingOnThePlan(t *testing.T) {
	v := visit(t, start(t))
	v.signIn(store.Instructor)
	v.open("/classes/3")
	v.sees("#says", "Point at a block")
	v.focus("[data-sitting]")
	v.sees("#says", "at Heron in the medium")
	v.press(input.ArrowRight)
	v.sees("#says", "It waits for Heron, which")
	v.press(input.ArrowLeft)
	v.press(input.ArrowDown)
	v.sees("#says", "at Kettle")
	v.press(input.ArrowUp)

	// By keys: taken, moved, put back; taken, moved, kept.
	v.press(input.Enter)
	v.press(input.ArrowRight)
	v.sees("#says", "Enter keeps it, Escape puts it back.")
	v.press(input.Escape)
	v.sees("#says", "at Heron in the medium")
	before := v.value("#move select[name=sitting]")
	v.press(input.Enter)
	for range 6 {
		v.press(input.ArrowRight)
	}
	v.follow(func() { v.press(input.Enter) })
	v.sees("#move", "Heron at 10:59 now.")
	v.sees("#move", "Pinned:")
	v.follow(func() { v.find("[form=undo]").MustClick() })
	v.sees("#move", "now.")
	assert.NotContains(t, v.find("#move").MustText(), "Pinned:")
	assert.NotEmpty(t, before)

	// By dragging: to a time at which nobody can be ready, and to another machine.
	block := v.find("[data-sitting]")
	box := block.MustShape().Box()
	drag := func(x, y float64, do func()) {
		t.Helper()
		require.NoError(t, v.page.Mouse.MoveTo(proto.NewPoint(box.X+20, box.Y+box.Height/2)))
		require.NoError(t, v.page.Mouse.Down(proto.InputMouseButtonLeft, 1))
		require.NoError(t, v.page.Mouse.MoveLinear(proto.NewPoint(box.X+20+x, box.Y+box.Height/2+y), 6))
		do()
	}
	up := func() { require.NoError(t, v.page.Mouse.Up(proto.InputMouseButtonLeft, 1)) }
	drag(-80, 0, func() { v.follow(up) })
	v.sees("#move [role=alert]", "is not ready for it before")
	assert.NotContains(t, v.find("#move").MustText(), "Pinned:")
	v.open("/classes/3")
	box = v.find("[data-sitting]").MustShape().Box()
	drag(60, 44, func() { v.sees("#says", "Kettle from"); v.follow(up) })
	v.sees("#move", "Kettle at")
	v.sees("#move", "Pinned:")
	v.follow(func() { v.find("[form=release]").MustClick() })
	assert.NotContains(t, v.find("#move").MustText(), "Pinned:")
}
