package design

import (
	"fmt"
	"path"
	"slices"
	"strings"
	"time"

	"chalkstep/core/pace"
	"chalkstep/core/stitch"
)

// An Original is a file as it came. A colour chart has no format.
type Original struct {
	Format, Name string
	Data         []byte
}

// As gives the design in a format: its file in that format as it came, or the
// first of its files, which is the one that is drawn, converted, in the threads
// that were chosen.
func (d Design) As(files []Original, format string) (Original, error) {
	if i := slices.IndexFunc(files, func(f Original) bool { return f.Format == format }); i >= 0 {
		return files[i], nil
	}
	return d.converted(files, format, func(p *stitch.Pattern) *stitch.Pattern { return p })
}

// Turned is [Design.As] with the design turned by a quarter.
func (d Design) Turned(files []Original, format string) (Original, error) {
	return d.converted(files, format, stitch.QuarterTurned)
}

func (d Design) converted(files []Original, format string, change func(*stitch.Pattern) *stitch.Pattern) (Original,
	error) {
	if len(files) == 0 {
		return Original{}, fmt.Errorf("converting to .%s: there is no file", format)
	}
	drawn := files[0]
	pattern, _, err := stitch.Decode(drawn.Name, drawn.Data)
	if err != nil {
		return Original{}, err
	}
	if colors := d.Colors(); len(colors) == len(pattern.Colors) || len(pattern.Colors) == 0 {
		pattern.Colors = colors
	}
	as := Original{Format: format, Name: strings.TrimSuffix(drawn.Name, path.Ext(drawn.Name)) + "." + format}
	as.Data, err = stitch.Encode(as.Name, change(pattern))
	return as, err
}

// An Upload is a design as it arrives, with its files.
type Upload struct {
	Design
	// Data is the file that is drawn, SHA256 its hash; StitchesSHA256 is of the
	// stitches alone, whatever file they came in.
	Data                   []byte
	SHA256, StitchesSHA256 [32]byte
	// Others are the same design in other formats, Papers its colour charts.
	Others, Papers []Original
}

// A PictureKind is a size at which a design is seen.
type PictureKind string

// The kinds of picture.
const (
	Thumb   PictureKind = "thumb"
	Drawing PictureKind = "drawing"
)

// A Picture is a design as it is seen at a size.
type Picture struct {
	Kind      PictureKind
	MediaType string
	Data      []byte
}

// A StitchOut is one sewing of a design as it really went.
type StitchOut struct {
	ID        int64
	DesignID  int64
	MachineID int64
	// Machine is its name, By that of who logged it.
	Machine, By    string
	SewnOn         time.Time
	Fabric, Recipe string
	Minutes        float64
	// ThreadMetres is top thread, 0 where nobody measured it.
	ThreadMetres float64
	WentWrong    string
	// EstimatedMinutes and EstimatedSewing are what the figures said when it
	// was logged; PathMM and Ends are what thread is estimated from.
	EstimatedMinutes, EstimatedSewing float64
	// SewnMinutes is what of the minutes was sewing, as far as can be told.
	SewnMinutes float64
	PathMM      float64
	Ends        int
	// Breaks of the thread, nil where nobody counted; Stitches is how many it was.
	Breaks   *int
	Stitches int
	// PhotoSize in pixels, zero without a photo.
	PhotoSize [2]int
	// Test tells that it was sewn as the test of a project, nil where it was not.
	Test *Test
}

// A Test says what a project was made by when it was tested, and what was
// changed after it.
type Test struct {
	ProjectID       int64
	MadeAs, Changed string
}

// Said is a stitch-out with what the figures said of it.
func (d Design) Said(run StitchOut, said pace.StitchOut) StitchOut {
	run.DesignID, run.EstimatedMinutes, run.EstimatedSewing, run.SewnMinutes = d.ID, said.Total, said.Sewing,
		pace.Sewn(run.Minutes, said)
	run.Stitches = d.Stitches
	for _, s := range d.Stops {
		run.PathMM += s.ThreadMM
		run.Ends += s.Trims + 1
	}
	return run
}

// OffPercent is how much longer than estimated it took, below 0 for shorter.
func (s StitchOut) OffPercent() float64 { return (s.Minutes/s.EstimatedMinutes - 1) * 100 }
