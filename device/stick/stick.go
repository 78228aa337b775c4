// Package stick stands in for the USB stick that carries stitch files to a
// machine: a zip with the files of one machine, in its format, under names of
// eight characters as old machines show them, in sitting order, with an index
// sheet that says what is what.
package stick

import (
	"archive/zip"
	"bytes"
	"fmt"
	"strings"
	"time"
	"unicode"
)

// A File is one stitch file for the stick.
type File struct {
	// Label is what a person calls it; its letters make the name.
	Label string
	// For says who sews it, when.
	For string
	// Format is the extension, without a dot.
	Format string
	Data   []byte
}

const nameLetters = 6 // behind two digits that keep the order

// Name is a file's name on the stick: the place in the order and the label's
// first letters, eight characters in all at the most.
func Name(place int, f File) string {
	var letters []rune
	for _, r := range strings.ToUpper(f.Label) {
		if r < unicode.MaxASCII && (unicode.IsLetter(r) || unicode.IsDigit(r)) && len(letters) < nameLetters {
			letters = append(letters, r)
		}
	}
	return fmt.Sprintf("%02d%s.%s", place, string(letters), strings.ToUpper(f.Format))
}

// Write makes the stick of a machine. at is the time its files carry.
func Write(machine string, files []File, at time.Time) ([]byte, error) {
	const most = 99
	if len(files) == 0 || len(files) > most {
		return nil, fmt.Errorf("a stick for %s with %d files: expected 1 to %d", machine, len(files), most)
	}
	var out bytes.Buffer
	archive := zip.NewWriter(&out)
	var index strings.Builder
	fmt.Fprintf(&index, "Stick for %s\r\n\r\n", machine)
	put := func(name string, data []byte) error {
		w, err := archive.CreateHeader(&zip.FileHeader{Name: name, Method: zip.Deflate, Modified: at})
		if err == nil {
			_, err = w.Write(data)
		}
		if err != nil {
			return fmt.Errorf("writing %s to the stick: %w", name, err)
		}
		return nil
	}
	for i, f := range files {
		name := Name(i+1, f)
		fmt.Fprintf(&index, "%-12s  %s, %s\r\n", name, f.Label, f.For)
		if err := put(name, f.Data); err != nil {
			return nil, err
		}
	}
	if err := put("INDEX.TXT", []byte(index.String())); err != nil {
		return nil, err
	}
	if err := archive.Close(); err != nil {
		return nil, fmt.Errorf("closing the stick: %w", err)
	}
	return out.Bytes(), nil
}
