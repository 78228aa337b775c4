package people

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/booking"
	"chalkstep/core/fleet/care"
	"chalkstep/core/policy"
	"chalkstep/core/policy/rule"
)

// A BookingRulesInput is what a person writes of when machines are booked. Hours are clock
// times by weekday, both empty for a day on which it is closed.
type BookingRulesInput struct {
	Version int
	From    []string `says:"Opens"`
	To      []string `says:"Closes"`
	// Closed has a day a line, and why: "2026-12-25 the holidays".
	Closed string `says:"Closed on"`
	// Figures are typed, by their keys.
	Figures map[string]string `says:"Figure"`
}

// Weekdays in the order of a week here.
var Weekdays = []time.Weekday{time.Monday, time.Tuesday, time.Wednesday, time.Thursday, time.Friday, time.Saturday,
	time.Sunday}

// FigureField is what the form calls a figure.
func FigureField(key string) string { return "figure-" + key }

// HoursField is what the form calls the hours of a day.
func HoursField(day time.Weekday) string { return fmt.Sprintf("hours-%d", day) }

// BookingRules opens when machines are booked.
func (d UseCases) BookingRules() (BookingRulesInput, error) {
	if err := d.Need(actor.See); err != nil {
		return BookingRulesInput{}, err
	}
	settings, err := d.Settings()
	return bookingRulesOf(settings), err
}

// bookingRulesOf are the rules as their form has them.
func bookingRulesOf(settings policy.Workshop) BookingRulesInput {
	rules := settings.Booking
	in := BookingRulesInput{Version: settings.Version, From: make([]string, 7), To: make([]string, 7),
		Figures: map[string]string{}}
	for day, hours := range rules.Hours {
		if !hours.Closed() {
			in.From[day], in.To[day] = clockOf(hours.From), clockOf(hours.To)
		}
	}
	var lines []string
	for _, c := range rules.Closed {
		lines = append(lines, strings.TrimSpace(c.Day+" "+c.Why))
	}
	in.Closed = strings.Join(lines, "\n")
	for _, f := range booking.Figures {
		in.Figures[f.Key] = fmt.Sprint(f.Of(rules))
	}
	for _, f := range care.Figures {
		in.Figures[f.Key] = fmt.Sprint(f.Of(settings.Care))
	}
	return in
}

func clockOf(minute int) string { return fmt.Sprintf("%02d:%02d", minute/60, minute%60) }

// mostClosed days are kept.
const mostClosed = 200

// SaveBookingRules keeps when machines are booked. It is the owner's to say.
func (d UseCases) SaveBookingRules(in BookingRulesInput) error {
	if err := d.Need(actor.SetHouse); err != nil {
		return err
	}
	settings, err := d.Settings()
	if err != nil {
		return err
	}
	problems := form.Problems{}
	if len(in.From) != 7 || len(in.To) != 7 {
		return form.Problems{"": "A week has seven days: open the page again."}
	}
	rules := booking.Rules{Closed: d.closures(problems, in.Closed)}
	for _, day := range Weekdays {
		rules.Hours[day] = openingOf(problems, day, in.From[day], in.To[day])
	}
	setFigures(problems, booking.Figures, &rules, in.Figures)
	setFigures(problems, care.Figures, &settings.Care, in.Figures)
	if problems[FigureField("most")] == "" && rules.MostMinutes > 0 && rules.MostMinutes < rules.LeastMinutes {
		problems[FigureField("most")] = "The longest is not shorter than the shortest."
	}
	if err := problems.OrNil(); err != nil {
		return err
	}
	settings.Booking, settings.Version = rules, in.Version
	return actor.OnceOnly(d, func(d UseCases) error {
		return form.Saved(form.Compare(d.Workshop.SaveSettings(settings), in, func() (BookingRulesInput, int, error) {
			settings, err := d.Workshop.Settings()
			return bookingRulesOf(settings), settings.Version, err
		}), "")
	})
}

// setFigures reads the figures of some rules.
func setFigures[R any](problems form.Problems, figures []rule.Figure[R], rules *R, typed map[string]string) {
	for _, f := range figures {
		f.Set(rules, form.Whole(problems, FigureField(f.Key), typed[f.Key], f.Least, f.Most,
			fmt.Sprintf("Write a whole number from %d to %d.", f.Least, f.Most)))
	}
}

// openingOf reads the hours of a day.
func openingOf(problems form.Problems, day time.Weekday, from, to string) booking.Opening {
	from, to = strings.TrimSpace(from), strings.TrimSpace(to)
	if from == "" && to == "" {
		return booking.Opening{}
	}
	minute := func(typed string) int {
		at, err := time.Parse("15:04", typed)
		if err != nil {
			problems[HoursField(day)] = "Write both as clock times such as 09:00, or leave both empty."
		}
		return 60*at.Hour() + at.Minute()
	}
	o := booking.Opening{From: minute(from), To: minute(to)}
	if o.To == 0 {
		o.To = 24 * 60 // midnight ends a day
	}
	if problems[HoursField(day)] == "" && o.Closed() {
		problems[HoursField(day)] = "It closes after it opens."
	}
	return o
}

// closures reads the days on which the house is closed, in order and each once.
func (d UseCases) closures(problems form.Problems, typed string) []booking.Closure {
	var all []booking.Closure
	for n, line := range strings.Split(strings.ReplaceAll(typed, "\r", ""), "\n") {
		text := strings.TrimSpace(form.Cleaned(line))
		if text == "" {
			continue
		}
		day, why, _ := strings.Cut(text, " ")
		at, err := time.Parse(time.DateOnly, day)
		switch {
		case err != nil || at.Year() < form.FirstYear || at.Year() > form.LastYear:
			problems["closed"] = fmt.Sprintf("Line %d: write the day as 2026-12-25, then why.", n+1)
		case len([]rune(why)) > 80:
			problems["closed"] = fmt.Sprintf("Line %d: at most 80 letters.", n+1)
		case len(all) >= mostClosed:
			problems["closed"] = "At most 200 days: take those out that are over."
		case !slices.ContainsFunc(all, func(c booking.Closure) bool { return c.Day == day }):
			all = append(all, booking.Closure{Day: day, Why: strings.TrimSpace(why)})
		}
	}
	slices.SortFunc(all, func(a, b booking.Closure) int { return strings.Compare(a.Day, b.Day) })
	return all
}
