package actor

import (
	"fmt"

	"chalkstep/app/form"
	"chalkstep/core/classday"
	"chalkstep/paper"
)

// Unprintable says which characters of texts come out of the printer as
// boxes; it is empty when all can be printed.
func Unprintable(texts ...string) string {
	missing, err := paper.Unprintable(texts...)
	if err != nil || len(missing) == 0 {
		return "" // without fonts, printing says so itself
	}
	const most = 8
	var signs []string
	for _, r := range missing[:min(most, len(missing))] {
		signs = append(signs, fmt.Sprintf("“%c”", r))
	}
	if more := len(missing) - most; more > 0 {
		signs = append(signs, fmt.Sprintf("%d more characters", more))
	}
	return fmt.Sprintf("No font of print has %s: a box stands in its place on paper.", form.Listed(signs))
}

// Unprintable says what of a class's labels, cards and cut plans cannot be
// printed as it is written.
func (d Actor) Unprintable(p classday.Plan) string {
	texts := []string{p.Class.Name}
	for _, s := range p.Class.Places {
		texts = append(texts, s.Name)
	}
	for _, m := range p.Class.Machines {
		texts = append(texts, m.Name)
	}
	for _, w := range p.Works {
		texts = append(texts, w.Name, w.Blank.Name)
		for _, part := range w.Parts {
			texts = append(texts, part.Name)
		}
		for _, step := range w.Steps {
			texts = append(texts, d.Say(step.Title))
		}
		for _, l := range w.Layers {
			texts = append(texts, l.Tape)
		}
		for _, s := range w.Sewing {
			for _, stop := range s.Design.Stops {
				texts = append(texts, stop.Sews)
			}
		}
	}
	return Unprintable(texts...)
}

// PaperSizes names the sheets that can be printed on.
func PaperSizes() []string {
	var names []string
	for _, s := range paper.Sheets {
		names = append(names, s.Name)
	}
	return names
}

// Sheet finds the sheet a person chose to print on.
func Sheet(name string) (paper.Sheet, error) {
	sheet, err := paper.SheetNamed(name)
	if err != nil {
		return sheet, form.Problems{"": form.Sentence(err.Error())}
	}
	return sheet, nil
}
