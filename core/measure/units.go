package measure

import (
	"errors"
	"fmt"
	"math"
	"strconv"
	"strings"
)

// Units are what a person measures in. The zero value is [Metric].
type Units string

// The units there are.
const (
	Metric Units = ""
	Inches Units = "in"
)

// mmPerYard is exact by definition of the yard.
const mmPerYard = 36 * MMPerInch

// UnitsNamed are the units of a name, "mm" or "in"; ok is false for any other.
func UnitsNamed(name string) (units Units, ok bool) {
	switch name {
	case "mm":
		return Metric, true
	case "in":
		return Inches, true
	}
	return Metric, false
}

// Length prints a length to whole millimetres, or to the nearest eighth of an
// inch: "62 mm", "2 1/2 in".
func (u Units) Length(mm float64) string { return u.number(mm) + u.suffix() }

// Size prints a width and a height: "62 × 88 mm", "2 1/2 × 3 1/2 in".
func (u Units) Size(widthMM, heightMM float64) string {
	return u.number(widthMM) + " × " + u.number(heightMM) + u.suffix()
}

// Fine prints a small length: "1.5 mm", "−3 mm", "0.06 in".
func (u Units) Fine(mm float64) string {
	text := strconv.FormatFloat(mm/MMPerInch, 'f', 2, 64) + u.suffix()
	if u != Inches {
		tenths, whole := strings.CutSuffix(strconv.FormatFloat(mm, 'f', 1, 64), ".0")
		if text = tenths + u.suffix(); whole {
			text = Whole(mm) + u.suffix()
		}
	}
	return strings.Replace(text, "-", "−", 1)
}

// Exact prints a length that is multiplied many times over: "41.67 mm",
// "1.64 in".
func (u Units) Exact(mm float64) string {
	if u == Inches {
		return trimmed(mm/MMPerInch, 3) + u.suffix()
	}
	return trimmed(mm, 2) + u.suffix()
}

// Nudge prints the room that is left each way, across and up, rounded down:
// "±12 × ±8 mm", "±0.50 × ±0.31 in".
func (u Units) Nudge(acrossMM, upMM float64) string {
	atMost := func(mm float64) string {
		if u == Inches {
			return "±" + strconv.FormatFloat(math.Floor(mm/MMPerInch*100)/100, 'f', 2, 64)
		}
		return "±" + strconv.Itoa(int(mm))
	}
	return atMost(acrossMM) + " × " + atMost(upMM) + u.suffix()
}

// Cloth prints a length off a roll given in millimetres: "1.90 m", "2.08 yd".
func (u Units) Cloth(mm float64) string {
	return fmt.Sprintf("%.2f %s", mm/u.ClothMM(), u.ClothUnit())
}

// ClothMM is how many millimetres what is cut off a roll is counted in: a
// metre or a yard; ClothUnit is its sign.
func (u Units) ClothMM() float64 {
	if u == Inches {
		return mmPerYard
	}
	return 1000
}

// ClothUnit is "m" or "yd".
func (u Units) ClothUnit() string {
	if u == Inches {
		return "yd"
	}
	return "m"
}

// Thread prints a length of thread given in millimetres: "46.2 m", "140 m",
// "50.5 yd".
func (u Units) Thread(mm float64) string {
	length, unit := mm/u.ClothMM(), " "+u.ClothUnit()
	if math.Abs(length) < 100 {
		return strconv.FormatFloat(length, 'f', 1, 64) + unit
	}
	return Whole(length) + unit
}

func (u Units) suffix() string {
	if u == Inches {
		return " in"
	}
	return " mm"
}

func (u Units) number(mm float64) string {
	if u == Inches {
		return eighths(mm)
	}
	return Whole(mm)
}

