package people

import (
	"cmp"
	"maps"
	"slices"
	"strconv"
	"strings"

	"chalkstep/app/actor"
	"chalkstep/app/form"
	"chalkstep/core/pace"
)

// Of says what a factor is of.
type Of string

// The kinds of factors that classes teach.
const (
	OfStep    Of = "step"
	OfStudent Of = "student"
	OfMachine Of = "machine"
	OfDesign  Of = "design"
	OfThread  Of = "thread"
)

// A LearnedLine is one factor.
type LearnedLine struct {
	Of  Of
	Key string
	// Name of a student, machine or design; a step and the thread have none.
	Name string
	pace.Factor
	// Said is the figure of the house, 0 where there is none: minutes, and of the thread
	// what a length on the face draws.
	Said float64
}

// A LearnedPage is what classes taught, and how far off estimates are.
type LearnedPage struct {
	Lines []LearnedLine
	// Classes are how far off their estimates were, in time's order.
	Classes []pace.Off
}

// Learned opens what classes taught.
func (d UseCases) Learned() (LearnedPage, error) {
	if err := d.Need(actor.See); err != nil {
		return LearnedPage{}, err
	}
	settings, err := d.Settings()
	if err != nil {
		return LearnedPage{}, err
	}
	observed, err := d.Workshop.Observed()
	if err != nil {
		return LearnedPage{}, err
	}
	names, err := d.Workshop.NamesOf(settings.Learned)
	if err != nil {
		return LearnedPage{}, err
	}
	page := LearnedPage{Classes: pace.OffBy(observed)}
	if n := len(page.Classes); n > mostClasses {
		page.Classes = page.Classes[n-mostClasses:]
	}
	l := settings.Learned
	for _, key := range slices.Sorted(maps.Keys(l.Steps)) {
		page.Lines = append(page.Lines,
			LearnedLine{Of: OfStep, Key: string(key), Factor: l.Steps[key], Said: settings.Pace.Figure(key)})
	}
	if t := l.Thread; t.Measured() {
		draws := settings.Kit.DrawFactor
		page.Lines = append(page.Lines,
			LearnedLine{Of: OfThread,
				Factor: pace.Factor{Factor: settings.Kit.LearnedDraw(t.Drawn) / draws, N: t.Classes, Aside: t.Aside}, Said: draws})
	}
	for _, kind := range []struct {
		of      Of
		factors map[int64]pace.Factor
		names   map[int64]string
	}{{OfMachine, l.Machines, names.Machines}, {OfDesign, l.Designs, names.Designs},
		{OfStudent, l.Students, names.Students}} {
		for id, f := range kind.factors {
			if name, there := kind.names[id]; there {
				page.Lines = append(page.Lines, LearnedLine{Of: kind.of, Key: strconv.FormatInt(id, 10), Name: name, Factor: f})
			}
		}
	}
	order := []Of{OfStep, OfThread, OfMachine, OfDesign, OfStudent}
	slices.SortStableFunc(page.Lines, func(a, b LearnedLine) int {
		return cmp.Or(cmp.Compare(slices.Index(order, a.Of), slices.Index(order, b.Of)), cmp.Compare(a.Name, b.Name),
			cmp.Compare(a.Key, b.Key))
	})
	return page, nil
}

// Limits of the page of what was learned.
const (
	mostClasses   = 60
	longestReason = 200
)

// LearnNow learns from what was run until now.
func (d UseCases) LearnNow() error {
	if err := d.Need(actor.SetHouse); err != nil {
		return err
	}
	return actor.OnceOnly(d, func(d UseCases) error { return actor.LearnIn(d.Workshop, nil) })
}

// SetAside sets a factor aside for a reason, or with none uses it again.
func (d UseCases) SetAside(of Of, key, reason string, again bool) error {
	if err := d.Need(actor.SetHouse); err != nil {
		return err
	}
	reason = strings.TrimSpace(form.Cleaned(reason))
	switch {
	case again:
		reason = ""
	case reason == "":
		return form.Problems{"": "Write why it is set aside."}
	case len([]rune(reason)) > longestReason:
		return form.Problems{"": "A reason has at most 200 letters."}
	}
	return actor.OnceOnly(d, func(d UseCases) error {
		return actor.LearnIn(d.Workshop, func(l *pace.Learned) error {
			id, _ := strconv.ParseInt(key, 10, 64)
			var known bool
			switch of {
			case OfStep:
				known = aside(l.Steps, pace.StepKey(key), reason)
			case OfStudent:
				known = aside(l.Students, id, reason)
			case OfMachine:
				known = aside(l.Machines, id, reason)
			case OfDesign:
				known = aside(l.Designs, id, reason)
			case OfThread:
				if known = l.Thread.Measured(); known {
					l.Thread.Aside = reason
				}
			}
			if !known {
				return actor.NotFound("what was learned of %s", form.Shortened(form.Cleaned(key), 20))
			}
			return nil
		})
	})
}

func aside[K comparable](factors map[K]pace.Factor, key K, reason string) bool {
	f, known := factors[key]
	if known {
		f.Aside = reason
		factors[key] = f
	}
	return known
}
