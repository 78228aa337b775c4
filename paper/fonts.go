package paper

import (
	"bufio"
	"embed"
	"errors"
	"fmt"
	"strconv"
	"strings"
	"sync"
	"unicode"
	"unicode/utf8"

	"github.com/tdewolff/canvas"
)

// What the build collects: the text face, faces for the scripts it has not,
// and which characters each file is meant for.
//
//go:embed all:fonts
var fontFiles embed.FS

// faces are the fonts of print, the text face first. A character is written in
// the first that has it.
type faces struct {
	files []*fontFile
	// known remembers where characters were found.
	known sync.Map // rune → *fontFile, nil for none
}

// A fontFile is a font that is read when it is first needed.
type fontFile struct {
	// weights are the files of the regular and, where there is one, the bold.
	weights []string
	ranges  *unicode.RangeTable
	family  func() (*canvas.FontFamily, error)
}

// shipped are the fonts that ship with the program.
var shipped = sync.OnceValues(func() (*faces, error) {
	index, err := fontFiles.Open("fonts/index.txt")
	if err != nil {
		return nil, fmt.Errorf("this binary was built without its print fonts: run make build: %w", err)
	}
	defer index.Close()
	f := &faces{}
	for lines := bufio.NewScanner(index); lines.Scan(); {
		names, ranges, _ := strings.Cut(lines.Text(), " ")
		file := &fontFile{weights: strings.Split(names, ",")}
		if file.ranges, err = parseRanges(ranges); err != nil {
			return nil, fmt.Errorf("reading the index of the print fonts: %s: %w", names, err)
		}
		file.family = sync.OnceValues(file.load)
		f.files = append(f.files, file)
	}
	if len(f.files) == 0 {
		return nil, errors.New("this binary was built without its print fonts: run make build")
	}
	return f, nil
})

// parseRanges reads "0370-0377,037A".
func parseRanges(text string) (*unicode.RangeTable, error) {
	table := &unicode.RangeTable{}
	for _, part := range strings.Split(text, ",") {
		low, high, wide := strings.Cut(part, "-")
		if !wide {
			high = low
		}
		lo, err := strconv.ParseUint(low, 16, 32)
		if err != nil {
			return nil, fmt.Errorf("character %q: %w", low, err)
		}
		hi, err := strconv.ParseUint(high, 16, 32)
		if err != nil {
			return nil, fmt.Errorf("character %q: %w", high, err)
		}
		table.R32 = append(table.R32, unicode.Range32{Lo: uint32(lo), Hi: uint32(hi), Stride: 1})
	}
	return table, nil
}

// load reads the font's weights.
func (f *fontFile) load() (*canvas.FontFamily, error) {
	family := canvas.NewFontFamily(f.weights[0])
	for i, name := range f.weights {
		data, err := fontFiles.ReadFile("fonts/" + name)
		if err != nil {
			return nil, fmt.Errorf("reading the print font %s: %w", name, err)
		}
		style := canvas.FontRegular
		if i > 0 {
			style = canvas.FontBold
		}
		if err := family.LoadFont(data, 0, style); err != nil {
			return nil, fmt.Errorf("reading the print font %s: %w", name, err)
		}
	}
	return family, nil
}

// has tells whether the font really has a character that it is meant for.
func (f *fontFile) has(r rune) bool {
	for _, part := range f.ranges.R32 {
		if uint32(r) < part.Lo || uint32(r) > part.Hi {
			continue
		}
		family, err := f.family()
		return err == nil && family.Face(1).Font.GlyphIndex(r) != 0
	}
	return false
}

// find is the font for a character, nil when none has it.
func (f *faces) find(r rune) *fontFile {
	if file, known := f.known.Load(r); known {
		return file.(*fontFile)
	}
	var found *fontFile
	for _, file := range f.files {
		if file.has(r) {
			found = file
			break
		}
	}
	f.known.Store(r, found)
	return found
}

// Unprintable lists the characters of texts, each once, that no font of print
// has: they come out as boxes.
func Unprintable(texts ...string) ([]rune, error) {
	f, err := shipped()
	if err != nil {
		return nil, err
	}
	var missing []rune
	seen := map[rune]bool{}
	for _, text := range texts {
		for _, r := range text {
			if seen[r] || r < utf8.RuneSelf {
				continue
			}
			if seen[r] = true; !invisible(r) && f.find(r) == nil {
				missing = append(missing, r)
			}
		}
	}
	return missing, nil
}