// eighths prints millimetres as inches to the nearest eighth, as rulers in
// the room are marked: "2 1/2".
func eighths(mm float64) string {
	if inches := mm / MMPerInch; !(math.Abs(inches) < mostWhole/8) {
		return Whole(inches)
	}
	n := int(math.Round(math.Abs(mm) / MMPerInch * 8))
	sign := ""
	if mm < 0 && n > 0 {
		sign = "−"
	}
	whole, part, divisor := n/8, n%8, 8
	for part > 0 && part%2 == 0 {
		part, divisor = part/2, divisor/2
	}
	switch {
	case part == 0:
		return sign + strconv.Itoa(whole)
	case whole == 0:
		return sign + strconv.Itoa(part) + "/" + strconv.Itoa(divisor)
	}
	return sign + strconv.Itoa(whole) + " " + strconv.Itoa(part) + "/" + strconv.Itoa(divisor)
}

// Field prints a length as a form is filled with it, so that the form gives
// back what it was given: to the tenth of a millimetre, which is what lengths
// are kept to. Inches are in eighths where those say it exactly.
func (u Units) Field(mm float64) string {
	if u != Inches {
		return trimmed(toTenth(mm), 1) + " mm"
	}
	if toTenth(math.Round(mm/MMPerInch*8)/8*MMPerInch) == toTenth(mm) {
		return eighths(mm) + " in"
	}
	return trimmed(mm/MMPerInch, 3) + " in"
}

// trimmed prints a number with at most so many places.
func trimmed(value float64, places int) string {
	text := strconv.FormatFloat(value, 'f', places, 64)
	return strings.TrimSuffix(strings.TrimRight(text, "0"), ".")
}

// toTenth rounds to a tenth of a millimetre, which is what lengths are kept to.
func toTenth(mm float64) float64 { return math.Round(mm*10) / 10 }

// Parse reads a length as a person types it, in millimetres and to a tenth of
// one: "100", "100 mm", "10 cm", "4 in", `2 1/2"`, "14 7/8". A bare number is
// in the person's own units, a fraction in inches. The error says what was
// typed and what would be understood.
func (u Units) Parse(text string) (float64, error) {
	s, sign := strings.ToLower(strings.TrimSpace(text)), 1.0
	if rest, below := strings.CutPrefix(strings.Replace(s, "−", "-", 1), "-"); below {
		s, sign = strings.TrimSpace(rest), -1
	} else {
		s = strings.TrimPrefix(s, "+")
	}
	scale := 1.0
	if u == Inches || strings.Contains(s, "/") {
		scale = MMPerInch
	}
	for _, unit := range []struct {
		suffix string
		scale  float64
	}{{"mm", 1}, {"cm", 10}, {"inches", MMPerInch}, {"inch", MMPerInch}, {"in", MMPerInch}, {`"`, MMPerInch},
		{"″", MMPerInch}} {
		if rest, ok := strings.CutSuffix(s, unit.suffix); ok {
			s, scale = strings.TrimSpace(rest), unit.scale
			break
		}
	}
	value, err := parseMixed(s)
	if err != nil {
		return 0, fmt.Errorf("reading the length %q: %w", text, err)
	}
	return toTenth(sign * value * scale), nil
}

var errNoLength = errors.New("expected a number such as 100, 100 mm, 4 in or 2 1/2 in")

// parseMixed reads "2", "2.5", "1/2" or "2 1/2".
func parseMixed(s string) (float64, error) {
	fields := strings.Fields(s)
	if len(fields) == 0 || len(fields) > 2 {
		return 0, errNoLength
	}
	total := 0.0
	for i, field := range fields {
		top, bottom, isFraction := strings.Cut(field, "/")
		if len(fields) == 2 && (i == 1) != isFraction {
			return 0, errNoLength
		}
		if strings.ContainsAny(top, "+-") {
			return 0, errNoLength
		}
		value, err := ParseNumber(top)
		var thousands ThousandsError
		if errors.As(err, &thousands) {
			return 0, err
		}
		if err != nil {
			return 0, errNoLength
		}
		if isFraction {
			divisor, err := strconv.ParseUint(bottom, 10, 16)
			if err != nil || divisor == 0 {
				return 0, errNoLength
			}
			value /= float64(divisor)
		}
		total += value
	}
	return total, nil
}
