package store

import (
	"context"
	"database/sql"
	"fmt"

	"github.com/pressly/goose/v3"

	"chalkstep/core/kit"
	"chalkstep/core/recipe"
	"chalkstep/core/supply"
)

// carryKeys is the seventh migration: what lies on the shelf and in the bags
// is named by keys. Words are read by the same functions that read them
// before, so it is one of Go.
var carryKeys = goose.NewGoMigration(7, &goose.GoFunc{RunTx: func(ctx context.Context, tx *sql.Tx) error {
	steps := []func(context.Context, *sql.Tx) error{statements(snakeDocuments, carryMinutes, addKeys), carryShelf,
		statements(dropWords), carryBags}
	for _, step := range steps {
		if err := step(ctx, tx); err != nil {
			return fmt.Errorf("naming things by keys: %w", err)
		}
	}
	return nil
}}, nil)

// statements is a step of plain SQL.
func statements(all ...string) func(context.Context, *sql.Tx) error {
	return func(ctx context.Context, tx *sql.Tx) error {
		for _, s := range all {
			if _, err := tx.ExecContext(ctx, s); err != nil {
				return err
			}
		}
		return nil
	}
}

const (
	// snakeDocuments spells the fields of documents as those of version 2 have
	// them: StudentsPerSpare becomes students_per_spare.
	snakeDocuments = `
		CREATE FUNCTION pg_temp.snake(doc jsonb) RETURNS jsonb LANGUAGE plpgsql AS $$
		BEGIN
			CASE jsonb_typeof(doc)
			WHEN 'object' THEN
				RETURN (SELECT coalesce(jsonb_object_agg(lower(regexp_replace(key, '([a-z])([A-Z])', '\1_\2', 'g')),
				pg_temp.snake(value)), '{}') FROM jsonb_each(doc));
			WHEN 'array' THEN
				RETURN (SELECT coalesce(jsonb_agg(pg_temp.snake(value) ORDER BY n), '[]')
				FROM jsonb_array_elements(doc) WITH ORDINALITY AS e (value, n));
			ELSE RETURN doc;
			END CASE;
		END $$;
		UPDATE workshops SET figures = '{"version": 2}' || pg_temp.snake(figures);
		UPDATE projects SET content = '{"version": 2}' || pg_temp.snake(content);
		UPDATE project_versions SET snapshot = pg_temp.snake(snapshot);`
	// carryMinutes keeps of a project's steps the minutes; the rest of a step
	// follows from the project. What follows otherwise is not kept: the minutes
	// of sewing, and those of work, which stand with the work.
	carryMinutes = `
		UPDATE projects p SET content = p.content || jsonb_build_object('minutes', coalesce((
			SELECT jsonb_object_agg(s.key, s.minutes) FROM project_steps s
			WHERE s.project_id = p.id AND s.key !~ '^(sew|work:|iron:)'), '{}'));
		UPDATE project_versions v SET snapshot = jsonb_set(v.snapshot - 'steps', '{content}',
		coalesce(v.snapshot -> 'content', '{}') || jsonb_build_object('version', 2, 'minutes', coalesce((
			SELECT jsonb_object_agg(s ->> 'key', s -> 'minutes')
			FROM jsonb_array_elements(CASE jsonb_typeof(v.snapshot -> 'steps') WHEN 'array' THEN v.snapshot -> 'steps'
			ELSE '[]' END) AS s
			WHERE s ->> 'key' !~ '^(sew|work:|iron:)'), '{}')));
		DROP TABLE project_steps;`
	addKeys = `
		ALTER TABLE stock_items
			ADD COLUMN key  text NOT NULL DEFAULT '',
			-- How it lies there, and so what it is counted in: millimetres of a
			-- roll, or pieces.
			ADD COLUMN form text NOT NULL DEFAULT 'each' CHECK (form IN ('roll', 'sheet', 'each'));`
	dropWords = `
		-- What waits for the end of the transaction would keep the table as it is.
		SET CONSTRAINTS ALL IMMEDIATE;
		ALTER TABLE stock_items
			DROP COLUMN kind, DROP COLUMN matches, DROP COLUMN color,
			ALTER COLUMN key DROP DEFAULT,
			ADD CHECK (key <> '' AND char_length(key) <= 500),
			ADD CHECK (form = 'each' OR width_mm > 0),
			ADD CHECK (form <> 'sheet' OR height_mm > 0),
			ADD CONSTRAINT stock_items_texts CHECK (char_length(name) <= 120 AND char_length(supplier) <= 120
			AND char_length(place) <= 120) NOT VALID;
		CREATE INDEX stock_items_by_key ON stock_items (workshop_id, key);`
)

// carryShelf gives each item of the shelf the key its words stood for.
func carryShelf(ctx context.Context, tx *sql.Tx) error {
	type item struct {
		id        int64
		key, form string
	}
	rows, err := tx.QueryContext(ctx, "SELECT id, kind, matches, name, color FROM stock_items")
	if err != nil {
		return err
	}
	defer rows.Close()
	var items []item
	for rows.Next() {
		var i item
		var kind, matches, name, color string
		if err := rows.Scan(&i.id, &kind, &matches, &name, &color); err != nil {
			return err
		}
		if matches == "" {
			matches = name // sundries were found by the name on the box, too
		}
		i.key = keyOfWords(kind, matches, color).String()
		switch i.form = "each"; kind {
		case "roll", "fabric":
			i.form = "roll"
		case "sheet":
			i.form = "sheet"
		}
		items = append(items, i)
	}
	if err := rows.Err(); err != nil {
		return err
	}
	for _, i := range items {
		if _, err := tx.ExecContext(ctx, "UPDATE stock_items SET key = $1, form = $2 WHERE id = $3", i.key, i.form,
			i.id); err != nil {
			return err
		}
	}
	return nil
}

// carryBags names the lines that are packed in bags by their IDs.
func carryBags(ctx context.Context, tx *sql.Tx) error {
	type bag struct {
		class, student int64
		packed         texts
	}
	rows, err := tx.QueryContext(ctx,
		"SELECT class_id, student_id, kit_packed FROM class_students WHERE cardinality(kit_packed) > 0")
	if err != nil {
		return err
	}
	defer rows.Close()
	var bags []bag
	for rows.Next() {
		var b bag
		if err := rows.Scan(&b.class, &b.student, &b.packed); err != nil {
			return err
		}
		bags = append(bags, b)
	}
	if err := rows.Err(); err != nil {
		return err
	}
	for _, b := range bags {
		for i, words := range b.packed {
			b.packed[i] = string(kit.ItemOfWords(words, fabricWords()))
		}
		if _, err := tx.ExecContext(ctx, "UPDATE class_students SET kit_packed = $1 WHERE class_id = $2 AND student_id = $3",
			b.packed, b.class, b.student); err != nil {
			return err
		}
	}
	return nil
}

// fabricWords are the fabrics of recipes as the shelf wrote them.
func fabricWords() []string {
	words := make([]string, len(recipe.Fabrics))
	for i, f := range recipe.Fabrics {
		words[i] = string(f)
	}
	return words
}

// keyOfWords is the key that words of the shelf stood for.
func keyOfWords(kind, matches, color string) supply.Key {
	return supply.FromWords(kind, matches, color, fabricWords())
}
