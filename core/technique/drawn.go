package technique

import (
	"math"

	"chalkstep/core/hoop"
	"chalkstep/core/say"
)

// FootMM is the way that the foot needs round the stitching, and TapeMM how
// wide a strip of tape is: figures of ours.
const (
	FootMM = 12.0
	TapeMM = 12.0
)

// A Zone of a hoop, in millimetres from its middle, y up.
type Zone struct{ Left, Bottom, Right, Top float64 }

// TapeZones are where tape may lie in a hoop: outside the stitching and outside
// the way of the foot, on each side where that leaves room for a strip; and how
// many sides have none. widthMM and heightMM are of the design as it lies.
func TapeZones(field hoop.Field, widthMM, heightMM float64) (zones []Zone, without int) {
	w, h := field.WidthMM/2, field.HeightMM/2
	dx, dy := widthMM/2+FootMM, heightMM/2+FootMM
	for _, z := range []Zone{{-w, -h, -dx, h}, {dx, -h, w, h}, {-min(dx, w), dy, min(dx, w), h},
		{-min(dx, w), -h, min(dx, w), -dy}} {
		if z.Right-z.Left >= TapeMM-1e-9 && z.Top-z.Bottom >= TapeMM-1e-9 {
			zones = append(zones, z)
		} else {
			without++
		}
	}
	return zones, without
}

// TapePicture draws where tape may lie, to the scale of the hoop, and says it.
func TapePicture(field hoop.Field, widthMM, heightMM float64) (Picture, say.Text) {
	zones, without := TapeZones(field, widthMM, heightMM)
	scale := min((PictureWidth-12)/field.WidthMM, (PictureHeight-12)/field.HeightMM)
	at := func(z Zone) Stroke {
		return box(Ink, PictureWidth/2+z.Left*scale, PictureHeight/2-z.Top*scale, (z.Right-z.Left)*scale,
			(z.Top-z.Bottom)*scale)
	}
	frame := at(Zone{-field.WidthMM / 2, -field.HeightMM / 2, field.WidthMM / 2, field.HeightMM / 2})
	frame.Fill = "sheet"
	p := Picture{frame}
	for _, z := range zones {
		s := at(z)
		s.Tone, s.Fill = Ochre, "tape"
		p = append(p, s)
	}
	foot := at(Zone{-widthMM/2 - FootMM, -heightMM/2 - FootMM, widthMM/2 + FootMM, heightMM/2 + FootMM})
	foot.Tone, foot.Style = Brick, Dash
	sewn := at(Zone{-widthMM / 2, -heightMM / 2, widthMM / 2, heightMM / 2})
	sewn.Tone, sewn.Fill = Blue, "cloth"
	p = append(p, foot, sewn, cross(PictureWidth/2, PictureHeight/2, 5))
	switch without {
	case 0:
		return p, say.T("Tape only where it is shaded: %s outside the stitching, out of the way of the foot.", say.MM(FootMM))
	case 4:
		return p, say.T("This hoop leaves no room for tape beside the foot: hold it by adhesive or a basting line.")
	}
	return p, say.T("Tape only where it is shaded, on %s: the others leave no room beside the foot.",
		say.N{N: 4 - without, Noun: "side"})
}

// Along are the places of joined hoopings on their line, from 0 at the left, in
// the order in which they are sewn: the middle first, then to the right, then,
// turned round, to the left.
func Along(hoopings int) []int {
	middle := (hoopings - 1) / 2
	places := []int{middle}
	for i := middle + 1; i < hoopings; i++ {
		places = append(places, i)
	}
	for i := middle - 1; i >= 0; i-- {
		places = append(places, i)
	}
	return places[:hoopings]
}

// A Join is where two hoopings meet: the points that meet by their numbers, and
// the hooping that they meet, from 1 in the order of sewing.
type Join struct {
	Points [2]int
	With   int
	// Left tells that they are at the left end of the hooping that asks.
	Left bool
}

// JoinsOf are the joins of the nth of some hoopings, from 1, with those that
// were sewn before it.
func JoinsOf(n, hoopings int) []Join {
	places := Along(hoopings)
	var joins []Join
	for m := 1; m < n; m++ {
		switch places[m-1] - places[n-1] {
		case -1:
			joins = append(joins, Join{Points: numbered(places[m-1]), With: m, Left: true})
		case 1:
			joins = append(joins, Join{Points: numbered(places[n-1]), With: m})
		}
	}
	return joins
}

// numbered are the points of the join to the right of a place.
func numbered(place int) [2]int { return [2]int{2*place + 1, 2*place + 2} }

// JoinPicture draws the line of hoopings with the nth strong, from 1, and the
// numbers of the points where it meets its neighbours.
func JoinPicture(n, hoopings int) Picture {
	const margin, gap = 8.0, 6.0
	wide := (PictureWidth - 2*margin) / float64(hoopings)
	high := min(52, wide*1.2)
	top := (PictureHeight - high) / 2
	var p Picture
	for k, place := range Along(hoopings) {
		x := margin + float64(place)*wide
		s := box(Soft, x, top, wide, high)
		switch {
		case k+1 == n:
			s.Tone, s.Fill = Ink, "cloth"
		case k+1 < n:
			s.Fill = "sheet"
		default:
			s.Style = Dash
		}
		p = append(p, s, label(x+wide/2-2, top+high/2+4, say.Word(number(k+1))))
	}
	place := Along(hoopings)[n-1]
	for _, end := range []int{place - 1, place} {
		if end < 0 || end >= hoopings-1 {
			continue
		}
		x := margin + float64(end+1)*wide
		points := numbered(end)
		p = append(p, cross(x, top+gap, 4), cross(x, top+high-gap, 4), label(x-3, top-4, say.Word(number(points[0]))),
			label(x-3, top+high+13, say.Word(number(points[1]))))
	}
	return p
}

// number writes a small one.
func number(n int) string { return say.Plain.Say(say.Count(n)) }

// Blocks is how many blocks a sheet serves where nobody said: a figure of ours.
const Blocks = 4

// A Saving is what a window saves against a sheet and a hooping for each block.
type Saving struct {
	Blocks, Sheets, SheetsEach int
	// MinutesEach is what one block takes less.
	MinutesEach float64
}

// SavingOf works out what a window saves for so many blocks, each sheet serving
// some; hoopMinutes and stabiliseMinutes are of a hooping of its own.
func SavingOf(sets, blocks int, hoopMinutes, stabiliseMinutes float64) Saving {
	blocks = max(1, blocks)
	share := 0.0
	t, _ := ByKey("window")
	for _, s := range t.Steps {
		minutes := s.Minutes
		if s.Shared {
			minutes /= float64(blocks)
		}
		share += minutes
	}
	return Saving{Blocks: blocks, Sheets: int(math.Ceil(float64(sets) / float64(blocks))), SheetsEach: sets,
		MinutesEach: hoopMinutes + stabiliseMinutes - share}
}
