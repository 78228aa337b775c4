package projects

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/blank"
	"chalkstep/core/say"
	"chalkstep/paper"
)

// MarkTemplate prints what is laid on the blank of a project to mark it, at
// actual size: the design with the edges of the blank that lie near, for a size
// where the blank comes in sizes. On sheets of paper as PDF, or in one piece as
// SVG where sheet is empty.
func (d UseCases) MarkTemplate(ctx context.Context, id int64, size, sheet string) (fileName string, data []byte,
	err error) {
	if err := d.Need(actor.See); err != nil {
		return "", nil, err
	}
	p, err := d.Workshop.Project(id)
	if err != nil {
		return "", nil, err
	}
	title := p.Name
	if p.Sized() {
		if size = cmp.Or(size, p.Blank.Size); !slices.Contains(blank.Sizes, size) {
			return "", nil, actor.NotFound("the size %q", form.Shortened(form.Cleaned(size), 20))
		}
		title += ", size " + size
	}
	mark, err := p.MarkAt(size)
	if err != nil {
		return "", nil, d.Mendable(err)
	}
	var measures []string
	for _, m := range mark.Measures {
		measures = append(measures, d.Say(say.T("%s from %s to %s", say.MM(m.MM), m.From, m.To)))
	}
	t := paper.Template{Title: title, Note: strings.Join(measures, ", ") + ".",
		Edges: mark.EdgesNear(p.Design().WidthMM, p.Design().HeightMM)}
	name := actor.Stem(p.Design().FileName) + "-mark"
	if p.Sized() {
		name += "-" + strings.ReplaceAll(size, " ", "-")
	}
	return actor.PrintTemplate(ctx, d.Actor, t, p.Design(), 100, name, sheet)
}
