// Package bundle reads the zip bought designs come in: of each, one stitch file
// for each format, and colour charts. Nothing in it is trusted: not its names,
// not the sizes it claims, not how many files it holds.
package bundle

import (
	"archive/zip"
	"bytes"
	"cmp"
	"errors"
	"fmt"
	"io"
	"math"
	"path"
	"slices"
	"strings"

	"chalkstep/core/stitch"
)

// Limits of a bundle. A real one holds a dozen files of some hundred kB.
const (
	MaxEntries  = 200
	MaxUnpacked = 64 << 20
	MaxDesigns  = 24
	maxChart    = 8 << 20
)

// A File is a stitch file of the bundle.
type File struct {
	Name     string
	Format   stitch.Format
	Data     []byte
	Pattern  *stitch.Pattern
	Analysis stitch.Analysis
}

// A Chart is a colour chart: text, PDF or picture.
type Chart struct {
	Name string
	Data []byte
}

// A Design is files that sew the same.
type Design struct {
	// Files has one file for each format, the best for a drawing first.
	Files []File
	// Disagreements says, in a sentence each, where files differ a little in
	// stitches or size.
	Disagreements []string
}

// A Bundle is what was found in a zip.
type Bundle struct {
	// Designs has at least one, those with a file that knows its colours first.
	Designs []Design
	Charts  []Chart
	// Skipped says, in a sentence each, what was left out and why.
	Skipped []string
}

// Is tells whether data begins as a zip does.
func Is(data []byte) bool { return bytes.HasPrefix(data, []byte("PK\x03\x04")) }

// Read takes a bundle in. A hostile zip, or one without a stitch file that
// can be read, is an error that says why.
func Read(data []byte) (Bundle, error) {
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		return Bundle{}, fmt.Errorf("the zip cannot be read: %w", err)
	}
	if len(z.File) > MaxEntries {
		return Bundle{}, fmt.Errorf("the zip holds %d files; a bundle holds %d at most", len(z.File), MaxEntries)
	}
	r := reader{left: MaxUnpacked}
	for _, entry := range z.File {
		if err := r.take(entry); err != nil {
			return Bundle{}, err
		}
	}
	if len(r.files) == 0 {
		if len(r.b.Skipped) > 0 {
			return Bundle{}, fmt.Errorf("no stitch file in the zip can be read. %s", strings.Join(r.b.Skipped, " "))
		}
		return Bundle{}, fmt.Errorf("the zip holds no stitch file: expected one of .%s", strings.Join(stitch.Names(), ", ."))
	}
	r.sort()
	if n := len(r.b.Designs); n > MaxDesigns {
		return Bundle{}, fmt.Errorf("the zip holds %d designs: add at most %d at a time", n, MaxDesigns)
	}
	return r.b, nil
}

// sort puts the files of one design together, the best for a drawing first.
func (r *reader) sort() {
	slices.SortStableFunc(r.files, func(a, b File) int { return cmp.Compare(rank(b), rank(a)) })
	for _, f := range r.files {
		i := slices.IndexFunc(r.b.Designs, func(d Design) bool { return alike(d.Files[0], f) })
		if i < 0 {
			r.b.Designs = append(r.b.Designs, Design{Files: []File{f}})
			continue
		}
		d := &r.b.Designs[i]
		if slices.ContainsFunc(d.Files, func(have File) bool { return have.Format.Name == f.Format.Name }) {
			r.b.Skipped = append(r.b.Skipped,
				fmt.Sprintf("%s is a second .%s file of %s; the first is kept.", f.Name, f.Format.Name, d.Files[0].Name))
			continue
		}
		d.Disagreements = append(d.Disagreements, disagreements(d.Files[0], f)...)
		d.Files = append(d.Files, f)
	}
}

// alike tells whether two files are of one design: converted, and perhaps tied
// and trimmed otherwise, but of much the same stitches and size.
func alike(a, b File) bool {
	const share, sizeMM = 0.1, 5
	few := max(10, int(share*float64(a.Analysis.Stitches)))
	return abs(a.Analysis.Stitches-b.Analysis.Stitches) <= few &&
		math.Abs(a.Analysis.WidthMM-b.Analysis.WidthMM) <= sizeMM &&
		math.Abs(a.Analysis.HeightMM-b.Analysis.HeightMM) <= sizeMM
}

