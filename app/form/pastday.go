package form

import (
	"strings"
	"time"
)

// PastDay reads the day on which something was sewn: today, or one before.
func PastDay(today string, problems Problems, field, typed string) time.Time {
	day, err := time.Parse(time.DateOnly, strings.TrimSpace(typed))
	switch {
	case err != nil:
		problems[field] = "Choose the day it was sewn."
	case day.Format(time.DateOnly) > today:
		problems[field] = "That day is still to come."
	case day.Year() < FirstYear:
		problems[field] = "That is too long ago: choose the day it was sewn."
	}
	return day
}
