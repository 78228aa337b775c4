package projects

import (
	"slices"
	"strconv"
	"strings"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/design"
	"chalkstep/core/fleet"
	"chalkstep/core/hoop"
	"chalkstep/core/pace"
	"chalkstep/core/project"
	"chalkstep/core/stitch"
	"chalkstep/core/stitch/picture"
	"chalkstep/core/stock"
	"chalkstep/core/supply"
)

// MostThreadRows of a hooping are offered to choose threads for.
const MostThreadRows = 60

// A ThreadsPage is the stops of a project with the threads that are tried on
// them.
type ThreadsPage struct {
	ID      int64
	Version int
	Name    string
	Sheets  []ThreadSheet
	// Shelf is the threads that lie there, by colour.
	Shelf []supply.Key
	Spool func(supply.Key) string
	// Changes and Minutes are now, WasChanges and WasMinutes as it is kept.
	Changes, WasChanges int
	Minutes, WasMinutes float64
	// Needs is how much of each thread one set takes, in millimetres.
	Needs []ThreadNeed
}

// A ThreadSheet is a hooping with its stops in the order in which they are sewn.
type ThreadSheet struct {
	Hooping int
	Title   string
	Design  design.Design
	Rows    []ThreadRow
	// Beyond counts the stops that are not listed.
	Beyond int
}

// A ThreadRow is a stop with its thread.
type ThreadRow struct {
	design.Stop
	Hooping int
	// Library is the thread that the design has; Chosen tells that another is
	// taken.
	Library stitch.RGB
	Chosen  bool
	// Same tells that the stop before it sews with the same thread.
	Same bool
}

// A ThreadNeed is how much of a thread one set takes.
type ThreadNeed struct {
	Key supply.Key
	MM  float64
	// There tells that it lies on the shelf.
	There bool
}

// Threads opens a project with the threads that are typed, by hooping and stop;
// nil for those it has. Nothing is kept.
func (d UseCases) Threads(id int64, typed map[project.Thread]string) (ThreadsPage, form.Problems, error) {
	if err := d.Need(actor.See); err != nil {
		return ThreadsPage{}, nil, err
	}
	p, err := d.Workshop.Project(id)
	if err != nil {
		return ThreadsPage{}, nil, err
	}
	rules, machines, err := d.Floorplan()
	if err != nil {
		return ThreadsPage{}, nil, err
	}
	items, err := d.Items()
	if err != nil {
		return ThreadsPage{}, nil, err
	}
	page := ThreadsPage{ID: p.ID, Version: p.Version, Name: p.Name, Shelf: threadsOf(items)}
	page.Spool = func(key supply.Key) string { return nameOf(items, key, d.Say(key)) }
	problems := form.Problems{}
	if p.Gone() {
		return page, problems, nil
	}
	sews := func() (changes int, minutes float64) {
		for i := range p.Hoopings {
			out := p.Rules(rules).Timing().StitchOut(typicalOf(machines), p.Pacing(i), 1)
			changes, minutes = changes+out.Changes, minutes+out.Total
		}
		return changes, minutes
	}
	page.WasChanges, page.WasMinutes = sews()
	if typed != nil {
		p.Threads = readThreads(problems, typed)
	}
	page.Changes, page.Minutes = sews()
	r, err := p.Recipe(0, hoop.Field{WidthMM: 100, HeightMM: 100}, rules)
	if err != nil {
		return page, problems, d.Mendable(err)
	}
	for i, h := range p.Hoopings {
		sewn := p.Sewn(i)
		sheet := ThreadSheet{Hooping: i, Title: h.Title, Design: sewn}
		pacing := sewn.Pacing()
		for k, s := range sewn.Stops {
			key := supply.Spool(r.TopThread, s.Color)
			page.need(key, rules.Kit.TopThreadMM(s.Stop))
			if k >= MostThreadRows {
				sheet.Beyond++
				continue
			}
			_, chosen := p.Threads[project.Thread{Hooping: i, Stop: s.N}]
			at := slices.IndexFunc(h.Design.Stops, func(o design.Stop) bool { return o.N == s.N })
			sheet.Rows = append(sheet.Rows,
				ThreadRow{Stop: s, Hooping: i, Library: h.Design.Stops[at].Color, Chosen: chosen, Same: pacing[k].SameThread})
		}
		page.Sheets = append(page.Sheets, sheet)
	}
	return page, problems, nil
}

