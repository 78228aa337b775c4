package card

import (
	"slices"

	"chalkstep/core/classday"
	"chalkstep/core/pace"
	"chalkstep/core/recipe"
	"chalkstep/core/say"
	"chalkstep/core/stitch"
	"chalkstep/core/technique"
)

// pictures are those of the techniques that stand at a step, with where tape may
// lie in this hoop and which points meet in this hooping; notes go with them.
func pictures(w classday.Work, key pace.StepKey, sheet Sheet, r recipe.Recipe, notes []say.Text) ([]Picture,
	[]say.Text) {
	base, hooping := key.Base()
	notes = slices.Clone(notes)
	var drawn []Picture
	for _, t := range w.Techniques {
		if t.StandsAt() == base && (hooping == 1 || technique.EachHooping(base, w.Techniques)) {
			drawn = append(drawn, Picture{t.Name, t.Picture})
		}
	}
	e := w.Effects()
	if base == technique.BasteStep && sheet.Seat.Machine.Pedal {
		notes = append(notes, say.T("%s has a pedal: baste by it.", sheet.Seat.Machine.Name))
	}
	if base == pace.StepHoop && e.AtMarks {
		notes = append(notes, marks(sheet.Seat.Hoop))
	}
	if base == tapedAt(w) && r.Floats() {
		width, height := sheet.Design.WidthMM, sheet.Design.HeightMM
		if sheet.Seat.Fit.Turn != 0 {
			width, height = height, width
		}
		lines, says := technique.TapePicture(sheet.Seat.Hoop.Field, width, height)
		drawn, notes = append(drawn, Picture{say.T("Where tape may lie"), lines}), append(notes, says)
	}
	if base == pace.StepHoop && e.Joins {
		drawn = append(drawn,
			Picture{say.T("Where this hooping lies on the line"), technique.JoinPicture(hooping, len(w.Hoopings))})
		notes = append(notes, joins(hooping, len(w.Hoopings))...)
	}
	return drawn, notes
}

// tapedAt is the step at which the blank is taped: that of floating it, where a
// technique has one.
func tapedAt(w classday.Work) pace.StepKey {
	for _, t := range w.Techniques {
		switch {
		case t.Window:
			return pace.StepHoop
		case t.Group == technique.Floating && t.Floats:
			return t.StandsAt()
		}
	}
	return ""
}

// joins say which points meet in a hooping, from 1.
func joins(hooping, hoopings int) []say.Text {
	if hooping == 1 {
		return []say.Text{say.T(
			"This one lies in the middle of the line: the others follow to the right, then, turned round, to the left.")}
	}
	var texts []say.Text
	for _, j := range technique.JoinsOf(hooping, hoopings) {
		end := say.Word("right")
		if j.Left {
			end = "left"
		}
		texts = append(texts,
			say.T("At its %s end, points %s and %s meet those of hooping %s: both, so that the line goes straight on.", end,
				say.Count(j.Points[0]), say.Count(j.Points[1]), say.Count(j.With)))
	}
	return texts
}

// order says in which order the machine's stops are sewn, where that is not the
// file's, and which are skipped.
func order(w classday.Work, n int) []say.Text {
	e, stops := w.Effects(), w.Hoopings[n].Design.Sewn()
	ordered, skipped := technique.OrderOf(stops, e)
	var numbers, left say.List
	moved := false
	var why []say.Text
	for i, o := range ordered {
		numbers = append(numbers, say.Count(stops[o.Index].N))
		moved = moved || i > 0 && o.Index < ordered[i-1].Index
		if !o.Why.Silent() {
			why = append(why, say.T("Stop %s stands alone: %s.", say.Count(stops[o.Index].N), o.Why))
		}
	}
	for _, i := range skipped {
		left = append(left, say.Count(stops[i].N))
	}
	var texts []say.Text
	if moved {
		texts = append(texts, say.T("Sew the machine's stops in this order: %s.", numbers))
		texts = append(texts, why...)
	}
	if len(left) > 0 {
		texts = append(texts, say.T("Skip stop %s: only marks.", left))
	}
	return texts
}

// withTechniques adds what the techniques say before and after a stop of a role
// in a hooping, from 0.
func withTechniques(stop *Stop, w classday.Work, hooping int, role stitch.Role, last bool) {
	for _, t := range w.Techniques {
		// What is joined has another to meet, but for the last.
		ends := last && !(t.Joins && hooping == len(w.Hoopings)-1)
		for _, l := range t.Lines {
			switch {
			case l.Last && ends, l.Role != "" && l.Role == role && !l.Before:
				stop.After = append(stop.After, l.Text)
			case l.Role != "" && l.Role == role:
				stop.Before = append(stop.Before, l.Text)
			}
		}
	}
}
