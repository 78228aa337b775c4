package classday

import (
	"cmp"
	"math"
	"slices"

	"chalkstep/core/fleet"
	"chalkstep/core/hoop"
	"chalkstep/core/kit"
	"chalkstep/core/policy"
	"chalkstep/core/project"
	"chalkstep/core/say"
	"chalkstep/core/supply"
	"chalkstep/core/technique"
)

// Widths tells how wide a material lies on the shelf: strips that are longer
// are joined.
type Widths func(supply.Key) float64

// Threads are the threads of a hooping, from 0, of the fibre its recipe asks
// for.
func (w Work) Threads(hooping int, rules policy.Rules) []supply.Key {
	r, err := w.Recipe(hooping, hoop.Field{WidthMM: 100, HeightMM: 100}, rules)
	fibre := r.TopThread
	if err != nil || !slices.Contains(supply.Fibres, fibre) {
		fibre = supply.Polyester
	}
	return w.Sewing[hooping].Design.Threads(fibre)
}

// Request is what the students of a work need, by where they sew: all of them
// at one seat in the hoop the room prefers, as long as there is no plan.
func (p Plan) Request(w Work, widths Widths) (kit.Request, error) {
	r := kit.Request{Layers: w.Pieces(widths), Blank: w.BlankItem(), Parts: w.PartItems(), Things: w.CutThings(),
		Shared: w.SharedThings(), Marked: !w.InHoop && !w.Effects().NoPen, Serves: w.BlocksPerSheet()}
	for i, m := range p.Class.Machines {
		if !p.Planned() || !w.Fits(m.ID) {
			continue
		}
		for _, group := range p.groupsAt(w, m.ID) {
			seat := kit.Seat{Machine: m.Name, Bobbin: m.Bobbin(), BobbinMetres: m.BobbinMetres, Students: group.students}
			for n, s := range w.Sewing {
				taken := s.Seats[i]
				if group.hoops != nil {
					taken = taken.In(group.hoops[n])
				}
				h, err := p.hooping(w, n, taken.Hoop.Hoop)
				if err != nil {
					return r, err
				}
				seat.Hoopings = append(seat.Hoopings, h)
			}
			r.Seats = append(r.Seats, seat)
		}
	}
	if len(r.Seats) > 0 {
		return r, nil
	}
	seat := kit.Seat{Students: len(w.Places)}
	for n, s := range w.Sewing {
		h, ok := fleet.ChooseHoop(fleet.HoopsOf(w.Takes(p.Class.Machines)), w.InField(n), w.Garment(), w.Rules(p.Rules))
		if !ok {
			h = fleet.Hoop{Field: hoop.Field{WidthMM: max(1, s.Design.WidthMM), HeightMM: max(1, s.Design.HeightMM)}}
		}
		made, err := p.hooping(w, n, h)
		if err != nil {
			return r, err
		}
		seat.Hoopings = append(seat.Hoopings, made)
	}
	r.Seats = []kit.Seat{seat}
	return r, nil
}

// A group is students who sew at the same machine in the same hoops, one for each
// hooping; none where nobody sews there.
type group struct {
	hoops    []int64
	students int
}

// groupsAt are the groups of a work at a machine.
func (p Plan) groupsAt(w Work, machineID int64) []group {
	var all []group
	for _, place := range w.Places {
		if at, ok := p.MachineOf(place.ID); !ok || at.ID != machineID {
			continue
		}
		hoops := p.hoopsOf(w, place.ID)
		i := slices.IndexFunc(all, func(g group) bool { return slices.Equal(g.hoops, hoops) })
		if i < 0 {
			i, all = len(all), append(all, group{hoops: hoops})
		}
		all[i].students++
	}
	if all == nil {
		all = []group{{}}
	}
	return all
}

// hoopsOf are a student's hoops, by hooping.
func (p Plan) hoopsOf(w Work, studentID int64) []int64 {
	hoops := make([]int64, len(w.Sewing))
	for n := range w.Sewing {
		if seat, ok := p.SeatOf(studentID, n+1); ok {
			hoops[n] = seat.Hoop.ID
		}
	}
	return hoops
}

// hooping is a hooping of a work, from 0, in a hoop.
func (p Plan) hooping(w Work, n int, h fleet.Hoop) (kit.Hooping, error) {
	r, err := w.Recipe(n, h.Field, p.Rules)
	return kit.Hooping{Hoop: h.Name, Recipe: r, Stops: w.Sewing[n].Design.Sewn(), Threads: w.Threads(n, p.Rules)}, err
}

