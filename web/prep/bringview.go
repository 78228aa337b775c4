package prep

import (
	"fmt"

	"chalkstep/app/classload"
	app "chalkstep/app/prep"
	"chalkstep/core/kit"
	"chalkstep/core/say"
	"chalkstep/core/supply"
	"chalkstep/web/classhead"
	"chalkstep/web/ui"
)

// A bringView is what to bring to a class.
type bringView struct {
	classhead.Head
	Sets, Pieces, Kinds, Summary string
	Working                      []string
	Lines                        []bringLine
	Seats                        []classhead.Seat
	// Ahead is what is done before the day, each with its minutes.
	Ahead []string
}

// A bringLine is a line of what to bring.
type bringLine struct {
	Sign, Color, What, Quantity string
	Working                     []string
}

func newBringView(d app.UseCases, page classload.KitsPage, boxes string) bringView {
	p, k := ui.P{Printer: d.Printer()}, page.Packing.Kit
	v := bringView{Head: classhead.NewHead(d.Actor, page.Plan, "prep", "bring", boxes), Sets: p.N(k.Sets, "set"),
		Pieces: p.N(k.Sheets(), "piece"), Working: p.Lines(k.SetsWorking), Seats: classhead.Seats(p, page.Plan)}
	if len(k.Cuts) > 1 {
		v.Kinds = fmt.Sprintf(" in %d kinds", len(k.Cuts))
	}
	summary := []any{say.T("%s in %s", fibreOf(k), say.N{N: len(k.Thread), Noun: "colour"}),
		say.T("%s in %s", say.N{N: k.BobbinCount(), Noun: "full bobbin"}, say.N{N: len(k.Bobbins), Noun: "style"})}
	for _, n := range k.Needles {
		summary = append(summary, say.T("%s %s", n.Quantity(), n.Key))
	}
	v.Summary = p.Sentence(say.T("%s", say.List(summary)))
	for _, task := range page.Packing.Ahead {
		v.Ahead = append(v.Ahead, p.Say(say.T("%s: about %s", task.Text, say.Minutes(task.Minutes))))
	}
	for _, l := range k.All() {
		line := bringLine{Sign: "todo", What: p.Say(l.Say()), Quantity: p.Say(l.Quantity()), Working: p.Lines(l.Working)}
		if l.Unit == kit.SheetUnit {
			line.Sign = "cut"
		}
		if l.Key.Kind == supply.Thread {
			line.Color = l.Key.Color.String()
			line.What += ": " + p.Say(page.Spool(l.Key))
		}
		v.Lines = append(v.Lines, line)
	}
	return v
}

// fibreOf is what the top thread of a kit is.
func fibreOf(k kit.Kit) say.Word {
	if len(k.Thread) == 0 {
		return "top thread"
	}
	return say.Word(k.Thread[0].Key.Fibre)
}
