package prep

import (
	"fmt"

	"chalkstep/app/classload"
	app "chalkstep/app/prep"
	"chalkstep/core/kit"
	"chalkstep/core/say"
	"chalkstep/web/classhead"
	"chalkstep/web/ui"
)

// A kitsView is the bags of a class.
type kitsView struct {
	classhead.Head
	Answer string
	Sheets []string
	Bags   []bagView
}

// A bagView is one student's bag and how far it is.
type bagView struct {
	ID                int64
	Version, Sitting  int
	Name, Where       string
	State, Next, Verb string
	Done, Begun       bool
	Missing           string
	Items             []bagItem
}

type bagItem struct {
	ID, Text string
	In       bool
}

func newKitsView(d app.UseCases, page classload.KitsPage, boxes string) kitsView {
	p := ui.P{Printer: d.Printer()}
	v := kitsView{Head: classhead.NewHead(d.Actor, page.Plan, "prep", "kits", boxes), Sheets: app.LabelSheets()}
	v.Answer = p.Say(say.T("%s of %s packed.", say.Count(page.Done()), say.N{N: len(page.Bags), Noun: "kit"}))
	if page.Done() == len(page.Bags) {
		v.Answer = p.Say(say.T("All %s are packed.", say.N{N: len(page.Bags), Noun: "kit"}))
	}
	for _, b := range page.Bags {
		bag := bagView{ID: b.ID, Version: b.Version, Sitting: b.Sitting, Name: b.Name, Where: b.Project.Name,
			State: string(b.Kit), Done: b.Kit.Been(kit.Packed), Begun: b.Kit != kit.ToCut}
		if b.Machine != "" {
			bag.Where += " at " + b.Machine
		}
		if next, ok := b.Kit.Next(); ok {
			bag.Next, bag.Verb = string(next), kitVerb[next]
		}
		if b.Missing > 0 {
			bag.Missing = fmt.Sprintf("%d missing", b.Missing)
		}
		for _, item := range b.Items {
			bag.Items = append(bag.Items, bagItem{string(item.ID()), p.Say(item.Whole()), item.In})
		}
		v.Bags = append(v.Bags, bag)
	}
	return v
}

// kitVerb says what leads to a state of a kit.
var kitVerb = map[kit.State]string{kit.Cut: "It is cut", kit.Packed: "Pack it", kit.HandedOut: "Hand it out",
	kit.Returned: "It is back"}
