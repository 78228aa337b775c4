package designs

import (
	"context"

	"chalkstep/app/desk"
	"chalkstep/core/stitch"
	"chalkstep/core/stitch/outline"
	"chalkstep/paper"
)

// TemplateFile prints a design at actual size as it lies on a machine: on
// sheets of paper as PDF, or in one piece as SVG where sheet is empty.
func (d Desk) TemplateFile(ctx context.Context, designID int64, in PlacingInput, sheet string) (fileName string, data []byte, err error) {
	if err := d.Need(desk.See); err != nil {
		return "", nil, err
	}
	page, err := d.Placing(designID, in)
	if err != nil {
		return "", nil, err
	}
	pattern, err := d.Pattern(page.Design)
	if err != nil {
		return "", nil, err
	}
	if page.In.Percent != 100 {
		pattern = stitch.Resized(pattern, page.In.Percent)
	}
	a := stitch.Analyse(pattern)
	t := paper.Template{Title: page.Design.Name, Hoop: page.Hoop.Name + " on " + page.Machine.Name, Turn: page.In.Turn, WidthMM: a.WidthMM, HeightMM: a.HeightMM, Outline: outline.Silhouette(a), Stitches: a.Lines()}
	name := desk.Stem(page.Design.FileName) + "-template"
	if sheet == "" {
		data, err = t.SVG()
		return name + ".svg", data, err
	}
	size, err := desk.Sheet(sheet)
	if err != nil {
		return "", nil, err
	}
	data, err = t.PDF(ctx, size)
	return name + ".pdf", data, err
}

// Unprintable says what of a template cannot be printed as it is written.
func (p PlacingPage) Unprintable() string {
	return desk.Unprintable(p.Design.Name, p.Machine.Name, p.Hoop.Name)
}
