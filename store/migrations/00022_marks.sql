-- +goose Up
-- How a student did a step of the ladder on a kind of machine: marks are only added, and
-- taken back where they were given by mistake. What counts as reached follows from them,
-- and is kept beside as sign_offs, which is what plans and lists read.
CREATE TABLE marks (
    id            bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    workshop_id   bigint NOT NULL,
    student_id    bigint NOT NULL,
    skill         text NOT NULL CHECK (char_length(skill) BETWEEN 1 AND 60),
    machine_kind  text NOT NULL CHECK (machine_kind IN ('single-needle', 'multi-needle')),
    level         text NOT NULL CHECK (level IN ('shown', 'helped', 'alone', 'teaches')),
    marked_on     date NOT NULL,
    noted_at      timestamptz NOT NULL DEFAULT now(),
    assessor_id   bigint NOT NULL,
    note          text NOT NULL DEFAULT '' CHECK (char_length(note) <= 500),
    -- Seen in this class, where it was given in wrapping one up.
    class_id      bigint,
    taken_back_at timestamptz,
    taken_back_by bigint,
    CHECK ((taken_back_at IS NULL) = (taken_back_by IS NULL)),
    FOREIGN KEY (workshop_id, student_id) REFERENCES students (workshop_id, id),
    FOREIGN KEY (workshop_id, assessor_id) REFERENCES accounts (workshop_id, id),
    FOREIGN KEY (workshop_id, class_id) REFERENCES classes (workshop_id, id),
    FOREIGN KEY (workshop_id, taken_back_by) REFERENCES accounts (workshop_id, id)
);
CREATE INDEX marks_by_student ON marks (student_id, skill, machine_kind) WHERE taken_back_at IS NULL;
CREATE UNIQUE INDEX marks_once_a_class ON marks (class_id, student_id, skill, machine_kind) WHERE class_id IS NOT NULL AND taken_back_at IS NULL;
SELECT revises('marks');

INSERT INTO marks (workshop_id, student_id, skill, machine_kind, level, marked_on, noted_at, assessor_id)
SELECT workshop_id, student_id, skill, machine_kind, 'alone', signed_on, signed_on, assessor_id FROM sign_offs ORDER BY signed_on;
ALTER TABLE sign_offs ADD COLUMN alone boolean NOT NULL DEFAULT true;

-- +goose StatementBegin
CREATE FUNCTION marks_are_kept() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF TG_OP = 'DELETE' OR OLD.taken_back_at IS NOT NULL OR (to_jsonb(NEW) - 'taken_back_at' - 'taken_back_by') <> (to_jsonb(OLD) - 'taken_back_at' - 'taken_back_by') THEN
        RAISE EXCEPTION 'a mark is never changed: take it back and give another';
    END IF;
    RETURN NEW;
END $$;

-- A step counts as reached from when it was done alone once, or with help twice; two at
-- once wait for each other at the student.
CREATE FUNCTION marks_reach() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM 1 FROM students WHERE id = NEW.student_id FOR NO KEY UPDATE;
    DELETE FROM sign_offs WHERE student_id = NEW.student_id AND skill = NEW.skill AND machine_kind = NEW.machine_kind;
    INSERT INTO sign_offs (workshop_id, student_id, skill, machine_kind, signed_on, assessor_id, alone)
    SELECT m.workshop_id, m.student_id, m.skill, m.machine_kind, m.marked_on, m.assessor_id, m.ever_alone
    FROM (SELECT o.*, count(*) FILTER (WHERE o.level = 'helped') OVER (ORDER BY o.marked_on, o.id) AS helped,
            bool_or(o.level IN ('alone', 'teaches')) OVER () AS ever_alone
        FROM marks o WHERE o.student_id = NEW.student_id AND o.skill = NEW.skill AND o.machine_kind = NEW.machine_kind AND o.taken_back_at IS NULL) AS m
    WHERE m.level IN ('alone', 'teaches') OR m.helped >= 2
    ORDER BY m.marked_on, m.id LIMIT 1;
    RETURN NULL;
END $$;
-- +goose StatementEnd
CREATE TRIGGER marks_are_kept BEFORE UPDATE OR DELETE ON marks FOR EACH ROW EXECUTE FUNCTION marks_are_kept();
CREATE TRIGGER marks_reach AFTER INSERT OR UPDATE ON marks FOR EACH ROW EXECUTE FUNCTION marks_reach();
