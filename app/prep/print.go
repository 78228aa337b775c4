package prep

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/png"
	"strings"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/card"
	"chalkstep/core/design"
	"chalkstep/core/kit"
	"chalkstep/core/pace"
	"chalkstep/core/say"
	"chalkstep/core/skill"
	"chalkstep/core/stitch/picture"
	"chalkstep/core/technique"
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
func (d UseCases) LabelsPDF(ctx context.Context, classID int64, base, sheetName string) ([]byte, error) {
	if err := d.Need(actor.See); err != nil {
		return nil, err
	}
	sheet, err := paper.LabelSheetNamed(sheetName)
	if err != nil {
		return nil, form.Problems{"": form.Sentence(err.Error())}
	}
	page, err := d.Kits(classID)
	if err != nil {
		return nil, err
	}
	var labels []paper.Label
	for _, b := range page.Bags {
		label := paper.Label{
			Name: b.Name, Class: page.Class.Name, Project: b.Project.Name,
			Sitting: fmt.Sprintf("Sits down as number %d, at %s", b.Sitting, paper.Isolated(b.Machine)),
			Link:    fmt.Sprintf("%s/classes/%d/cards/%d", base, classID, b.ID),
		}
		for _, item := range b.Items {
			whole := item.Item
			whole.Name = paper.Isolated(whole.Name)
			label.Lines = append(label.Lines, d.Say(whole.Whole()))
		}
		labels = append(labels, label)
	}
	if len(labels) == 0 {
		return nil, form.Problems{"": "There is no kit to label."}
	}
	return actor.Print(ctx, d.Actor, []any{"labels", labels, sheet}, func() ([]byte, error) {
		return paper.Labels(ctx, labels, sheet)
	})
}

// CutPDF prints the cut plans of a class.
func (d UseCases) CutPDF(ctx context.Context, classID int64, sheetName string) ([]byte, error) {
	if err := d.Need(actor.See); err != nil {
		return nil, err
	}
	sheet, err := actor.Sheet(sheetName)
	if err != nil {
		return nil, err
	}
	page, err := d.Shelf(classID)
	if err != nil {
		return nil, err
	}
	var plans []paper.CutPlan
	for _, c := range page.Cuts {
		names := map[string]string{}
		for i, p := range c.Pieces {
			names[fmt.Sprint(i)] = d.Say(kit.Item{As: p.As, Key: p.Key}.Say())
		}
		for _, bed := range c.Beds {
			plans = append(plans,
				paper.CutPlan{Class: page.Class.Name, Material: d.Say(c.Material), From: d.Say(bed.From()), WidthMM: bed.WidthMM,
					Layout: bed.Layout, Names: names, Units: d.Printer().Units})
		}
	}
	if len(plans) == 0 {
		return nil, form.Problems{"": "There is nothing to cut."}
	}
	return actor.Print(ctx, d.Actor, []any{"cut plans", plans, sheet}, func() ([]byte, error) {
		return paper.CutPlans(ctx, plans, sheet)
	})
}

// CardsPDF prints the step cards of a class: one page for each hooping.
func (d UseCases) CardsPDF(ctx context.Context, classID int64, sheetName string) ([]byte, error) {
	if err := d.Need(actor.See); err != nil {
		return nil, err
	}
	sheet, err := actor.Sheet(sheetName)
	if err != nil {
		return nil, err
	}
	page, err := d.StepCards(classID)
	if err != nil {
		return nil, err
	}
	var printed []paper.Card
	for _, c := range page.Cards {
		for n := range c.Sheets {
			printed = append(printed, d.printed(c, n))
		}
	}
	return actor.Print(ctx, d.Actor, []any{"cards", printed, sheet}, func() ([]byte, error) {
		pictures, err := d.stopPictures(page.Cards)
		if err != nil {
			return nil, err
		}
		for i := range printed {
			for k := range printed[i].Stops {
				stop := &printed[i].Stops[k]
				stop.Picture = pictures[stop.Of]
			}
		}
		return paper.Cards(ctx, printed, sheet)
	})
}

// stopAt names what lies in the hoop at a stop of a design.
func stopAt(d design.Design, stop int) string {
	seen := []picture.Seen{}
	if d.Altered {
		seen = actor.SeenAt(d, stop)
	}
	return fmt.Sprint(d.ID, d.Version, stop, seen)
}

// mostPrinted pictures of stops are printed for one class, pixelsPrinted large:
// a design of more stops than a page has room for is read by its colours.
const (
	mostPrinted   = 40
	pixelsPrinted = 200
)

