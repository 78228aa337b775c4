-- +goose Up
-- When a student was last marked on each kind of machine, which follows from the marks, and
-- why they may not book alone for now, where somebody said so.
ALTER TABLE students
    ADD COLUMN seen_single_needle date,
    ADD COLUMN seen_multi_needle  date,
    ADD COLUMN suspended text NOT NULL DEFAULT '' CHECK (char_length(suspended) <= 200);

-- +goose StatementBegin
CREATE FUNCTION marks_are_seen() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    UPDATE students s SET
        seen_single_needle = (SELECT max(marked_on) FROM marks m WHERE m.student_id = s.id AND m.machine_kind = 'single-needle' AND m.taken_back_at IS NULL),
        seen_multi_needle  = (SELECT max(marked_on) FROM marks m WHERE m.student_id = s.id AND m.machine_kind = 'multi-needle' AND m.taken_back_at IS NULL)
    WHERE s.id = NEW.student_id;
    RETURN NULL;
END $$;
-- +goose StatementEnd
CREATE TRIGGER marks_are_seen AFTER INSERT OR UPDATE ON marks FOR EACH ROW EXECUTE FUNCTION marks_are_seen();
UPDATE students s SET
    seen_single_needle = (SELECT max(marked_on) FROM marks m WHERE m.student_id = s.id AND m.machine_kind = 'single-needle'),
    seen_multi_needle  = (SELECT max(marked_on) FROM marks m WHERE m.student_id = s.id AND m.machine_kind = 'multi-needle');
