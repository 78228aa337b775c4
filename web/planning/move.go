package planning

import (
	"fmt"
	"net/url"
	"strings"

	"github.com/gofiber/fiber/v3"

	app "chalkstep/app/planning"
	"chalkstep/core/classday"
	"chalkstep/core/pace"
	"chalkstep/web/classhead"
	"chalkstep/web/ui"
)

// A moveView is what may be moved in a plan, and what was pinned.
type moveView struct {
	Sittings []classhead.Choice
	Machines []classhead.Choice
	At       string
	Pins     []pinView
	// Moved is what was moved just now, nil for nothing.
	Moved *pinView
}

// A pinView is a sitting that was pinned: Value names it, Machine and At are where it
// goes when that is undone.
type pinView struct{ Value, Text, Machine, At string }

// sittingValue names a sitting in a form, with the version of its place and what is
// pinned of it.
func sittingValue(p ui.P, plan classday.Plan, place classday.Place, hooping int) string {
	machine, at := pinned(p, plan, place, hooping)
	return fmt.Sprintf("%d.%d.%d.%s.%s", place.ID, hooping, place.Version, machine, at)
}

// pinned is what is pinned of a sitting, as the form says it.
func pinned(p ui.P, plan classday.Plan, place classday.Place, hooping int) (machine, at string) {
	pin, is := place.PinOf(hooping)
	if is && pin.MachineID != 0 {
		machine = fmt.Sprint(pin.MachineID)
	}
	if is && pin.Minute != nil {
		at = p.ClockField(plan.At(float64(*pin.Minute)))
	}
	return machine, at
}

// readSitting takes a named sitting apart.
func readSitting(value string) (in app.MoveInput, machine, at string) {
	parts := strings.SplitN(value, ".", 5)
	for len(parts) < 5 {
		parts = append(parts, "")
	}
	return app.MoveInput{StudentID: ui.Number(parts[0]), Hooping: ui.Small(parts[1]), Version: ui.Small(parts[2])},
		parts[3], parts[4]
}

// newMoveView tells what may be moved; typed is what a form held that was refused, and
// moved what the page was asked to say of.
func newMoveView(c fiber.Ctx, p ui.P, plan classday.Plan) *moveView {
	v := &moveView{At: c.FormValue("at")}
	typed, _, _ := readSitting(c.FormValue("sitting"))
	for _, place := range plan.Class.Places {
		w, _, ok := plan.Maker(classday.PersonID(place.ID))
		if !ok {
			continue
		}
		for hooping := 1; hooping <= len(w.Sewing); hooping++ {
			where, planned := sitting(p, plan, place, hooping)
			if !planned {
				continue
			}
			value := sittingValue(p, plan, place, hooping)
			text := place.Name
			if len(w.Sewing) > 1 {
				text += fmt.Sprintf(", hooping %d", hooping)
			}
			text += ": " + where
			v.Sittings = append(v.Sittings,
				classhead.Choice{Value: value, Text: text, Chosen: typed.StudentID == place.ID && typed.Hooping == hooping})
			if _, is := place.PinOf(hooping); is {
				v.Pins = append(v.Pins, pinView{Value: value, Text: text})
			}
			if c.Query("moved") == fmt.Sprintf("%d.%d", place.ID, hooping) {
				v.Moved = &pinView{value, text, c.Query("machine"), c.Query("at")}
			}
		}
	}
	for _, m := range plan.Class.Machines {
		v.Machines = append(v.Machines,
			classhead.Choice{Value: fmt.Sprint(m.ID), Text: m.Name, Chosen: c.FormValue("machine") == fmt.Sprint(m.ID)})
	}
	return v
}

// sitting is where and when somebody sits down with a hooping.
func sitting(p ui.P, plan classday.Plan, place classday.Place, hooping int) (string, bool) {
	for _, s := range plan.StepsOf(classday.PersonID(place.ID)) {
		key := pace.StepKey(s.Operation)
		if m, there := plan.Machine(s.Machine); there && key.Hooping() == hooping &&
			(key.Is(pace.StepLoad) || key.Is(pace.StepSew)) {
			return fmt.Sprintf("%s at %s", m.Name, p.Clock(plan.At(s.Start))), true
		}
	}
	return "", false
}

// move pins a sitting, or lets go of it, and shows the plan with what came of it.
func move(c fiber.Ctx, d app.UseCases, id int64) error {
	in, machine, at := readSitting(c.FormValue("sitting"))
	in.MachineID, in.At = ui.Number(c.FormValue("machine")), c.FormValue("at")
	if c.FormValue("release") != "" {
		in.MachineID, in.At = 0, ""
	}
	if err := d.Move(id, in); err != nil {
		return ui.Again(c, err, func(p *ui.Refused) error { return showPlan(c, d, id, p) })
	}
	back := url.Values{"moved": {fmt.Sprintf("%d.%d", in.StudentID, in.Hooping)}, "machine": {machine}, "at": {at}}
	return c.Redirect().Status(fiber.StatusSeeOther).To(fmt.Sprintf("/classes/%d?%s#day", id, back.Encode()))
}
