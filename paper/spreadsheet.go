package paper

import (
	"archive/zip"
	"bytes"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"path"
	"slices"

	"github.com/xuri/excelize/v2"
)

// Errors of a file that is no spreadsheet that can be read, and of one that is
// larger than what is asked for.
var (
	ErrSpreadsheet = errors.New("no spreadsheet that can be read")
	ErrWide        = errors.New("a spreadsheet of too many columns")
)

// IsSpreadsheet tells that a file looks like a spreadsheet in .xlsx.
func IsSpreadsheet(data []byte) bool { return bytes.HasPrefix(data, []byte("PK\x03\x04")) }

// A TableSize is how large a table may be that is read: Bytes when it is unpacked.
type TableSize struct {
	Rows, Columns int
	Bytes         int64
}

// Spreadsheet reads the first sheet of a spreadsheet in .xlsx, as it is shown, up to as many
// rows as are asked for. A sheet that is wider is [ErrWide]; whatever else cannot be read is
// [ErrSpreadsheet].
func Spreadsheet(data []byte, most TableSize) (table [][]string, err error) {
	defer func() {
		if r := recover(); r != nil { // of files that were made to break readers
			table, err = nil, fmt.Errorf("%w: %v", ErrSpreadsheet, r)
		}
	}()
	if err := checkWidth(data, most); err != nil {
		return nil, err
	}
	f, err := excelize.OpenReader(bytes.NewReader(data),
		excelize.Options{UnzipSizeLimit: most.Bytes, UnzipXMLSizeLimit: most.Bytes})
	if err != nil {
		return nil, fmt.Errorf("%w: %w", ErrSpreadsheet, err)
	}
	defer f.Close()
	names := f.GetSheetList()
	if len(names) == 0 {
		return nil, fmt.Errorf("%w: it has no sheet", ErrSpreadsheet)
	}
	each, err := f.Rows(names[0])
	if err != nil {
		return nil, fmt.Errorf("%w: %w", ErrSpreadsheet, err)
	}
	defer each.Close()
	for each.Next() && len(table) < most.Rows {
		cells, err := each.Columns()
		if err != nil {
			return nil, fmt.Errorf("%w: %w", ErrSpreadsheet, err)
		}
		table = append(table, cells)
	}
	return table, nil
}

// checkWidth looks through a spreadsheet cell by cell: the reader holds a whole
// row, with a place for each column up to its last. Any file of it may be a
// sheet.
func checkWidth(data []byte, most TableSize) error {
	files, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		return fmt.Errorf("%w: %w", ErrSpreadsheet, err)
	}
	left := most.Bytes
	for _, file := range files.File {
		if left -= int64(file.UncompressedSize64); left < 0 {
			return fmt.Errorf("%w: it unpacks to more than %d bytes", ErrSpreadsheet, most.Bytes)
		}
		if !slices.Contains([]string{".xml", ""}, path.Ext(file.Name)) {
			continue
		}
		text, err := file.Open()
		if err != nil {
			return fmt.Errorf("%w: %w", ErrSpreadsheet, err)
		}
		err = checkSheet(text, most)
		text.Close()
		if err != nil {
			return fmt.Errorf("looking through %s: %w", file.Name, err)
		}
	}
	return nil
}

func checkSheet(text io.Reader, most TableSize) error {
	rows, cells := 0, 0
	for tokens := xml.NewDecoder(text); rows <= most.Rows; {
		token, err := tokens.RawToken()
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil {
			return fmt.Errorf("%w: %w", ErrSpreadsheet, err)
		}
		begin, is := token.(xml.StartElement)
		switch {
		case !is:
		case begin.Name.Local == "row":
			rows, cells = rows+1, 0
		case begin.Name.Local == "c":
			cells++
			for _, a := range begin.Attr {
				if column, _, err := excelize.CellNameToCoordinates(a.Value); a.Name.Local == "r" && err == nil {
					cells = max(cells, column)
				}
			}
			if cells > most.Columns {
				return ErrWide
			}
		}
	}
	return nil
}
