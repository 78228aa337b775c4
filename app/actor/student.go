package actor

import "chalkstep/core/skill"

// A StudentLine is a student as the list shows them.
type StudentLine struct {
	skill.Student
	SignedCount int
	// Next is the next rung; Top tells there is none left.
	Next skill.Step
	Top  bool
	// Alone lists the kinds of machine the student may book alone.
	Alone []string
	// Clearances are those of each kind.
	Clearances []skill.Clearance
}

// StudentLine is a student as a list shows them.
func (d Actor) StudentLine(s skill.Student) (StudentLine, error) {
	line := StudentLine{Student: s}
	signed := s.Signed()
	line.SignedCount = len(signed)
	settings, err := d.Settings()
	if err != nil {
		return line, err
	}
	next, ok := settings.Ladder.Next(signed)
	line.Next, line.Top = next, !ok
	for _, kind := range skill.Kinds {
		c, err := d.Clearance(s, kind)
		if err != nil {
			return line, err
		}
		line.Clearances = append(line.Clearances, c)
		if c.May() {
			line.Alone = append(line.Alone, string(kind))
		}
	}
	return line, nil
}

// Ladder is that of the workshop.
func (d Actor) Ladder() (skill.Ladder, error) {
	if err := d.Need(See); err != nil {
		return nil, err
	}
	settings, err := d.Settings()
	return settings.Ladder, err
}

// Clearance is whether a student may be at a kind of machine alone, by the rules of the house.
func (d Actor) Clearance(s skill.Student, on skill.Kind) (skill.Clearance, error) {
	settings, err := d.Settings()
	return s.ClearanceOn(settings.Ladder, on, settings.Booking.IdleDays, d.Now), err
}
