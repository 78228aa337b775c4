-- +goose Up
-- From when a class that was ended has nobody and nothing any more; nothing where it was not.
ALTER TABLE classes ADD COLUMN free_from timestamptz;

-- +goose StatementBegin
CREATE OR REPLACE FUNCTION class_students_take_time() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF TG_OP <> 'INSERT' THEN
        DELETE FROM student_times WHERE class_id = OLD.class_id AND student_id = OLD.student_id;
    END IF;
    IF TG_OP <> 'DELETE' THEN
        INSERT INTO student_times (workshop_id, student_id, class_id, during)
        SELECT c.workshop_id, NEW.student_id, c.id,
            tstzrange(c.starts_at, greatest(least(c.ends_at, c.free_from), c.starts_at + interval '1 minute')) FROM classes c
        WHERE c.id = NEW.class_id AND c.cancelled_at IS NULL AND NEW.attendance <> 'absent';
    END IF;
    RETURN NULL;
END $$;

CREATE OR REPLACE FUNCTION classes_take_time() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    DELETE FROM student_times WHERE class_id = NEW.id;
    INSERT INTO student_times (workshop_id, student_id, class_id, during)
    SELECT NEW.workshop_id, s.student_id, NEW.id,
        tstzrange(NEW.starts_at, greatest(least(NEW.ends_at, NEW.free_from), NEW.starts_at + interval '1 minute')) FROM class_students s
    WHERE s.class_id = NEW.id AND NEW.cancelled_at IS NULL AND s.attendance <> 'absent';
    RETURN NULL;
END $$;
-- +goose StatementEnd
DROP TRIGGER classes_take_time ON classes;
CREATE TRIGGER classes_take_time AFTER UPDATE OF starts_at, ends_at, cancelled_at, free_from ON classes FOR EACH ROW
    WHEN (OLD.starts_at <> NEW.starts_at OR OLD.ends_at <> NEW.ends_at OR OLD.cancelled_at IS DISTINCT FROM NEW.cancelled_at
        OR OLD.free_from IS DISTINCT FROM NEW.free_from) EXECUTE FUNCTION classes_take_time();
