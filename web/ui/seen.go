package ui

import (
	"fmt"
	"strings"

	"chalkstep/app/actor"
	"chalkstep/core/design"
	"chalkstep/core/stitch"
	"chalkstep/core/stitch/picture"
)

// mostSeen stops stand in an address; a picture of more is that of the file.
const mostSeen = 150

// StopPicture is where a design is seen as it lies there while a stop is sewn.
func StopPicture(d design.Design, stop int) string {
	address := fmt.Sprintf("/designs/%d/stops/%d?v=%d", d.ID, stop, d.Version)
	if seen := actor.SeenAt(d, stop); d.Altered && len(seen) <= mostSeen {
		address += "&seen=" + written(seen)
	}
	return address
}

// written is stops with their threads as an address has them: "1-c23b2a.4-1f4f8b".
func written(seen []picture.Seen) string {
	parts := make([]string, len(seen))
	for i, s := range seen {
		parts[i] = fmt.Sprintf("%d-%s", s.Stop, strings.TrimPrefix(s.Color.String(), "#"))
	}
	return strings.Join(parts, ".")
}

// Seen reads stops with their threads from an address; what is none is left out.
func Seen(text string) []picture.Seen {
	var seen []picture.Seen
	for part := range strings.SplitSeq(text, ".") {
		n, hex, _ := strings.Cut(part, "-")
		color, err := stitch.ParseRGB("#" + hex)
		if stop := Small(n); err == nil && stop > 0 && len(seen) < mostSeen {
			seen = append(seen, picture.Seen{Stop: stop, Color: color})
		}
	}
	return seen
}
