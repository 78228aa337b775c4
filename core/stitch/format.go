package stitch

import (
	"bytes"
	"fmt"
	"path"
	"slices"
	"strings"

	"chalkstep/core/measure"
)

// A Format reads and writes one kind of stitch file.
type Format struct {
	// Name is the extension without its dot, lower case.
	Name string
	// Magic is what every file of the format begins with; empty where it has no mark.
	Magic string
	// HasColors tells whether a file of the format can hold thread colours.
	HasColors bool
	Decode    func(data []byte) (*Pattern, error)
	Encode    func(*Pattern) ([]byte, error)
}

var formats []Format

// Register makes a format known to Decode and Encode. Format packages call
// it from their init functions.
func Register(f Format) { formats = append(formats, f) }

// Names lists the registered formats in alphabetical order.
func Names() []string {
	var names []string
	for _, f := range formats {
		names = append(names, f.Name)
	}
	slices.Sort(names)
	return names
}

// A FormatError says why bytes are not a file of a format.
type FormatError struct {
	Format   string
	Offset   int
	Expected string
	Found    string
}

func (e *FormatError) Error() string {
	return fmt.Sprintf("not a .%s file: at byte %s expected %s, found %s", e.Format, measure.Count(e.Offset), e.Expected,
		e.Found)
}

// Decode reads a stitch file, choosing the format by the name's extension.
// A file whose bytes carry another format's mark is refused with both names.
func Decode(name string, data []byte) (*Pattern, Format, error) {
	format, err := ByName(name)
	if err != nil {
		return nil, Format{}, err
	}
	if len(data) > MaxBytes {
		return nil, format, fmt.Errorf("reading %s: it holds %s bytes, and a stitch file may hold %s at most",
			path.Base(name), measure.Count(len(data)), measure.Count(MaxBytes))
	}
	if other := recognise(data); other != "" && other != format.Name {
		return nil, format, fmt.Errorf("reading %s: %w", path.Base(name),
			&FormatError{Format: format.Name, Expected: "stitches", Found: "the start of a ." + other + " file"})
	}
	pattern, err := format.Decode(data)
	if err != nil {
		return nil, format, fmt.Errorf("reading %s: %w", path.Base(name), err)
	}
	return pattern, format, nil
}

// Encode writes a pattern in the format that name's extension tells.
func Encode(name string, p *Pattern) ([]byte, error) {
	format, err := ByName(name)
	if err != nil {
		return nil, err
	}
	data, err := format.Encode(p)
	if err != nil {
		return nil, fmt.Errorf("writing %s: %w", path.Base(name), err)
	}
	return data, nil
}

// ByName finds the format of a file's name.
func ByName(name string) (Format, error) {
	extension := strings.ToLower(strings.TrimPrefix(path.Ext(name), "."))
	for _, f := range formats {
		if f.Name == extension {
			return f, nil
		}
	}
	return Format{}, fmt.Errorf("reading %s: no stitch file ends in %q; expected one of .%s", path.Base(name),
		path.Ext(name), strings.Join(Names(), ", ."))
}

// foreign are files people pick by mistake. Their marks are long enough not
// to begin a real design in a format that has no mark of its own.
var foreign = []struct{ name, magic string }{
	{"zip", "PK\x03\x04"}, {"pdf", "%PDF-"}, {"png", "\x89PNG\r\n"}, {"gif", "GIF8"}, {"jpg", "\xff\xd8\xff\xe0"},
}

// recognise names the format whose mark the data carries, or "".
func recognise(data []byte) string {
	for _, f := range formats {
		if f.Magic != "" && bytes.HasPrefix(data, []byte(f.Magic)) {
			return f.Name
		}
	}
	for _, f := range foreign {
		if bytes.HasPrefix(data, []byte(f.magic)) {
			return f.name
		}
	}
	if isProse(data) {
		return "txt"
	}
	return ""
}

// isProse tells a text file from stitches: 64 printable bytes in a row would
// be stitches that only ever go up and to the right.
func isProse(data []byte) bool {
	const enough = 64
	if len(data) < enough {
		return false
	}
	for _, b := range data[:enough] {
		if (b < ' ' || b > '~') && b != '\n' && b != '\r' && b != '\t' {
			return false
		}
	}
	return !bytes.HasPrefix(data, []byte("LA:"))
}

// Losses says in plain words what a conversion did not keep, by comparing
// what was to be written with what the written file says.
func Losses(before, after *Pattern) []string {
	var lost []string
	if len(before.Colors) > 0 && len(after.Colors) == 0 {
		lost = append(lost, fmt.Sprintf("the colours of %d stops: the format holds none", len(before.Colors)))
	}
	was, is := Analyse(before), Analyse(after)
	for _, count := range []struct {
		what    string
		was, is int
	}{{"stitches", was.Stitches, is.Stitches}, {"jumps", was.Jumps, is.Jumps}, {"trims", was.Trims, is.Trims},
		{"colour changes", was.ColorChanges, is.ColorChanges}} {
		if count.was != count.is {
			lost = append(lost, fmt.Sprintf("%s: %d became %d", count.what, count.was, count.is))
		}
	}
	return lost
}

// Hops is how many moves of at most longest along each axis a way takes.
// Writers split with it what one record cannot hold.
func Hops(dx, dy, longest int32) int32 {
	return max(1, (max(dx, -dx)+longest-1)/longest, (max(dy, -dy)+longest-1)/longest)
}

// Printable keeps what can be shown of a name inside a file, which is
// untrusted: printable ASCII, without the space around it.
func Printable(name []byte) string {
	return strings.TrimSpace(strings.Map(func(r rune) rune {
		if r < ' ' || r > '~' {
			return -1
		}
		return r
	}, string(name)))
}
