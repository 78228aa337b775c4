package store

import (
	"time"

	"chalkstep/core/classday"
	"chalkstep/core/live"
	"chalkstep/core/pace"
	"chalkstep/core/skill"
)

// Made lists what a student made in classes that have begun, the newest first.
func (w Workshop) Made(studentID int64, now time.Time, limit int) ([]skill.Made, error) {
	var rows []struct {
		ClassID  int64
		Class    string
		Project  string
		At       time.Time
		Reached  string
		Note     string
		HasPhoto bool
		Version  int
		Bad      *int
		Signed   bool
		Missed   bool
	}
	err := w.db.Raw(`SELECT c.id AS class_id, c.name AS class, p.name AS project, c.starts_at AS at, coalesce(o.reached,
		'') AS reached, coalesce(o.note, '') AS note,
			coalesce(o.photo_width, 0) > 0 AS has_photo, coalesce(o.version, 0) AS version, cardinality(i.bad) AS bad,
			s.attendance = @absent AS missed,
			EXISTS (SELECT FROM class_events_effective e
				WHERE e.class_id = c.id AND e.student_id = s.student_id AND e.kind = @done AND e.step = @last) AS signed
		FROM class_students s JOIN classes c ON c.id = s.class_id
		JOIN projects p ON p.id = coalesce(s.project_id, c.project_id)
		LEFT JOIN class_outcomes o ON o.class_id = c.id AND o.student_id = s.student_id
		LEFT JOIN inspections i ON i.class_id = c.id AND i.student_id = s.student_id
		WHERE s.workshop_id = @w AND s.student_id = @student AND c.off_at IS NULL AND c.starts_at <= @now
		ORDER BY c.starts_at DESC, c.id DESC LIMIT @limit`,
		map[string]any{"w": w.id, "student": studentID, "now": now, "limit": limit, "absent": classday.Absent,
			"done": live.Done, "last": pace.StepSignOff}).Scan(&rows).Error
	made := make([]skill.Made, len(rows))
	for i, r := range rows {
		m := skill.Made{ClassID: r.ClassID, Class: r.Class, Project: r.Project, At: r.At, Note: r.Note, HasPhoto: r.HasPhoto,
			Version: r.Version, Inspected: r.Bad != nil}
		m.Finished = r.Reached == string(live.Finished) || r.Reached == "" && r.Signed
		m.Missed = r.Reached == string(live.Missing) || r.Reached == "" && r.Missed
		if r.Bad != nil {
			m.ToPutRight = *r.Bad
		}
		made[i] = m
	}
	return made, explain("listing what a student made", err)
}
