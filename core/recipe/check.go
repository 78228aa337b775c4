package recipe

import "chalkstep/core/say"

// BeforeStart is what is looked at before the start button is pressed
// (handbook, Before the start button).
func (r Recipe) BeforeStart() []say.Text {
	start := say.T("Needle over the template's cross")
	if r.StartLine == startMarks {
		start = say.T("Needle over the hoop's marks, corrected for this hoop")
	}
	list := []say.Text{
		say.T("The right hoop told to the machine"), start, say.T("Corners traced, nothing under the hoop"),
		say.T("Bobbin full, thread in the tension discs, foot down"),
	}
	list = append(list, r.Before...)
	if r.Over != nil {
		list = append(list, say.T("Topper over the whole design"))
	}
	return append(list, say.T("Hold the thread tail for three stitches"))
}