// stopPictures draws the stops of what the cards sew, each once, on the ground
// that paper has not.
func (d UseCases) stopPictures(cards []card.Card) (map[string]image.Image, error) {
	pictures := map[string]image.Image{}
	for _, c := range cards {
		for _, s := range c.Sheets {
			if len(s.Stops) == 0 {
				continue
			}
			if _, drawn := pictures[stopAt(s.Design, s.Stops[0].N)]; drawn || len(pictures)+len(s.Stops) > mostPrinted {
				continue
			}
			pattern, err := d.Pattern(s.Design)
			if err != nil {
				return nil, err
			}
			for _, stop := range s.Stops {
				p, err := picture.UpTo(pattern, actor.SeenAt(s.Design, stop.N), pixelsPrinted)
				if err != nil {
					return nil, err
				}
				img, err := png.Decode(bytes.NewReader(p.Data))
				if err != nil {
					return nil, fmt.Errorf("reading the picture of stop %d of %s: %w", stop.N, s.Design.Name, err)
				}
				solid := image.NewRGBA(img.Bounds())
				draw.Draw(solid, solid.Bounds(), image.White, image.Point{}, draw.Src)
				draw.Draw(solid, solid.Bounds(), img, img.Bounds().Min, draw.Over)
				pictures[stopAt(s.Design, stop.N)] = solid
			}
		}
	}
	return pictures, nil
}

// lines are a technique's picture as paper draws it.
func lines(of technique.Picture, p say.Printer) paper.Drawing {
	d := paper.Drawing{Width: technique.PictureWidth, Height: technique.PictureHeight}
	for _, s := range of {
		d.Strokes = append(d.Strokes,
			paper.Stroke{Points: s.Points, Closed: s.Closed, Filled: s.Fill != "", Dashed: s.Style == technique.Dash,
				Dotted: s.Style == technique.Dot, Strong: s.Tone != technique.Soft, Word: p.Say(s.Word)})
	}
	return d
}

// notEmpty is a text in a list, unless there is none.
func notEmpty(text string) []string {
	if text == "" {
		return nil
	}
	return []string{text}
}

// printed is a hooping of a card, from 0, as paper shows it.
func (d UseCases) printed(c card.Card, n int) paper.Card {
	p := d.PrinterFor(c)
	c = c.Called(paper.Isolated)
	s := c.Sheets[n]
	made := paper.Card{
		Title:    p.Say(c.Title(n)),
		Class:    c.Class + ", " + p.Say(say.Day(c.StartsAt)),
		Setup:    strings.Join(p.Lines(s.Setup), " "),
		Restart:  strings.Join(p.Lines(s.Restart), " "),
		After:    p.Lines(c.After),
		Cautions: p.Lines(c.Cautions),
	}
	if c.Mark != nil && len(c.Mark.Outline) > 0 {
		made.Mark = &paper.CardMark{Outline: c.Mark.Outline, Seams: c.Mark.Seams, XMM: c.Mark.XMM, YMM: c.Mark.YMM,
			TurnDegrees: c.Mark.TurnDegrees, WidthMM: s.Design.WidthMM, HeightMM: s.Design.HeightMM}
	}
	if n == 0 && !c.Together.Silent() {
		made.Class += ". " + p.Say(c.Together)
	}
	if n == 0 && len(c.Ask) > 0 {
		made.Ask = p.Say(say.T("Ask the instructor first for: %s.", skill.Titles(c.Ask)))
	}
	for _, step := range c.Steps {
		if step.Key.Hooping() != s.N {
			continue
		}
		line := paper.CardStep{At: p.Say(say.Clock(step.Start)), Title: p.Say(step.Title),
			Note:    strings.Join(append(notEmpty(p.Say(step.Note)), p.Lines(step.Notes)...), " "),
			Caution: strings.Join(p.Lines(step.Cautions), " "), Marks: step.Key == pace.StepMark}
		if step.WithInstructor {
			line.Title += ", " + p.Say(say.T("with the instructor"))
		}
		for _, picture := range step.Pictures {
			line.Pictures = append(line.Pictures, lines(picture.Lines, p))
		}
		made.Steps = append(made.Steps, line)
		switch {
		case step.Key.Is(pace.StepLoad):
			made.Before = p.Lines(step.Checks)
		case step.Key == pace.StepMark:
			made.Steps[len(made.Steps)-1].Note = strings.Join(append(p.Lines(step.Checks), line.Note), ". ")
		default:
			made.Inspect = append(made.Inspect, p.Lines(step.Checks)...)
		}
	}
	for _, stop := range s.Stops {
		line := paper.CardStop{
			Title: p.Say(stop.Title()), Note: p.Say(stop.Note),
			Color:  color.RGBA{stop.Color.R, stop.Color.G, stop.Color.B, 0xff},
			Of:     stopAt(s.Design, stop.N),
			Before: strings.Join(p.Lines(stop.Before), " "), After: strings.Join(p.Lines(stop.After), " "),
		}
		if stop.SameThread {
			line.Note = p.Say(say.T("Same thread, no change. %s", stop.Note))
		}
		made.Stops = append(made.Stops, line)
	}
	return made
}