// Packing is everything for a class, and its bags in the order in which their
// owners sit down.
type Packing struct {
	Kit  kit.Kit
	Bags []Bag
	// Ahead is what staff do before the day.
	Ahead []technique.Task
}

// A Bag is one student's.
type Bag struct {
	Place
	Project project.Project
	// Sitting is the place in the order in which the students sit down, from
	// 1; Machine is where.
	Sitting int
	Machine string
	Items   []BagItem
	// Missing counts the items that are not in the bag.
	Missing int
}

// A BagItem is a line of a bag, packed or not.
type BagItem struct {
	kit.Item
	In bool
}

// Pack works out the kits from the roster and from who sews where. A work whose
// design is gone is left out, and one that no machine can sew where others can
// go on.
func (p Plan) Pack(widths Widths) (Packing, error) {
	var all Packing
	var requests []kit.Request
	for _, w := range p.Works {
		if len(w.Sewing) == 0 || len(w.Places) == 0 && len(p.Works) > 1 || p.Planned() && !w.Why.Silent() {
			continue
		}
		r, err := p.Request(w, widths)
		if err != nil {
			return all, err
		}
		for _, place := range w.Places {
			if size := w.SizeOf(place); size != "" {
				if r.Sizes == nil {
					r.Sizes = map[string]int{}
				}
				r.Sizes[size]++
			}
		}
		requests = append(requests, r)
		all.Ahead = append(all.Ahead, w.Ahead(p.Rules.Kit.For(r).Sets)...)
		if task, any := p.hoopAhead(w); any {
			all.Ahead = append(all.Ahead, task)
		}
		for _, place := range w.Places {
			all.Bags = append(all.Bags, p.bag(w, place, r))
		}
	}
	all.Kit = p.Rules.Kit.For(requests...)
	slices.SortStableFunc(all.Bags, func(a, b Bag) int {
		return cmp.Or(cmp.Compare(p.sitsAt(a.ID), p.sitsAt(b.ID)), cmp.Compare(a.Name, b.Name))
	})
	for i := range all.Bags {
		all.Bags[i].Sitting = i + 1
	}
	return all, nil
}

// hoopAhead is what staff hoop before the class of a work.
func (p Plan) hoopAhead(w Work) (technique.Task, bool) {
	var names say.List
	minutes := 0.0
	for _, place := range w.Places {
		if !place.HoopedAhead {
			continue
		}
		names = append(names, say.Name(place.Name))
		for _, s := range w.Steps {
			if w.IsAhead(place, s.Key) {
				minutes += s.Minutes
			}
		}
	}
	return technique.Task{Text: say.T("Hoop the blanks of %s", names), Minutes: minutes}, len(names) > 0
}

// sitsAt is the minute at which a student sits down at a machine to sew.
func (p Plan) sitsAt(studentID int64) float64 {
	w, _, _ := p.Maker(PersonID(studentID))
	for _, s := range p.StepsOf(PersonID(studentID)) {
		if step, has := w.Step(s.Operation); has && step.InHoop() {
			return s.Start
		}
	}
	return math.Inf(1)
}

func (p Plan) bag(w Work, place Place, r kit.Request) Bag {
	b := Bag{Place: place, Project: w.Project}
	seat := r.Seats[0]
	if m, ok := p.MachineOf(place.ID); ok {
		b.Machine = m.Name
		var hoops []string
		for n := range w.Sewing {
			if at, ok := p.SeatOf(place.ID, n+1); ok {
				hoops = append(hoops, at.Hoop.Name)
			}
		}
		if i := slices.IndexFunc(r.Seats, func(s kit.Seat) bool {
			return s.Machine == m.Name &&
				slices.EqualFunc(s.Hoopings, hoops, func(h kit.Hooping, name string) bool { return h.Hoop == name })
		}); i >= 0 {
			seat = r.Seats[i]
		}
	}
	for _, item := range kit.Bag(r, seat) {
		if size := w.SizeOf(place); size != "" && item.Key.Kind == supply.Blank {
			item.Name = w.Blank.Name + ", size " + size
		}
		in := slices.Contains(place.Packed, item.ID())
		if !in {
			b.Missing++
		}
		b.Items = append(b.Items, BagItem{item, in})
	}
	return b
}
