package paper

import (
	"bytes"
	"errors"
	"fmt"

	"github.com/xuri/excelize/v2"
)

// ErrSpreadsheet means that a file is no spreadsheet that can be read.
var ErrSpreadsheet = errors.New("no spreadsheet that can be read")

// IsSpreadsheet tells that a file looks like a spreadsheet in .xlsx.
func IsSpreadsheet(data []byte) bool { return bytes.HasPrefix(data, []byte("PK\x03\x04")) }

// Spreadsheet reads at most so many rows of the first sheet of a spreadsheet in .xlsx, as they are
// shown; the file may unpack to most bytes.
func Spreadsheet(data []byte, rows int, most int64) (table [][]string, err error) {
	defer func() {
		if r := recover(); r != nil { // of files that were made to break readers
			table, err = nil, fmt.Errorf("%w: %v", ErrSpreadsheet, r)
		}
	}()
	f, err := excelize.OpenReader(bytes.NewReader(data), excelize.Options{UnzipSizeLimit: most, UnzipXMLSizeLimit: most})
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
	for each.Next() && len(table) < rows {
		cells, err := each.Columns()
		if err != nil {
			return nil, fmt.Errorf("%w: %w", ErrSpreadsheet, err)
		}
		table = append(table, cells)
	}
	return table, nil
}
