package say

import "errors"

// A Problem is an error that can be said to a reader.
type Problem struct{ Text }

// Errorf makes an error of a text.
func Errorf(format string, args ...any) error { return Problem{T(format, args...)} }

func (p Problem) Error() string { return p.String() }

// Say implements [Sayer].
func (p Problem) Say() Text { return p.Text }

// Of is what is to be said of an error: the text of a problem in it, or the
// words of any other.
func Of(err error) Text {
	var p Problem
	if errors.As(err, &p) {
		return p.Text
	}
	return Name(err.Error())
}
