package paper_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"chalkstep/paper"
)

// No text of a table runs in the program that opens it.
func TestCellsAreNoFormulas(t *testing.T) {
	for text, want := range map[string]string{
		"Buoy red": "Buoy red", "": "", "12.50": "12.50", "=1+1": "'=1+1", "+44 20": "'+44 20", "-2+3": "'-2+3",
		"@SUM(A1)": "'@SUM(A1)",
		"\t=1":     "'\t=1", "\r=1": "'\r=1", "3 = three": "3 = three",
	} {
		assert.Equal(t, want, paper.Cell(text), "%q", text)
	}
}
