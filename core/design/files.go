package design

import "time"

// An Original is a file as it came. A colour chart has no format.
type Original struct {
	Format, Name string
	Data         []byte
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
	// PhotoSize in pixels, zero without a photo.
	PhotoSize [2]int
}

// OffPercent is how much longer than estimated it took, below 0 for shorter.
func (s StitchOut) OffPercent() float64 { return (s.Minutes/s.EstimatedMinutes - 1) * 100 }
