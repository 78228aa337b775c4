// Package measure parses and prints the quantities of an embroidery class:
// lengths in millimetres or inches (to the nearest eighth, as rulers in the
// room are marked), minutes, and lengths of thread.
package measure

import (
	"fmt"
	"math"
	"strconv"
	"strings"
)

// MMPerInch is exact by definition of the inch.
const MMPerInch = 25.4

// ParseMM reads a length as a person types it: "100", "100 mm", "10 cm",
// "4 in", `2 1/2"`, "5/8 in". A bare number is millimetres. The error says
// what was typed and what would be understood.
func ParseMM(text string) (float64, error) {
	s := strings.ToLower(strings.TrimSpace(text))
	scale := 1.0
	for _, unit := range []struct {
		suffix string
		scale  float64
	}{{"mm", 1}, {"cm", 10}, {"inches", MMPerInch}, {"inch", MMPerInch}, {"in", MMPerInch}, {`"`, MMPerInch}} {
		if rest, ok := strings.CutSuffix(s, unit.suffix); ok {
			s, scale = strings.TrimSpace(rest), unit.scale
			break
		}
	}
	value, ok := parseMixed(s)
	if !ok {
		return 0, fmt.Errorf("reading the length %q: expected a number such as 100, 100 mm, 4 in or 2 1/2 in", text)
	}
	return value * scale, nil
}

// parseMixed reads "2", "2.5", "1/2" or "2 1/2".
func parseMixed(s string) (float64, bool) {
	fields := strings.Fields(s)
	if len(fields) == 0 || len(fields) > 2 {
		return 0, false
	}
	total := 0.0
	for i, field := range fields {
		top, bottom, isFraction := strings.Cut(field, "/")
		if len(fields) == 2 && (i == 1) != isFraction {
			return 0, false
		}
		value, err := strconv.ParseFloat(strings.ReplaceAll(top, ",", "."), 64)
		if err != nil || math.IsNaN(value) || math.IsInf(value, 0) {
			return 0, false
		}
		if isFraction {
			divisor, err := strconv.ParseUint(bottom, 10, 16)
			if err != nil || divisor == 0 {
				return 0, false
			}
			value /= float64(divisor)
		}
		total += value
	}
	return total, true
}

// MM prints millimetres rounded to whole ones: "62 mm".
func MM(mm float64) string { return Whole(mm) + " mm" }

// Size prints a width and a height: "62 × 88 mm".
func Size(widthMM, heightMM float64) string {
	return Whole(widthMM) + " × " + Whole(heightMM) + " mm"
}

// Inches prints millimetres as inches to the nearest eighth: "2 1/2 in".
func Inches(mm float64) string {
	eighths := int(math.Round(math.Abs(mm) / MMPerInch * 8))
	sign := ""
	if mm < 0 && eighths > 0 {
		sign = "−"
	}
	whole, part := eighths/8, eighths%8
	if part == 0 {
		return fmt.Sprintf("%s%d in", sign, whole)
	}
	divisor := 8
	for part%2 == 0 {
		part, divisor = part/2, divisor/2
	}
	if whole == 0 {
		return fmt.Sprintf("%s%d/%d in", sign, part, divisor)
	}
	return fmt.Sprintf("%s%d %d/%d in", sign, whole, part, divisor)
}

// Minutes prints a duration as one plans by: "22 minutes", "1 minute",
// "2 h 05". Anything above nothing is at least a minute.
func Minutes(minutes float64) string {
	n := int(math.Round(minutes))
	if n == 0 && minutes > 0 {
		n = 1
	}
	switch {
	case n == 1:
		return "1 minute"
	case n < 120:
		return fmt.Sprintf("%d minutes", n)
	}
	return fmt.Sprintf("%d h %02d", n/60, n%60)
}

// Metres prints a length of thread given in millimetres: "46.2 m", "140 m".
func Metres(mm float64) string {
	m := mm / 1000
	if m < 100 {
		return strconv.FormatFloat(m, 'f', 1, 64) + " m"
	}
	return Whole(m) + " m"
}

// Whole prints a number rounded to whole, with thousands set apart: "8,123".
func Whole(value float64) string { return Count(int(math.Round(value))) }

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
