package designs

import (
	"crypto/sha256"
	"errors"
	"fmt"
	"path/filepath"
	"slices"
	"strings"
	"unicode"

	"chalkstep/app/desk"
	"chalkstep/core/design"
	"chalkstep/core/stitch"
	"chalkstep/core/stitch/bundle"
	_ "chalkstep/core/stitch/dst" // formats the application reads
	_ "chalkstep/core/stitch/exp"
	_ "chalkstep/core/stitch/jef"
	_ "chalkstep/core/stitch/pes"
	"chalkstep/store"
)

// AddDesign reads a stitch file and keeps it with what was found in it.
func (d Desk) AddDesign(fileName string, data []byte) (int64, error) {
	if err := d.Need(desk.ChangeDesigns); err != nil {
		return 0, err
	}
	fileName = cleanFileName(fileName)
	if fileName == "" || len(data) == 0 {
		return 0, desk.Problems{"file": "No file arrived. Choose a stitch file and add it again."}
	}
	design, pattern, err := readUpload(fileName, data)
	if err != nil {
		return 0, desk.Problems{"file": desk.Sentence(err.Error())}
	}
	sum := sha256.Sum256(design.Original)
	design.SHA256, design.AddedAt = sum[:], d.Now
	pictures, err := picturesOf(pattern, design.Value())
	if err != nil {
		return 0, err
	}
	return desk.Once(d, func(d Desk) (int64, error) { return d.keepDesign(design, pictures) })
}

// keepDesign adds a design, or finds that it is here already: joined to a
// twin, or back on the list it had been taken off.
func (d Desk) keepDesign(design store.Design, pictures []store.DesignPicture) (int64, error) {
	duplicate := func(name string) error {
		return desk.Problems{"file": fmt.Sprintf("%s holds the same stitches as “%s”, which is here already.", design.FileName, name)}
	}
	twin, err := d.Shop.DesignByContent(design.SHA256)
	if err == nil {
		if twin.RetiredAt == nil {
			return 0, duplicate(twin.Name)
		}
		return twin.ID, d.relist(twin.ID)
	}
	if !errors.Is(err, store.ErrNotFound) {
		return 0, err
	}
	if len(design.Files) == 0 {
		if id, joined, err := d.joinTwin(design); err != nil || joined {
			return id, err
		}
	}
	if err := d.addUnderFreeName(&design); err != nil {
		if errors.Is(err, store.ErrTaken) {
			return 0, duplicate("another design") // added by someone else at this moment
		}
		return 0, desk.Saved(err, design.Name)
	}
	for i := range pictures {
		pictures[i].DesignID = design.ID
	}
	return design.ID, d.Shop.KeepPictures(pictures...)
}

// joinTwin puts a single file whose stitches are here already, in another
// format, beside its twin; a file in a format the twin has is a duplicate.
func (d Desk) joinTwin(design store.Design) (id int64, joined bool, err error) {
	twin, err := d.Shop.DesignByStitches(design.StitchesSHA256)
	if errors.Is(err, store.ErrNotFound) {
		return 0, false, nil
	}
	if err != nil {
		return 0, false, err
	}
	if slices.Contains(twin.Value().Formats(), design.Format) {
		return 0, false, desk.Problems{"file": fmt.Sprintf("%s holds the same stitches as “%s”, which is here already.", design.FileName, twin.Name)}
	}
	err = d.Shop.AddDesignFile(&store.DesignFile{DesignID: twin.ID, Format: design.Format, FileName: design.FileName, Original: design.Original})
	return twin.ID, true, desk.Saved(err, design.FileName)
}

// readUpload makes a design of a stitch file, or of a bundle of them.
func readUpload(fileName string, data []byte) (store.Design, *stitch.Pattern, error) {
	if !bundle.Is(data) {
		pattern, format, err := stitch.Decode(fileName, data)
		if err != nil {
			return store.Design{}, nil, err
		}
		design := newDesign(fileName, format.Name, pattern)
		design.Original = data
		return design, pattern, nil
	}
	b, err := bundle.Read(data)
	if err != nil {
		return store.Design{}, nil, fmt.Errorf("reading %s: %w", fileName, err)
	}
	best := b.Files[0]
	design := newDesign(cleanFileName(best.Name), best.Format.Name, best.Pattern)
	design.Name, design.Original = designName(fileName), best.Data
	for _, w := range slices.Concat(b.Disagreements, b.Skipped) {
		design.Warnings = append(design.Warnings, desk.Shortened(desk.Cleaned(w), desk.LongestNote))
	}
	design.Warnings = design.Warnings[:min(100, len(design.Warnings))]
	for _, f := range b.Files[1:] {
		design.Files = append(design.Files, store.DesignFile{Format: f.Format.Name, FileName: cleanFileName(f.Name), Original: f.Data})
	}
	for _, c := range b.Charts {
		design.Charts = append(design.Charts, store.DesignChart{FileName: cleanFileName(c.Name), Original: c.Data})
	}
	return design, best.Pattern, nil
}

// addUnderFreeName adds the design; where its name is taken, a number makes
// it another.
func (d Desk) addUnderFreeName(design *store.Design) error {
	name := design.Name
	for n := 2; ; n++ {
		err := d.Shop.AddDesign(design)
		if !errors.Is(err, store.ErrTaken) || n > mostNumbered {
			return err
		}
		design.ID, design.Name = 0, numbered(name, n)
	}
}

const mostNumbered = 50

// numbered is a name with a number that makes it another.
func numbered(name string, n int) string {
	number := fmt.Sprintf(" %d", n)
	return desk.Shortened(name, desk.LongestName-len(number)) + number
}

func newDesign(fileName, format string, p *stitch.Pattern) store.Design {
	a := stitch.Analyse(p)
	found := design.From(p, a)
	row := store.DesignRow(found)
	row.Name, row.FileName, row.Format, row.Warnings = designName(fileName), fileName, format, warningsOf(a)
	fingerprint := a.Fingerprint()
	row.StitchesSHA256 = fingerprint[:]
	return row
}

// warningsOf lists what the reader warns of, without end but on a page.
func warningsOf(a stitch.Analysis) store.Texts {
	const most = 20
	var texts store.Texts
	for _, w := range a.Warnings[:min(most, len(a.Warnings))] {
		texts = append(texts, desk.Shortened(desk.Cleaned(w), desk.LongestNote))
	}
	return texts
}

// cleanFileName keeps the last part of a name that came from outside, without
// anything unprintable, and no longer than a page can show.
func cleanFileName(name string) string {
	name = filepath.Base(strings.ReplaceAll(name, `\`, "/"))
	name = strings.Map(func(r rune) rune {
		if unicode.IsPrint(r) && r != '/' && !desk.TurnsDirection(r) {
			return r
		}
		return -1
	}, desk.Cleaned(name))
	if runes := []rune(name); len(runes) > 80 {
		name = string(runes[len(runes)-80:])
	}
	if name == "." {
		return ""
	}
	return name
}

// designName makes words of a file name: rope-knot.dst is "Rope knot".
func designName(fileName string) string {
	name := strings.TrimSpace(strings.Map(func(r rune) rune {
		if r == '-' || r == '_' {
			return ' '
		}
		return r
	}, desk.Stem(fileName)))
	if name == "" {
		return "Design"
	}
	runes := []rune(name)
	runes[0] = unicode.ToUpper(runes[0])
	return string(runes)
}
