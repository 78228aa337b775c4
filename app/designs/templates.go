package designs

import (
	"context"

	"chalkstep/app/actor"
	"chalkstep/paper"
)

// TemplateFile prints a design at actual size as it lies on a machine: on
// sheets of paper as PDF, or in one piece as SVG where sheet is empty.
func (d UseCases) TemplateFile(ctx context.Context, designID int64, in PlacingInput, sheet string) (fileName string,
	data []byte, err error) {
	if err := d.Need(actor.See); err != nil {
		return "", nil, err
	}
	page, err := d.Placing(designID, in)
	if err != nil {
		return "", nil, err
	}
	t := paper.Template{Title: page.Design.Name, Hoop: page.Hoop.Name + " on " + page.Machine.Name, Turn: page.In.Turn}
	return actor.PrintTemplate(ctx, d.Actor, t, page.Design, page.In.Percent, actor.Stem(page.Design.FileName)+"-template",
		sheet)
}

// Unprintable says what of a template cannot be printed as it is written.
func (p PlacingPage) Unprintable() string {
	return actor.Unprintable(p.Design.Name, p.Machine.Name, p.Hoop.Name)
}