// rank prefers files that know their colours, then those with more stops.
func rank(f File) int {
	n := len(f.Analysis.Stops)
	if f.Format.HasColors {
		n += 1 << 20
	}
	return n
}

// A reader takes entries in, and counts down what may still be unpacked.
type reader struct {
	b     Bundle
	files []File
	left  int64
}

func (r *reader) take(entry *zip.File) error {
	name := strings.ReplaceAll(entry.Name, `\`, "/")
	if strings.HasPrefix(name, "/") || slices.Contains(strings.Split(name, "/"), "..") {
		return fmt.Errorf("the zip names a file outside itself (%q): it is not a bundle to be trusted", entry.Name)
	}
	base := path.Base(name)
	if entry.FileInfo().IsDir() || strings.HasPrefix(base, ".") || strings.HasPrefix(name, "__") {
		return nil
	}
	extension := strings.TrimPrefix(strings.ToLower(path.Ext(base)), ".")
	switch {
	case extension == "zip":
		return errors.New("the zip holds another zip: unpack it and add the inner one")
	case slices.Contains(stitch.Names(), extension):
		data, err := r.unpack(entry, stitch.MaxBytes)
		if err != nil {
			return err
		}
		r.addStitches(base, data)
	case slices.Contains([]string{"txt", "pdf", "png", "jpg", "jpeg"}, extension):
		data, err := r.unpack(entry, maxChart)
		if err != nil {
			return err
		}
		r.b.Charts = append(r.b.Charts, Chart{base, data})
	default:
		r.b.Skipped = append(r.b.Skipped, fmt.Sprintf("%s is neither a stitch file nor a colour chart.", base))
	}
	return nil
}

// unpack reads an entry, never more than its limit and what is left of the
// bundle's, whatever size it claims.
func (r *reader) unpack(entry *zip.File, most int64) ([]byte, error) {
	content, err := entry.Open()
	if err != nil {
		return nil, fmt.Errorf("unpacking %s: %w", path.Base(entry.Name), err)
	}
	defer content.Close()
	most = min(most, r.left)
	data, err := io.ReadAll(io.LimitReader(content, most+1))
	if err != nil {
		return nil, fmt.Errorf("unpacking %s: %w", path.Base(entry.Name), err)
	}
	if int64(len(data)) > most {
		return nil, fmt.Errorf("unpacking %s: it unpacks to more than a bundle may hold", path.Base(entry.Name))
	}
	r.left -= int64(len(data))
	return data, nil
}

// addStitches keeps a file that can be read.
func (r *reader) addStitches(name string, data []byte) {
	pattern, format, err := stitch.Decode(name, data)
	if err != nil {
		text := err.Error()
		r.b.Skipped = append(r.b.Skipped, strings.ToUpper(text[:1])+text[1:]+".")
		return
	}
	r.files = append(r.files,
		File{Name: name, Format: format, Data: data, Pattern: pattern, Analysis: stitch.Analyse(pattern)})
}

// disagreements compares a file with the best one. A format's rounding and its
// ties may differ a little.
func disagreements(best, f File) []string {
	var found []string
	if few := max(10, best.Analysis.Stitches/100); abs(f.Analysis.Stitches-best.Analysis.Stitches) > few {
		found = append(found,
			fmt.Sprintf("%s has %d stitches and %s %d.", f.Name, f.Analysis.Stitches, best.Name, best.Analysis.Stitches))
	}
	if math.Abs(f.Analysis.WidthMM-best.Analysis.WidthMM) > 1 || math.Abs(f.Analysis.HeightMM-best.Analysis.HeightMM) > 1 {
		found = append(found,
			fmt.Sprintf("%s is %.0f × %.0f mm and %s %.0f × %.0f mm.", f.Name, f.Analysis.WidthMM, f.Analysis.HeightMM,
				best.Name, best.Analysis.WidthMM, best.Analysis.HeightMM))
	}
	return found
}

func abs(n int) int { return max(n, -n) }
