package designs

import (
	"crypto/sha256"
	"errors"
	"fmt"
	"path/filepath"
	"slices"
	"strings"
	"unicode"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/design"
	"chalkstep/core/stitch"
	"chalkstep/core/stitch/bundle"

	_ "chalkstep/core/stitch/dst"

	// formats the application reads
	_ "chalkstep/core/stitch/exp"

	_ "chalkstep/core/stitch/jef"

	_ "chalkstep/core/stitch/pes"
	"chalkstep/store"
)

// AddDesign reads a stitch file and keeps it with what was found in it.
func (d UseCases) AddDesign(fileName string, data []byte) (int64, error) {
	if err := d.Need(actor.ChangeDesigns); err != nil {
		return 0, err
	}
	fileName = cleanFileName(fileName)
	if fileName == "" || len(data) == 0 {
		return 0, form.Problems{"file": "No file arrived. Choose a stitch file and add it again."}
	}
	uploads, err := readUpload(fileName, data)
	if err != nil {
		return 0, form.Problems{"file": form.Sentence(err.Error())}
	}
	pictures := make([][]design.Picture, len(uploads))
	for i := range uploads {
		u := &uploads[i]
		u.SHA256, u.AddedAt = sha256.Sum256(u.Data), d.Now
		if pictures[i], err = picturesOf(u.pattern, u.Design); err != nil {
			return 0, err
		}
	}
	return actor.Once(d, func(d UseCases) (int64, error) { return d.keepDesigns(uploads, pictures) })
}

// An upload is a design as it arrives, with its stitches.
type upload struct {
	design.Upload
	pattern *stitch.Pattern
}

// keepDesigns adds the designs that came in one file, and gives the first of
// them. One that is here already keeps none of the others out; when all are, that
// is a problem.
func (d UseCases) keepDesigns(uploads []upload, pictures [][]design.Picture) (first int64, err error) {
	var problem form.Problems
	for i, u := range uploads {
		id, err := d.keepDesign(u.Upload, pictures[i])
		var here form.Problems
		switch {
		case len(uploads) > 1 && errors.As(err, &here):
			problem = here
		case err != nil:
			return 0, err
		case first == 0:
			first = id
		}
	}
	if first == 0 && problem != nil {
		return 0, problem
	}
	return first, nil
}

// keepDesign adds a design, or finds that it is here already: joined to a
// twin, or back on the list it had been taken off.
func (d UseCases) keepDesign(upload design.Upload, pictures []design.Picture) (int64, error) {
	duplicate := func(name string) error {
		return form.Problems{"file": fmt.Sprintf("%s holds the same stitches as “%s”, which is here already.",
			upload.FileName, name)}
	}
	twin, err := d.Workshop.DesignByContent(upload.SHA256)
	if err == nil {
		if twin.RetiredAt == nil {
			return 0, duplicate(twin.Name)
		}
		return twin.ID, d.relist(twin.ID)
	}
	if !errors.Is(err, store.ErrNotFound) {
		return 0, err
	}
	if len(upload.Others) == 0 {
		if id, joined, err := d.joinTwin(upload); err != nil || joined {
			return id, err
		}
	}
	id, err := d.addUnderFreeName(upload)
	if err != nil {
		if errors.Is(err, store.ErrTaken) {
			return 0, duplicate("another design") // added by someone else at this moment
		}
		return 0, form.Saved(err, upload.Name)
	}
	return id, d.Workshop.KeepPictures(id, pictures...)
}

// joinTwin puts a single file whose stitches are here already, in another
// format, beside its twin; a file in a format the twin has is a duplicate.
func (d UseCases) joinTwin(upload design.Upload) (id int64, joined bool, err error) {
	twin, err := d.Workshop.DesignByStitches(upload.StitchesSHA256)
	if errors.Is(err, store.ErrNotFound) {
		return 0, false, nil
	}
	if err != nil {
		return 0, false, err
	}
	if slices.Contains(twin.Formats(), upload.Format) {
		return 0, false, form.Problems{"file": fmt.Sprintf("%s holds the same stitches as “%s”, which is here already.",
			upload.FileName, twin.Name)}
	}
	err = d.Workshop.AddDesignFile(twin.ID,
		design.Original{Format: upload.Format, Name: upload.FileName, Data: upload.Data})
	return twin.ID, true, form.Saved(err, upload.FileName)
}

