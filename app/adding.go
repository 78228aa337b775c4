package app

import (
	"crypto/sha256"
	"errors"
	"fmt"
	"path/filepath"
	"slices"
	"strings"
	"unicode"

	"chalkstep/core/stitch"
	"chalkstep/core/stitch/bundle"
	_ "chalkstep/core/stitch/dst" // formats the application reads
	_ "chalkstep/core/stitch/exp"
	_ "chalkstep/core/stitch/jef"
	_ "chalkstep/core/stitch/pes"
	"chalkstep/store"
)

// starterColors stand in where a file has no colours, until someone chooses.
var starterColors = []string{"#3f7695", "#b5533c", "#c08a2e", "#4f7d4a", "#6d5a8c", "#2f3f48", "#a8a08c", "#8c4a63"}

// AddDesign reads a stitch file and keeps it with what was found in it.
func (d Desk) AddDesign(fileName string, data []byte) (int64, error) {
	if err := d.mayChange(); err != nil {
		return 0, err
	}
	fileName = cleanFileName(fileName)
	if fileName == "" || len(data) == 0 {
		return 0, Problems{"file": "No file arrived. Choose a stitch file and add it again."}
	}
	design, err := readUpload(fileName, data)
	if err != nil {
		return 0, Problems{"file": Sentence(err.Error())}
	}
	sum := sha256.Sum256(design.Original)
	if twin, err := d.shop.DesignByContent(sum[:]); err == nil {
		return 0, Problems{"file": fmt.Sprintf("%s holds the same stitches as “%s”, which is here already.", fileName, twin.Name)}
	} else if !errors.Is(err, store.ErrNotFound) {
		return 0, err
	}
	if len(design.Files) == 0 {
		if id, joined, err := d.joinTwin(design); err != nil || joined {
			return id, err
		}
	}
	design.SHA256, design.AddedAt = sum[:], d.now
	if err := d.addUnderFreeName(&design); err != nil {
		return 0, err
	}
	return design.ID, nil
}

// joinTwin puts a single file whose stitches are here already, in another
// format, beside its twin; a file in a format the twin has is a duplicate.
func (d Desk) joinTwin(design store.Design) (id int64, joined bool, err error) {
	twin, err := d.shop.DesignByStitches(design.StitchesSHA256)
	if errors.Is(err, store.ErrNotFound) {
		return 0, false, nil
	}
	if err != nil {
		return 0, false, err
	}
	if slices.Contains(twin.Formats(), design.Format) {
		return 0, false, Problems{"file": fmt.Sprintf("%s holds the same stitches as “%s”, which is here already.", design.FileName, twin.Name)}
	}
	err = d.shop.AddDesignFile(&store.DesignFile{DesignID: twin.ID, Format: design.Format, FileName: design.FileName, Original: design.Original})
	return twin.ID, true, saved(err, design.FileName)
}

// readUpload makes a design of a stitch file, or of a bundle of them.
func readUpload(fileName string, data []byte) (store.Design, error) {
	if !bundle.Is(data) {
		pattern, format, err := stitch.Decode(fileName, data)
		if err != nil {
			return store.Design{}, err
		}
		design := newDesign(fileName, format.Name, pattern)
		design.Original = data
		return design, nil
	}
	b, err := bundle.Read(data)
	if err != nil {
		return store.Design{}, fmt.Errorf("reading %s: %w", fileName, err)
	}
	best := b.Files[0]
	design := newDesign(cleanFileName(best.Name), best.Format.Name, best.Pattern)
	design.Name, design.Original = designName(fileName), best.Data
	design.Warnings = slices.Concat(design.Warnings, b.Disagreements, b.Skipped)
	for _, f := range b.Files[1:] {
		design.Files = append(design.Files, store.DesignFile{Format: f.Format.Name, FileName: cleanFileName(f.Name), Original: f.Data})
	}
	for _, c := range b.Charts {
		design.Charts = append(design.Charts, store.DesignChart{FileName: cleanFileName(c.Name), Original: c.Data})
	}
	return design, nil
}

// addUnderFreeName adds the design; where its name is taken, a number makes
// it another.
func (d Desk) addUnderFreeName(design *store.Design) error {
	name := design.Name
	for n := 2; ; n++ {
		err := d.shop.AddDesign(design)
		if !errors.Is(err, store.ErrTaken) || n > 50 {
			return err
		}
		design.ID, design.Name = 0, fmt.Sprintf("%s %d", name, n)
	}
}

func newDesign(fileName, format string, p *stitch.Pattern) store.Design {
	a := stitch.Analyse(p)
	design := store.Design{
		Name: designName(fileName), FileName: fileName, Format: format,
		WidthMM: a.WidthMM, HeightMM: a.HeightMM, Stitches: a.Stitches, Jumps: a.Jumps, Trims: a.Trims, ColorChanges: a.ColorChanges,
		Warnings: a.Warnings, Coverage: stitch.Density(p.Moves).Mean(),
	}
	design.LetteringMM = stitch.LetteringMM(a)
	fingerprint := a.Fingerprint()
	design.StitchesSHA256 = fingerprint[:]
	lengths := stitch.LengthsOf(a)
	design.ShortStitches, design.LongStitches, design.NarrowestSatinMM = lengths.Short, lengths.Long, lengths.NarrowestSatinMM
	tolerance := drawingTolerance(len(p.Moves))
	for i, s := range a.Stops {
		color := starterColors[i%len(starterColors)]
		if s.Color != nil {
			color = s.Color.String()
		}
		design.Stops = append(design.Stops, store.DesignStop{
			N: s.N, Color: color, Role: string(s.Role), Stitches: s.Stitches, Jumps: s.Jumps, Trims: s.Trims, Snips: s.Snips,
			ThreadMM: s.ThreadMM, Coverage: stitch.Density(s.Moves).Mean(),
			LeftMM: s.Bounds.Left, BottomMM: s.Bounds.Bottom, RightMM: s.Bounds.Right, TopMM: s.Bounds.Top, Path: stitch.SVGPath(s.Moves, a.CentreX, a.CentreY, tolerance),
		})
	}
	return design
}

// drawingTolerance keeps a page's drawing light: a design of usual size is
// drawn to a tenth of a millimetre or two, a huge one more coarsely.
func drawingTolerance(moves int) float64 {
	const fine, usual = 1.0, 12_000
	return max(fine, fine*float64(moves)/usual)
}

// cleanFileName keeps the last part of a name that came from outside, without
// anything unprintable, and no longer than a page can show.
func cleanFileName(name string) string {
	name = filepath.Base(strings.ReplaceAll(name, `\`, "/"))
	name = strings.Map(func(r rune) rune {
		if unicode.IsPrint(r) && r != '/' {
			return r
		}
		return -1
	}, name)
	if runes := []rune(name); len(runes) > 80 {
		name = string(runes[len(runes)-80:])
	}
	if name == "." {
		return ""
	}
	return name
}

// stem is a file's name without its extension.
func stem(fileName string) string { return strings.TrimSuffix(fileName, filepath.Ext(fileName)) }

// designName makes words of a file name: rope-knot.dst is "Rope knot".
func designName(fileName string) string {
	name := strings.TrimSpace(strings.Map(func(r rune) rune {
		if r == '-' || r == '_' {
			return ' '
		}
		return r
	}, stem(fileName)))
	if name == "" {
		return "Design"
	}
	runes := []rune(name)
	runes[0] = unicode.ToUpper(runes[0])
	return string(runes)
}
