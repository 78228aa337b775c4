package store

import (
	"context"
	"time"

	"chalkstep/core/pace"
)

// A stepTimeRow is how long a step took, as an event of a class tells.
type stepTimeRow struct {
	WorkshopID     int64
	ClassID        int64
	Seq            int64
	StudentID      int64
	MachineID      int64
	DesignID       int64
	Step           pace.StepKey
	HappenedAt     time.Time
	SaidMinutes    float64
	PlannedMinutes float64
	TookMinutes    float64
	Breaks         int
	Stitches       int
}

// Observe writes down how long a step took, which an event of its class tells.
func (w Workshop) Observe(seq int64, o pace.Observation) error {
	row := stepTimeRow{
		ClassID: o.ClassID, Seq: seq, StudentID: o.StudentID, MachineID: o.MachineID, DesignID: o.DesignID, Step: o.Step,
		HappenedAt:  o.At,
		SaidMinutes: o.SaidMinutes, PlannedMinutes: o.PlannedMinutes, TookMinutes: o.TookMinutes, Breaks: o.Breaks,
		Stitches: o.Stitches,
	}
	return explain("noting how long a step took", w.db.Create(&row).Error)
}

// MostObserved are learned from, the newest.
const MostObserved = 5000

// Observed lists the newest of what was observed in classes, without what was taken back.
func (w Workshop) Observed() ([]pace.Observation, error) {
	var rows []struct {
		Row   stepTimeRow `gorm:"embedded"`
		Class string
	}
	err := w.db.Raw(`SELECT t.*, c.name AS class FROM step_times t JOIN class_events_effective USING (class_id, seq)
		JOIN classes c ON c.id = t.class_id
		WHERE t.workshop_id = ?
		ORDER BY t.happened_at DESC, t.class_id, t.seq LIMIT ?`, w.id, MostObserved).Scan(&rows).Error
	observed := make([]pace.Observation, len(rows))
	for i, r := range rows {
		t := r.Row
		observed[i] = pace.Observation{
			ClassID: t.ClassID, Class: r.Class, At: t.HappenedAt, Step: t.Step, StudentID: t.StudentID, MachineID: t.MachineID,
			DesignID:    t.DesignID,
			SaidMinutes: t.SaidMinutes, PlannedMinutes: t.PlannedMinutes, TookMinutes: t.TookMinutes, Breaks: t.Breaks,
			Stitches: t.Stitches,
		}
	}
	return observed, explain("reading how long steps took", err)
}

// SaveLearned keeps what was learned.
func (w Workshop) SaveLearned(l pace.Learned) error {
	return found("keeping what was learned",
		w.db.Model(&workshopRow{}).Where("id = ?", w.id).Select("Learned").Updates(workshopRow{Learned: l}))
}

// LockLearned lets one transaction at a time decide what was learned, and gives it.
func (w Workshop) LockLearned() (pace.Learned, error) {
	var row workshopRow
	if err := w.db.Exec("SELECT pg_advisory_xact_lock(hashtextextended('chalkstep: learned', ?))",
		w.id).Error; err != nil {
		return pace.Learned{}, explain("locking what was learned", err)
	}
	err := w.db.First(&row, w.id).Error
	return row.Learned, explain("reading what was learned", err)
}

// Quiet are the workshops in which no class runs at a moment: what is learned there changes
// no plan that people work by.
func (s *Store) Quiet(ctx context.Context, now time.Time) ([]int64, error) {
	const most = 10_000
	var ids []int64
	err := s.db.WithContext(ctx).Raw(`SELECT w.id FROM workshops w WHERE NOT EXISTS (SELECT 1 FROM classes c
			WHERE c.workshop_id = w.id AND c.off_at IS NULL AND c.starts_at <= ? AND c.ends_at > ?) ORDER BY w.id LIMIT ?`,
		now.Add(time.Hour), now.Add(-time.Hour), most).Scan(&ids).Error
	return ids, explain("looking where no class runs", err)
}

// Names of what factors are of, by number.
type Names struct{ Students, Machines, Designs map[int64]string }

// NamesOf finds what the numbers of factors stand for.
func (w Workshop) NamesOf(l pace.Learned) (Names, error) {
	names := Names{map[int64]string{}, map[int64]string{}, map[int64]string{}}
	var rows []struct {
		Kind string
		ID   int64
		Name string
	}
	keys := func(of map[int64]pace.Factor) []int64 {
		ids := []int64{0}
		for id := range of {
			ids = append(ids, id)
		}
		return ids
	}
	err := w.db.Raw(`SELECT 'student' AS kind, id, name FROM students WHERE workshop_id = @w AND id IN @students
		UNION ALL SELECT 'machine', id, name FROM machines WHERE workshop_id = @w AND id IN @machines
		UNION ALL SELECT 'design', id, name FROM designs WHERE workshop_id = @w AND id IN @designs`,
		map[string]any{"w": w.id, "students": keys(l.Students), "machines": keys(l.Machines),
			"designs": keys(l.Designs)}).Scan(&rows).Error
	for _, r := range rows {
		switch r.Kind {
		case "student":
			names.Students[r.ID] = r.Name
		case "machine":
			names.Machines[r.ID] = r.Name
		case "design":
			names.Designs[r.ID] = r.Name
		}
	}
	return names, explain("finding what was learned of", err)
}
