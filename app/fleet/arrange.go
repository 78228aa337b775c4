package fleet

import (
	"fmt"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/fleet"
)

// Arrange puts machines where they stand in the room: a place of [room.Places] typed for
// each, 0 or nothing for wherever there is room.
func (d UseCases) Arrange(typed map[int64]string) error {
	if err := d.Need(actor.ChangeRoom); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error {
		machines, err := d.Workshop.Machines()
		if err != nil {
			return err
		}
		problems, places, taken := form.Problems{}, map[int64]int{}, map[int]string{}
		for _, m := range machines {
			text, said := typed[m.ID]
			n := m.Place
			if said {
				n = 0
			}
			field := fmt.Sprintf("place-%d", m.ID)
			if said && text != "" {
				n = form.Whole(problems, field, text, 0, fleet.Places,
					fmt.Sprintf("Write a place of the room: 1 to %d.", fleet.Places))
			}
			if other := taken[n]; n > 0 && other != "" {
				problems[field] = other + " stands there: choose another place."
			}
			taken[n], places[m.ID] = m.Name, n
		}
		if err := problems.OrNil(); err != nil {
			return err
		}
		return d.Workshop.Place(places)
	})
}
