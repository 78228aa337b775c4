package room

import (
	"fmt"

	"chalkstep/app/desk"
	"chalkstep/core/fleet"
)

// Arrange puts machines where they stand in the room: a place of [room.Places] typed for
// each, 0 or nothing for wherever there is room.
func (d Desk) Arrange(typed map[int64]string) error {
	if err := d.Need(desk.ChangeRoom); err != nil {
		return err
	}
	return desk.OnceOnly(d, func(d Desk) error {
		machines, err := d.Shop.Machines()
		if err != nil {
			return err
		}
		problems, places, taken := desk.Problems{}, map[int64]int{}, map[int]string{}
		for _, m := range machines {
			text, said := typed[m.ID]
			n := m.Place
			if said {
				n = 0
			}
			field := fmt.Sprintf("place-%d", m.ID)
			if said && text != "" {
				n = desk.Whole(problems, field, text, 0, fleet.Places, fmt.Sprintf("Write a place of the room: 1 to %d.", fleet.Places))
			}
			if other := taken[n]; n > 0 && other != "" {
				problems[field] = other + " stands there: choose another place."
			}
			taken[n], places[m.ID] = m.Name, n
		}
		if err := problems.OrNil(); err != nil {
			return err
		}
		return d.Shop.Place(places)
	})
}
