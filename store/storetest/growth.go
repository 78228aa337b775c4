package storetest

import (
	"context"
	"database/sql"
	"fmt"
	"testing"
)

// A Size is how much a workshop has gathered.
type Size struct{ Students, SignOffs, Bookings, Designs, Projects, Classes, StitchOuts, Stock int }

// Sizes of a workshop after some years, and of one a good deal younger.
var (
	Grown = Size{Students: 2000, SignOffs: 50_000, Bookings: 100_000, Designs: 500, Projects: 120, Classes: 200,
		StitchOuts: 20_000, Stock: 400}
	Young = Size{Students: 60, SignOffs: 600, Bookings: 200, Designs: 30, Projects: 20, Classes: 12, StitchOuts: 100,
		Stock: 40}
)

// Grow fills the workshop of the demo, in the database at url, up to a size,
// by copies of what is there: half of the classes are over, half to come.
func Grow(t testing.TB, url string, size Size) {
	t.Helper()
	db, err := sql.Open("pgx", url)
	if err != nil {
		t.Fatal(err)
	}
	defer db.Close()
	for _, s := range []struct {
		what string
		sql  string
		args []any
	}{
		{"students", `INSERT INTO students (workshop_id, name, first_timer)
			SELECT 1, 'Student ' || to_char(n, 'FM00000') || ' ' || (ARRAY['Vale', 'Thorne', 'Okafor', 'Petrova',
			'Nguyen'])[1 + n % 5], n % 3 = 0
			FROM generate_series(1, $1::int - (SELECT count(*)::int FROM students)) AS n`, []any{size.Students}},
		{"sign-offs", `INSERT INTO sign_offs (workshop_id, student_id, skill, machine_kind, signed_on, assessor_id)
			SELECT 1, s.id, k.skill, m.kind, date '2026-01-01' + (s.id % 300)::int, 1
			FROM students s, (SELECT skill, row_number() OVER (ORDER BY skill) AS rung FROM (SELECT DISTINCT skill
			FROM sign_offs) AS known) AS k,
				(VALUES ('single-needle'), ('multi-needle')) AS m (kind)
			ORDER BY k.rung, m.kind DESC, s.id LIMIT $1 ON CONFLICT DO NOTHING`, []any{size.SignOffs}},
		// What is reached is there already.
		{"marks", `
			INSERT INTO marks (workshop_id, student_id, skill, machine_kind, level, marked_on, assessor_id)
			SELECT o.workshop_id, o.student_id, o.skill, o.machine_kind, 'alone', o.signed_on, o.assessor_id FROM sign_offs o
			WHERE NOT EXISTS (SELECT 1 FROM marks m WHERE m.student_id = o.student_id)`, nil},
		// Rows made by the thousand may have somebody in two places, which no page shows.
		{"where students are", `ALTER TABLE bookings DISABLE TRIGGER bookings_take_time`, nil},
		{"where students are", `ALTER TABLE class_students DISABLE TRIGGER class_students_take_time`, nil},
		{"bookings", `INSERT INTO bookings (workshop_id, machine_id, student_id, starts_at, ends_at, accompanied)
			SELECT 1, 1 + n % 5, s.id, date_trunc('day',
			now()) - interval '400 days' + (n / 5) * interval '3 hours' + interval '17 minutes',
				date_trunc('day', now()) - interval '400 days' + (n / 5) * interval '3 hours' + interval '67 minutes', true
			FROM generate_series(0, $1::int - 1) AS n
			JOIN (SELECT id, row_number() OVER (ORDER BY id) - 1 AS at, count(*) OVER () AS total
			FROM students) AS s ON s.at = n % s.total
			ON CONFLICT DO NOTHING`, []any{size.Bookings}},
		{"designs", `WITH copies AS (
				INSERT INTO designs (workshop_id, name, file_name, format, original, sha256, stitches_sha256, width_mm, height_mm,
				stitches, jumps, trims, color_changes, warnings,
					added_at, coverage, short_stitches, long_stitches, narrowest_satin_mm, lettering_mm, level, tags)
				SELECT 1, d.name || ' ' || n, d.file_name, d.format, d.original, sha256(('copy ' || n)::bytea), NULL, d.width_mm,
				d.height_mm, d.stitches, d.jumps, d.trims, d.color_changes, d.warnings,
					d.added_at, d.coverage, d.short_stitches, d.long_stitches, d.narrowest_satin_mm, d.lettering_mm, d.level, d.tags
				FROM generate_series(1, $1::int - 7) AS n JOIN designs d ON d.id = 1 + n % 7 AND d.id <= 7 RETURNING id, file_name)
			INSERT INTO design_stops (workshop_id, design_id, n, color, role, sews, stitches, jumps, trims, snips, thread_mm,
			coverage, left_mm, bottom_mm, right_mm, top_mm)
			SELECT 1, c.id, s.n, s.color, s.role, s.sews, s.stitches, s.jumps, s.trims, s.snips, s.thread_mm, s.coverage,
			s.left_mm, s.bottom_mm, s.right_mm, s.top_mm
			FROM copies c JOIN designs d ON d.file_name = c.file_name AND d.id <= 7 JOIN design_stops s ON s.design_id = d.id`,
			[]any{size.Designs}},
		{"pictures", `INSERT INTO design_pictures (workshop_id, design_id, kind, media_type, picture)
			SELECT 1, c.id, p.kind, p.media_type, p.picture FROM designs c JOIN designs d ON d.file_name = c.file_name
			AND d.id <= 7 JOIN design_pictures p ON p.design_id = d.id
			WHERE c.id > 7 ON CONFLICT DO NOTHING`, nil},
		{"stitch-outs", `INSERT INTO stitch_outs (workshop_id, design_id, machine_id, logged_by, sewn_on, fabric, minutes,
			thread_metres, estimated_minutes, estimated_sewing, sewn_minutes, path_mm, ends)
			SELECT 1, (SELECT min(id) FROM designs) + n % (SELECT count(*)::int
			FROM designs), 1 + n % 5, 1, date '2026-01-01' + n % 300, 'canvas', 12, 10, 12, 8, 8, 7000, 9
			FROM generate_series(1, $1::int) AS n WHERE EXISTS (SELECT 1 FROM designs d WHERE d.id = (SELECT min(id)
			FROM designs) + n % (SELECT count(*)::int FROM designs))`, []any{size.StitchOuts}},
		{"projects", `WITH copies AS (
				INSERT INTO projects (workshop_id, name, design_id, blank, blank_width_mm, blank_height_mm, fabric, uses, content)
				SELECT 1, p.name || ' ' || n, p.design_id, p.blank, p.blank_width_mm, p.blank_height_mm, p.fabric, p.uses, p.content
				FROM generate_series(1, $1::int - 6) AS n JOIN projects p ON p.id = 1 + n % 6 AND p.id <= 6
				RETURNING id, name, design_id),
			versions AS (INSERT INTO project_versions (workshop_id, project_id, version, snapshot)
				SELECT 1, c.id, 1, v.snapshot FROM copies c JOIN projects p ON p.id <= 6 AND c.name LIKE p.name || ' %'
				JOIN project_versions v ON v.project_id = p.id AND v.version = p.version RETURNING project_id)
			SELECT count(*) FROM versions`, []any{size.Projects}},
		{"what versions sew", `INSERT INTO project_version_designs (workshop_id, project_id, version, hooping, design_id)
			SELECT 1, v.project_id, v.version, 1, (v.snapshot->>'design_id')::bigint FROM project_versions v
			ON CONFLICT DO NOTHING`, nil},
		{"classes", `WITH made AS (
				INSERT INTO classes (workshop_id, name, project_id, project_version, starts_at, ends_at, instructors, irons)
				SELECT 1, 'Class ' || n, p.id, p.version, date_trunc('day',
				now()) + (n - $1::int / 2) * interval '1 day' + interval '10 hours', date_trunc('day',
				now()) + (n - $1::int / 2) * interval '1 day' + interval '13 hours', 1, 1
				FROM generate_series(1, $1::int - 4) AS n
				JOIN (SELECT id, version, row_number() OVER (ORDER BY id) - 1 AS at, count(*) OVER () AS total FROM projects
				WHERE name NOT LIKE 'Compass%') AS p ON p.at = n % p.total
				RETURNING id, starts_at, ends_at),
			roster AS (INSERT INTO class_students (workshop_id, class_id, student_id)
			SELECT 1, m.id, 1 + (m.id * 7 + k) % $2::int FROM made m, generate_series(1, 8) AS k ON CONFLICT DO NOTHING)
			SELECT count(*) FROM made`, []any{size.Classes, size.Students}},
		// A class that finds a machine taken does without it, so that copies
		// need no empty calendar.
		{"machines of classes",
			`DELETE FROM bookings b USING classes c WHERE b.class_id IS NULL AND c.id > 4
				AND tstzrange(b.starts_at, b.ends_at) && tstzrange(c.starts_at, c.ends_at)`, nil},
		{"machines of classes", `INSERT INTO bookings (workshop_id, machine_id, class_id, starts_at, ends_at)
			SELECT 1, m, c.id, c.starts_at, c.ends_at FROM classes c, (VALUES (1), (2), (4), (5)) AS v (m)
			WHERE c.id > 4 AND NOT EXISTS (SELECT 1 FROM bookings b WHERE b.machine_id = m
			AND tstzrange(b.starts_at, b.ends_at) && tstzrange(c.starts_at, c.ends_at)) ON CONFLICT DO NOTHING`, nil},
		{"machines chosen for classes",
			`INSERT INTO class_machines (workshop_id, class_id, machine_id) SELECT workshop_id, class_id, machine_id
				FROM bookings WHERE class_id IS NOT NULL ON CONFLICT DO NOTHING`, nil},
		{"stock", `WITH bought AS (
				INSERT INTO stock_items (workshop_id, key, form, name, metres, pack, reorder_point, place)
				SELECT 1, 'thread;fibre=polyester+40;color=%23' || substr(md5(n::text), 1, 6), 'spool', 'Thread ' || to_char(n,
				'FM000'), 1000, 1e6, 1e6, 'wall B' FROM generate_series(1, $1::int) AS n RETURNING id)
			INSERT INTO stock_movements (workshop_id, item_id, kind, quantity, moved_by, moved_at)
			SELECT 1, id, 'bought', 5e6, 1, now() FROM bought`, []any{size.Stock}},
		{"where students are", `ALTER TABLE bookings ENABLE TRIGGER bookings_take_time`, nil},
		{"where students are", `ALTER TABLE class_students ENABLE TRIGGER class_students_take_time`, nil},
		{"statistics", "ANALYZE", nil},
	} {
		if _, err := db.ExecContext(context.Background(), s.sql, s.args...); err != nil {
			t.Fatal(fmt.Errorf("growing %s: %w", s.what, err))
		}
	}
}
