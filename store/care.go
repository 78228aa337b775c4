package store

import (
	"time"

	"chalkstep/core/fleet/care"
)

// A machineCareRow is something that was done to a machine.
type machineCareRow struct {
	ID         int64
	WorkshopID int64
	MachineID  int64
	Kind       care.Kind
	DoneAt     time.Time
	DoneBy     int64
	Note       string
	// ClassID and Seq are of the event of a class that told it, nil for none.
	ClassID, Seq *int64
}

// CareFor writes down what was done to a machine, by somebody.
func (w Workshop) CareFor(machineID int64, done care.Done, byID int64) error {
	row := machineCareRow{MachineID: machineID, Kind: done.Kind, DoneAt: done.At, DoneBy: byID, Note: done.Note}
	return explain("noting the care of a machine", w.db.Create(&row).Error)
}

// CaredFor lists what was done to a machine, the newest first.
func (w Workshop) CaredFor(machineID int64, limit int) ([]care.Done, error) {
	var rows []struct {
		Row machineCareRow `gorm:"embedded"`
		By  string
	}
	err := w.db.Raw(`SELECT c.*, a.name AS by FROM machine_cares_effective c JOIN accounts a ON a.id = c.done_by
		WHERE c.workshop_id = ? AND c.machine_id = ? ORDER BY c.done_at DESC, c.id DESC LIMIT ?`, w.id, machineID,
		limit).Scan(&rows).Error
	done := make([]care.Done, len(rows))
	for i, r := range rows {
		done[i] = care.Done{ID: r.Row.ID, Kind: r.Row.Kind, At: r.Row.DoneAt, By: r.By, Note: r.Row.Note}
	}
	return done, explain("reading the care of a machine", err)
}

// CareStates are how the machines stand since each kind of care was last done to them, in
// the order of the kinds, and how often thread broke on each, by the machine's number.
func (w Workshop) CareStates() (map[int64][]care.State, map[int64]care.Tally, error) {
	var rows []struct {
		MachineID int64
		Kind      care.Kind
		LastID    *int64
		DoneAt    *time.Time
		By        string
		Note      string
		Minutes   float64
		Stitches  int
		Struck    *time.Time
		Breaks    int
		Watched   int
	}
	kinds := make(texts, len(care.Kinds))
	for i, k := range care.Kinds {
		kinds[i] = string(k)
	}
	err := w.db.Raw(`SELECT m.id AS machine_id, k.kind, c.id AS last_id, c.done_at, coalesce(a.name, '') AS by,
		coalesce(c.note, '') AS note,
			s.struck, r.minutes, r.stitches, r.breaks, r.watched
		FROM machines m CROSS JOIN unnest(?::text[]) WITH ORDINALITY AS k (kind, n)
		LEFT JOIN LATERAL (SELECT * FROM machine_cares_effective c WHERE c.machine_id = m.id AND c.kind = k.kind
		ORDER BY c.done_at DESC, c.id DESC LIMIT 1) AS c ON true
		LEFT JOIN accounts a ON a.id = c.done_by
		LEFT JOIN LATERAL (SELECT max(struck_at) AS struck FROM machine_strikes x
		JOIN class_events_effective USING (class_id, seq)
			WHERE x.machine_id = m.id AND struck_at > coalesce(c.done_at, '-infinity')) AS s ON true
		LEFT JOIN (SELECT r.machine_id, k.kind, sum(r.breaks) AS breaks, sum(r.watched) AS watched,
				coalesce(sum(r.minutes) FILTER (WHERE r.ran_at > l.done_at OR l.done_at IS NULL), 0) AS minutes,
				coalesce(sum(r.stitches) FILTER (WHERE r.ran_at > l.done_at OR l.done_at IS NULL), 0) AS stitches
			FROM machine_runs r CROSS JOIN unnest(?::text[]) AS k (kind)
			LEFT JOIN (SELECT machine_id, kind, max(done_at) AS done_at FROM machine_cares_effective WHERE workshop_id = ?
			GROUP BY machine_id, kind) AS l
				ON l.machine_id = r.machine_id AND l.kind = k.kind
			WHERE r.workshop_id = ? GROUP BY r.machine_id, k.kind) AS r ON r.machine_id = m.id AND r.kind = k.kind
		WHERE m.workshop_id = ? AND m.retired_at IS NULL ORDER BY m.name, m.id, k.n`, kinds, kinds, w.id, w.id,
		w.id).Scan(&rows).Error
	states, tallies := map[int64][]care.State{}, map[int64]care.Tally{}
	for _, r := range rows {
		s := care.State{Kind: r.Kind, Minutes: r.Minutes, Stitches: r.Stitches}
		if r.LastID != nil {
			s.Last = &care.Done{ID: *r.LastID, Kind: r.Kind, At: *r.DoneAt, By: r.By, Note: r.Note}
		}
		if r.Struck != nil {
			s.Struck = *r.Struck
		}
		states[r.MachineID] = append(states[r.MachineID], s)
		tallies[r.MachineID] = care.Tally{Breaks: r.Breaks, Stitches: r.Watched}
	}
	return states, tallies, explain("reading how the machines stand", err)
}

// A machineStrikeRow is a needle that struck.
type machineStrikeRow struct {
	WorkshopID int64
	ClassID    int64
	Seq        int64
	MachineID  int64
	StruckAt   time.Time
}