// readUpload makes a design of a stitch file, or the designs of a bundle of
// them, the names of which come from the bundle when it holds a single one.
func readUpload(fileName string, data []byte) ([]upload, error) {
	if !bundle.Is(data) {
		pattern, format, err := stitch.Decode(fileName, data)
		if err != nil {
			return nil, err
		}
		return []upload{{newUpload(fileName, format.Name, data, pattern), pattern}}, nil
	}
	b, err := bundle.Read(data)
	if err != nil {
		return nil, fmt.Errorf("reading %s: %w", fileName, err)
	}
	var uploads []upload
	for i, found := range b.Designs {
		best := found.Files[0]
		u := newUpload(cleanFileName(best.Name), best.Format.Name, best.Data, best.Pattern)
		warnings := found.Disagreements
		if len(b.Designs) == 1 {
			u.Name = designName(fileName)
		}
		if i == 0 { // what came with them all stands with the first
			warnings = slices.Concat(warnings, b.Skipped)
			for _, c := range b.Charts {
				u.Papers = append(u.Papers, design.Original{Name: cleanFileName(c.Name), Data: c.Data})
			}
			for _, other := range b.Designs[1:] {
				warnings = append(warnings,
					fmt.Sprintf("The zip held another design, too, which is listed by itself: %s.", other.Files[0].Name))
			}
		}
		for _, w := range warnings {
			u.Warnings = append(u.Warnings, form.Shortened(form.Cleaned(w), form.LongestNote))
		}
		u.Warnings = u.Warnings[:min(100, len(u.Warnings))]
		for _, f := range found.Files[1:] {
			u.Others = append(u.Others, design.Original{Format: f.Format.Name, Name: cleanFileName(f.Name), Data: f.Data})
		}
		uploads = append(uploads, upload{u, best.Pattern})
	}
	return uploads, nil
}

// addUnderFreeName adds the design; where its name is taken, a number makes
// it another.
func (d UseCases) addUnderFreeName(upload design.Upload) (int64, error) {
	name := upload.Name
	for n := 2; ; n++ {
		id, err := d.Workshop.AddDesign(upload)
		if !errors.Is(err, store.ErrTaken) || n > mostNumbered {
			return id, err
		}
		upload.Name = numbered(name, n)
	}
}

const mostNumbered = 50

// numbered is a name with a number that makes it another.
func numbered(name string, n int) string {
	number := fmt.Sprintf(" %d", n)
	return form.Shortened(name, form.LongestName-len(number)) + number
}

func newUpload(fileName, format string, data []byte, p *stitch.Pattern) design.Upload {
	a := stitch.Analyse(p)
	upload := design.Upload{Design: design.From(p, a), Data: data, StitchesSHA256: a.Fingerprint()}
	upload.Name, upload.FileName, upload.Format, upload.Warnings = designName(fileName), fileName, format, warningsOf(a)
	return upload
}

// warningsOf lists what the reader warns of, without end but on a page.
func warningsOf(a stitch.Analysis) []string {
	const most = 20
	var texts []string
	for _, w := range a.Warnings[:min(most, len(a.Warnings))] {
		texts = append(texts, form.Shortened(form.Cleaned(w), form.LongestNote))
	}
	return texts
}

// cleanFileName keeps the last part of a name that came from outside, without
// anything unprintable, and no longer than a page can show.
func cleanFileName(name string) string {
	name = filepath.Base(strings.ReplaceAll(name, `\`, "/"))
	name = strings.Map(func(r rune) rune {
		if unicode.IsPrint(r) && r != '/' && !form.TurnsDirection(r) {
			return r
		}
		return -1
	}, form.Cleaned(name))
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
	}, actor.Stem(fileName)))
	if name == "" {
		return "Design"
	}
	runes := []rune(name)
	runes[0] = unicode.ToUpper(runes[0])
	return string(runes)
}
