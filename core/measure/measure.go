// Package measure parses and prints the quantities of an embroidery class:
// lengths in millimetres or inches (to the nearest eighth, as rulers in the
// room are marked), minutes, counts, and lengths of thread.
package measure

import (
	"fmt"
	"math"
	"strconv"
	"strings"
)

// MMPerInch is exact by definition of the inch.
const MMPerInch = 25.4

// ParseNumber reads a number as a person types it, with a point or a comma:
// "12.5", "12,5". A comma before exactly three digits may stand for thousands,
// so "1,200" is refused, as is anything but digits: "1e3", "700abc".
func ParseNumber(text string) (float64, error) {
	s := strings.TrimSpace(text)
	s = strings.Replace(s, "−", "-", 1)
	digits := strings.TrimPrefix(strings.TrimPrefix(s, "-"), "+")
	before, after, comma := strings.Cut(digits, ",")
	if comma && len(after) == 3 && strings.TrimLeft(before, "0") != "" {
		return 0, ThousandsError{before, after}
	}
	if strings.Trim(digits, "0123456789.,") != "" || strings.Count(digits, ".")+strings.Count(digits, ",") > 1 {
		return 0, fmt.Errorf("reading the number %q: expected digits, such as 12 or 12.5", text)
	}
	value, err := strconv.ParseFloat(strings.Replace(s, ",", ".", 1), 64)
	if err != nil {
		return 0, fmt.Errorf("reading the number %q: expected digits, such as 12 or 12.5", text)
	}
	return value, nil
}

// A ThousandsError is a number that may mean one of two, such as "1,200".
type ThousandsError struct{ Before, After string }

func (e ThousandsError) Error() string {
	return fmt.Sprintf("%s,%s may mean two numbers: write %s%s or %s.%s", e.Before, e.After, e.Before, e.After, e.Before,
		e.After)
}

// ParseCount reads a whole number as a person types it. "010" is ten.
func ParseCount(text string) (int, error) {
	n, err := strconv.Atoi(strings.Replace(strings.TrimSpace(text), "−", "-", 1))
	if err != nil {
		return 0, fmt.Errorf("reading the whole number %q: expected digits, such as 12", text)
	}
	return n, nil
}

// MM prints millimetres rounded to whole ones: "62 mm".
func MM(mm float64) string { return Metric.Length(mm) }

// Size prints a width and a height: "62 × 88 mm".
func Size(widthMM, heightMM float64) string { return Metric.Size(widthMM, heightMM) }

// WholeMinutes rounds a duration as one plans by: to whole minutes, and
// anything above nothing to at least one.
func WholeMinutes(minutes float64) int {
	n := int(math.Round(minutes))
	if n == 0 && minutes > 0 {
		n = 1
	}
	return n
}

// Minutes prints a duration as one plans by: "22 minutes", "1 minute",
// "2 h 05".
func Minutes(minutes float64) string {
	n := WholeMinutes(minutes)
	switch {
	case n == 1:
		return "1 minute"
	case n < 120:
		return fmt.Sprintf("%d minutes", n)
	}
	return fmt.Sprintf("%d h %02d", n/60, n%60)
}

// Metres prints a length of thread given in millimetres: "46.2 m", "140 m".
func Metres(mm float64) string { return Metric.Thread(mm) }

// Whole prints a number rounded to whole, with thousands set apart: "8,123".
func Whole(value float64) string {
	if math.IsNaN(value) || math.Abs(value) > mostWhole {
		return strconv.FormatFloat(value, 'g', 3, 64)
	}
	return Count(int(math.Round(value)))
}

// mostWhole is more than anything here is counted in; what is beyond it does not
// fit a whole number.
const mostWhole = 1e15

// Count prints a count with thousands set apart: "8,123".
func Count(n int) string {
	digits := strconv.Itoa(n)
	sign := ""
	if n < 0 {
		sign, digits = "−", digits[1:]
	}
	for i := len(digits) - 3; i > 0; i -= 3 {
		digits = digits[:i] + "," + digits[i:]
	}
	return sign + digits
}

// Plural prints a count with its noun: "1 stop", "4 stops", "2 copies".
func Plural(n int, noun string) string {
	if n == 1 {
		return "1 " + noun
	}
	switch {
	case strings.HasSuffix(noun, "ch"), strings.HasSuffix(noun, "sh"), strings.HasSuffix(noun, "ss"):
		noun += "es"
	case strings.HasSuffix(noun, "py"):
		noun = strings.TrimSuffix(noun, "y") + "ies"
	default:
		noun += "s"
	}
	return Count(n) + " " + noun
}
