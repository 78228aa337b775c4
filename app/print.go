package app

import (
	"cmp"
	"fmt"
	"image/color"
	"slices"
	"strings"

	"chalkstep/core/measure"
	"chalkstep/core/pace"
	"chalkstep/core/stitch"
	"chalkstep/paper"
)

// LabelSheets names the sheets of labels that can be printed on.
func LabelSheets() []string {
	var names []string
	for _, s := range paper.LabelSheets {
		names = append(names, s.Name)
	}
	return names
}

// LabelsPDF prints a label for every kit of a class. base is the address of
// the application, for the code that opens the student's card.
func (d Desk) LabelsPDF(classID int64, base, sheetName string) ([]byte, error) {
	sheet, err := paper.LabelSheetNamed(sheetName)
	if err != nil {
		return nil, Problems{"": Sentence(err.Error())}
	}
	page, err := d.Kits(classID)
	if err != nil {
		return nil, err
	}
	var labels []paper.Label
	for _, k := range page.Kits {
		label := paper.Label{
			Name: k.Place.Student.Name, Class: page.Class.Name, Project: k.Project.Name, Sitting: fmt.Sprintf("Sits down as number %d, at %s", k.Sitting, k.Machine),
			Link: fmt.Sprintf("%s/classes/%d/cards/%d", base, classID, k.Place.StudentID),
		}
		for _, line := range k.Lines {
			label.Lines = append(label.Lines, line.Text())
		}
		labels = append(labels, label)
	}
	if len(labels) == 0 {
		return nil, Problems{"": "There is no kit to label."}
	}
	return paper.Labels(labels, sheet)
}

// Text is a line of a kit in words.
func (k KitItem) Text() string {
	text := k.What
	if k.Count > 1 {
		text = fmt.Sprintf("%d × %s", k.Count, k.What)
	}
	if k.Size != "" {
		text += ", " + k.Size
	}
	return text
}

// CutPDF prints the cut plans of a class.
func (d Desk) CutPDF(classID int64, sheetName string) ([]byte, error) {
	sheet, err := paper.SheetNamed(sheetName)
	if err != nil {
		return nil, Problems{"": Sentence(err.Error())}
	}
	page, err := d.Shelf(classID)
	if err != nil {
		return nil, err
	}
	var plans []paper.CutPlan
	for _, s := range page.Cuts {
		names := map[string]string{}
		for i, p := range s.AllPieces {
			names[fmt.Sprint(i)] = p.What
		}
		for _, l := range s.LaidOut() {
			plans = append(plans, paper.CutPlan{Class: page.Class.Name, Material: s.Material, From: cmp.Or(l.From, "a roll"), WidthMM: l.WidthMM, Layout: l.Layout, Names: names})
		}
	}
	if len(plans) == 0 {
		return nil, Problems{"": "There is nothing to cut."}
	}
	return paper.CutPlans(plans, sheet)
}

// CardsPDF prints the step cards of a class: one page for each hooping.
func (d Desk) CardsPDF(classID int64, sheetName string) ([]byte, error) {
	sheet, err := paper.SheetNamed(sheetName)
	if err != nil {
		return nil, Problems{"": Sentence(err.Error())}
	}
	page, cards, err := d.StepCards(classID)
	if err != nil {
		return nil, err
	}
	var printed []paper.Card
	for _, c := range cards {
		for n := range c.Hoopings {
			printed = append(printed, d.printedCard(page, c, n))
		}
	}
	return paper.Cards(printed, sheet)
}

const restartWords = "Thread broke? Rethread with the foot up and step back by stitch, 5 to 10 before the last good one."

func (d Desk) printedCard(page ClassPage, c StepCard, n int) paper.Card {
	h := c.Hoopings[n]
	seat := h.Seat
	card := paper.Card{
		Title:  fmt.Sprintf("%s: %s on %s", c.Student.Name, c.Project.Name, seat.Machine.Name),
		Class:  page.Class.Name + ", " + page.Class.StartsAt.In(d.Who.Zone).Format("Mon 2 Jan"),
		Setup:  fmt.Sprintf("Hoop %s, needle %s %s, %s.", seat.Hoop.Hoop.Name, h.Recipe.Needle.Size, h.Recipe.Needle.Point, h.Recipe.TopThread),
		Before: h.Recipe.BeforeStart(), Inspect: h.Recipe.Inspection(),
		Restart:  restartWords,
		After:    h.Recipe.After,
		Cautions: slices.Concat(h.Recipe.Cautions, []string{"The machine's manual, the room's own rules and local regulations come first."}),
	}
	if h.Recipe.Watch == "stay" {
		card.Restart += " Stay at the machine while it sews."
	}
	if h.Recipe.Jumps == "after-each" {
		card.Restart += " Snip jumps after each colour."
	}
	if seat.Fit.Turn == 90 {
		card.Setup += " Turn the design by 90°."
	}
	if n > 0 {
		card.Title += ", " + h.Title
	} else if len(c.Missing) > 0 {
		card.Ask = "Ask the instructor first for: " + titles(c.Missing) + "."
	}
	for _, s := range c.Steps {
		if _, hooping := pace.Base(s.Key); hooping != n+1 {
			continue
		}
		card.Steps = append(card.Steps, paper.CardStep{At: s.Start.In(d.Who.Zone).Format("15:04"), Title: s.Title, Note: d.stepNote(h, s), Caution: s.Caution})
	}
	for _, s := range h.Stops {
		title := fmt.Sprintf("Stop %d", s.N)
		if s.Sews != "" {
			title += ": " + s.Sews
		}
		note := fmt.Sprintf("%s stitches, about %s, %s of %s", measure.Count(s.Stitches), measure.Minutes(s.Minutes), measure.Metres(s.TopMM), c.ThreadWords(s.Color))
		if s.SameThread {
			note = "Same thread, no change. " + note
		}
		stop := paper.CardStop{Title: title, Note: note, Before: s.Before, After: s.After, Color: color.RGBA{A: 0xff}}
		if rgb, err := stitch.ParseRGB(s.Color); err == nil {
			stop.Color = color.RGBA{rgb.R, rgb.G, rgb.B, 0xff}
		}
		card.Stops = append(card.Stops, stop)
	}
	return card
}

// stepNote is what of the recipe and the hoop belongs to a step.
func (d Desk) stepNote(h CardHooping, s CardStep) string {
	switch base, _ := pace.Base(s.Key); base {
	case "stabilise":
		var layers []string
		for _, l := range h.Recipe.Under {
			layers = append(layers, fmt.Sprintf("%s of %s %s, %s", measure.Plural(l.Sheets, "sheet"), l.Weight, l.What, measure.Size(l.CutMM[0], l.CutMM[1])))
		}
		if h.Recipe.Over != nil {
			layers = append(layers, h.Recipe.Over.What+" on top")
		}
		return strings.Join(layers, "; ") + "."
	case "load":
		return fmt.Sprintf("The frame's marks lie %+g mm across and %+g mm up of the needle. Trace before you start.", h.Seat.Hoop.DXMM, h.Seat.Hoop.DYMM)
	}
	return ""
}
