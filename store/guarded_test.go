package store_test

import (
	"testing"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"chalkstep/core/skill"
	"chalkstep/store/storetest"
)

// What the database keeps from being changed, even by who writes to it past the program.
func TestWhatIsWrittenDownStays(t *testing.T) {
	address := storetest.URL(t)
	w, f := shop(t, storetest.On(t, address), "guarded")
	_, err := w.Mark(skill.Mark{StudentID: f.student, Skill: skill.Bobbin, On: skill.SingleNeedle, Level: skill.Helped,
		Date: morning}, f.person)
	require.NoError(t, err)
	db, err := pgx.Connect(t.Context(), address)
	require.NoError(t, err)
	defer db.Close(t.Context())
	for statement, says := range map[string]string{
		"UPDATE audit SET name = 'somebody'":     "never changed",
		"DELETE FROM audit":                      "never changed",
		"UPDATE marks SET level = 'teaches'":     "take it back",
		"DELETE FROM marks":                      "take it back",
		"UPDATE marks SET note = 'well, nearly'": "take it back",
		"INSERT INTO student_times (workshop_id, student_id, class_id, during) SELECT workshop_id, student_id, class_id, " +
			"during FROM student_times": "student_times",
	} {
		_, err := db.Exec(t.Context(), statement)
		assert.ErrorContains(t, err, says, statement)
	}
	var rows int
	require.NoError(t, db.QueryRow(t.Context(), "SELECT count(*) FROM audit WHERE what = 'marks'").Scan(&rows))
	assert.Equal(t, 2, rows, "that of the fixture and this one")
	_, err = db.Exec(t.Context(), "UPDATE marks SET taken_back_at = now(), taken_back_by = $1 WHERE skill = 'bobbin'",
		f.person)
	require.NoError(t, err)
	_, err = db.Exec(t.Context(), "UPDATE marks SET taken_back_at = NULL, taken_back_by = NULL WHERE skill = 'bobbin'")
	assert.ErrorContains(t, err, "take it back", "it is not given again")
}
