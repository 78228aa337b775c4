package paper

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"strings"
)

// Cell is a text for a cell of a CSV table. Programs that open tables take
// what begins like a formula for one, so such a text is made plain.
func Cell(text string) string {
	if text != "" && strings.ContainsRune("=+-@\t\r\n|%", rune(text[0])) {
		return "'" + text
	}
	return text
}

// CSV writes rows for a spreadsheet, each cell as [Cell] does.
func CSV(rows [][]string) ([]byte, error) {
	var out bytes.Buffer
	w := csv.NewWriter(&out)
	for i, row := range rows {
		cells := make([]string, len(row))
		for k, text := range row {
			cells[k] = Cell(text)
		}
		if err := w.Write(cells); err != nil {
			return nil, fmt.Errorf("writing row %d as CSV: %w", i+1, err)
		}
	}
	w.Flush()
	return out.Bytes(), w.Error()
}
