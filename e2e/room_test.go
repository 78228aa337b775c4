package e2e

import (
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/require"
)

// A machine breaks and is mended, a class is called off, somebody leaves, and
// two tabs change one machine.
func TestTheRoomChanges(t *testing.T) {
	base := start(t)
	v := visit(t, base)
	v.signIn("owner")
	v.open("/machines/1")
	v.write("#outage-reason", "the belt slips")
	v.enter("#outages form:last-of-type button")
	v.sees("#outage-from-problem", "Choose a day and a time")
	require.Equal(t, "the belt slips", v.value("#outage-reason"), "what was typed stays")
	v.keys("#outage-from", "11282026")
	v.press(input.Tab)
	for _, key := range "1100am" {
		v.press(input.Key(key))
	}
	v.enter("#outages form:last-of-type button")
	v.sees("#outages", "Out of order from Sat 28 Nov, 11:00: the belt slips.")
	v.open("/classes/3")
	v.sees(".answer", "Heron is out of order from Sat 28 Nov, 11:00")
	v.open("/machines/bookings")
	v.sees("tbody", "out of order then")
	v.open("/machines/1")
	v.enter("#outages form:first-of-type button")
	v.sees("#outages", "It works, as far as anybody has said.")

	// Two tabs: what the other saved stands beside what was typed.
	w := visit(t, base)
	w.signIn("instructor")
	w.open("/machines/2")
	v.open("/machines/2")
	v.write("#bobbin_style", "tall, plastic")
	v.enter("form.sheet button.main")
	w.write("#top_speed_spm", "600")
	w.enter("form.sheet button.main")
	w.sees("#beside", "Bobbins: they saved “tall, plastic”, you typed “tall, steel”")
	require.Equal(t, "600", w.value("#top_speed_spm"))
	w.write("#bobbin_style", "tall, plastic")
	w.enter("form.sheet button.main")
	w.sees("tbody", "600/min")

	v.open("/classes/4/edit")
	v.confirm("cancel")
	v.sees("h1", "The class was called off.")
	v.open("/classes")
	v.sees("tbody", "Lighthouse totes called off")

	// Sol was in that class and has shown a step: he leaves the list, not the past.
	v.open("/students?words=Sol+Whitaker")
	v.enter("tbody a")
	v.confirm("remove")
	v.sees("h1", "1 thing off the lists.")
	v.enter("tbody form button")
	v.sees("h1", "Nothing was taken off a list.")
}