// need adds to what is needed of a thread.
func (p *ThreadsPage) need(key supply.Key, mm float64) {
	if i := slices.IndexFunc(p.Needs, func(n ThreadNeed) bool { return n.Key == key }); i >= 0 {
		p.Needs[i].MM += mm
		return
	}
	p.Needs = append(p.Needs, ThreadNeed{Key: key, MM: mm, There: slices.Contains(p.Shelf, key)})
}

// typicalOf is the machine that minutes are told for: the middle one of the room,
// or a typical one.
func typicalOf(machines []fleet.Machine) pace.Machine {
	if len(machines) == 0 {
		return fleet.Typical
	}
	return machines[len(machines)/2].Pacing()
}

// threadsOf are the threads of a shelf, each once.
func threadsOf(items []stock.Item) []supply.Key {
	var keys []supply.Key
	for _, item := range items {
		if item.Key.Kind == supply.Thread && !slices.Contains(keys, item.Key) {
			keys = append(keys, item.Key)
		}
	}
	slices.SortFunc(keys, func(a, b supply.Key) int { return strings.Compare(a.String(), b.String()) })
	return keys
}

// nameOf is what the shelf calls a thing, or what it is.
func nameOf(items []stock.Item, key supply.Key, otherwise string) string {
	for _, item := range items {
		if item.Key == key {
			return item.Name
		}
	}
	return otherwise
}

// readThreads reads the threads that are chosen; an empty one is the library's.
func readThreads(problems form.Problems, typed map[project.Thread]string) map[project.Thread]stitch.RGB {
	threads := map[project.Thread]stitch.RGB{}
	for at, text := range typed {
		if text == "" {
			continue
		}
		color, err := stitch.ParseRGB(text)
		if err != nil {
			problems["threads"] = "Choose threads from the list."
			continue
		}
		threads[at] = color
	}
	return threads
}

// SaveThreads keeps the threads that are taken for the stops of a project. Those
// of stops that were not listed stay.
func (d UseCases) SaveThreads(id int64, version int, typed map[project.Thread]string) error {
	if err := d.Need(actor.ChangeProjects); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error {
		p, err := d.Workshop.Project(id)
		if err != nil {
			return err
		}
		problems := form.Problems{}
		threads := readThreads(problems, typed)
		for at, color := range p.Threads {
			if _, said := typed[at]; !said {
				threads[at] = color
			}
		}
		p.Version, p.Threads = version, threads
		_, err = d.keepProject(p, problems)
		return form.Compare(err, saidOf(typed), func() (threadsSaid, int, error) {
			now, err := d.Workshop.Project(id)
			kept := map[project.Thread]string{}
			for at := range typed {
				if color, chosen := now.Threads[at]; chosen {
					kept[at] = color.String()
				} else {
					kept[at] = ""
				}
			}
			return saidOf(kept), now.Version, err
		})
	})
}

// threadsSaid are threads by what their stops are called.
type threadsSaid struct {
	Threads map[string]string `says:"Thread of stop"`
}

func saidOf(typed map[project.Thread]string) threadsSaid {
	said := threadsSaid{map[string]string{}}
	for at, color := range typed {
		name := strconv.Itoa(at.Stop)
		if at.Hooping > 0 {
			name += " of hooping " + strconv.Itoa(at.Hooping+1)
		}
		said.Threads[name] = color
	}
	return said
}

// Drawing draws a hooping of a project, from 0, in the threads that are taken for
// it, or in those that are tried.
func (d UseCases) Drawing(id int64, hooping int, tried map[int]stitch.RGB) (picture.Picture, error) {
	if err := d.Need(actor.See); err != nil {
		return picture.Picture{}, err
	}
	p, err := d.Workshop.Project(id)
	if err != nil {
		return picture.Picture{}, err
	}
	if hooping < 0 || hooping >= len(p.Hoopings) || p.Hoopings[hooping].Design.Gone() {
		return picture.Picture{}, actor.NotFound("hooping %d of the project", hooping+1)
	}
	of := p.Hoopings[hooping].Design
	pattern, err := d.Pattern(of)
	if err != nil {
		return picture.Picture{}, err
	}
	colors := of.Colors()
	sewn := p.Sewn(hooping)
	for _, s := range sewn.Stops {
		if at := s.N - 1; at >= 0 && at < len(colors) {
			colors[at] = s.Color
		}
	}
	for stop, color := range tried {
		if stop >= 1 && stop <= len(colors) {
			colors[stop-1] = color
		}
	}
	return picture.Of(pattern, colors, picture.Drawing)
}
