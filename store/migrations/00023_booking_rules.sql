-- +goose Up
-- A machine is booked for practice, for a class, or for its care; who booked it, and why a
-- rule of the house was set aside for it.
ALTER TABLE bookings
    DROP CONSTRAINT bookings_check, -- for a student or a class
    ADD COLUMN purpose   text NOT NULL DEFAULT 'practice' CHECK (purpose IN ('practice', 'care')),
    ADD COLUMN note      text NOT NULL DEFAULT '' CHECK (char_length(note) <= 200),
    ADD COLUMN overrode  text NOT NULL DEFAULT '' CHECK (char_length(overrode) <= 200),
    ADD COLUMN booked_by bigint,
    ADD CONSTRAINT bookings_for_one CHECK (num_nonnulls(student_id, class_id) = CASE purpose WHEN 'care' THEN 0 ELSE 1 END),
    ADD CONSTRAINT bookings_booked_by FOREIGN KEY (workshop_id, booked_by) REFERENCES accounts (workshop_id, id);

-- Where students are: at a machine they booked, or in a class they do not miss. Nobody is
-- in two places at once.
CREATE TABLE student_times (
    id          bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    workshop_id bigint NOT NULL,
    student_id  bigint NOT NULL,
    booking_id  bigint UNIQUE REFERENCES bookings (id) ON DELETE CASCADE,
    class_id    bigint REFERENCES classes (id) ON DELETE CASCADE,
    during      tstzrange NOT NULL,
    CHECK (num_nonnulls(booking_id, class_id) = 1),
    UNIQUE (class_id, student_id),
    FOREIGN KEY (workshop_id, student_id) REFERENCES students (workshop_id, id),
    CONSTRAINT one_place_at_a_time EXCLUDE USING gist (student_id WITH =, during WITH &&)
);
INSERT INTO student_times (workshop_id, student_id, booking_id, during)
SELECT workshop_id, student_id, id, tstzrange(starts_at, ends_at) FROM bookings WHERE student_id IS NOT NULL ON CONFLICT DO NOTHING;
INSERT INTO student_times (workshop_id, student_id, class_id, during)
SELECT c.workshop_id, s.student_id, c.id, tstzrange(c.starts_at, c.ends_at) FROM class_students s JOIN classes c ON c.id = s.class_id
WHERE c.cancelled_at IS NULL AND s.attendance <> 'absent' ON CONFLICT DO NOTHING;

-- +goose StatementBegin
CREATE FUNCTION bookings_take_time() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    DELETE FROM student_times WHERE booking_id = NEW.id;
    INSERT INTO student_times (workshop_id, student_id, booking_id, during)
    SELECT NEW.workshop_id, NEW.student_id, NEW.id, tstzrange(NEW.starts_at, NEW.ends_at) WHERE NEW.student_id IS NOT NULL;
    RETURN NULL;
END $$;

CREATE FUNCTION class_students_take_time() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF TG_OP <> 'INSERT' THEN
        DELETE FROM student_times WHERE class_id = OLD.class_id AND student_id = OLD.student_id;
    END IF;
    IF TG_OP <> 'DELETE' THEN
        INSERT INTO student_times (workshop_id, student_id, class_id, during)
        SELECT c.workshop_id, NEW.student_id, c.id, tstzrange(c.starts_at, c.ends_at) FROM classes c
        WHERE c.id = NEW.class_id AND c.cancelled_at IS NULL AND NEW.attendance <> 'absent';
    END IF;
    RETURN NULL;
END $$;

CREATE FUNCTION classes_take_time() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    DELETE FROM student_times WHERE class_id = NEW.id;
    INSERT INTO student_times (workshop_id, student_id, class_id, during)
    SELECT NEW.workshop_id, s.student_id, NEW.id, tstzrange(NEW.starts_at, NEW.ends_at) FROM class_students s
    WHERE s.class_id = NEW.id AND NEW.cancelled_at IS NULL AND s.attendance <> 'absent';
    RETURN NULL;
END $$;
-- +goose StatementEnd
CREATE TRIGGER bookings_take_time AFTER INSERT OR UPDATE OF student_id, starts_at, ends_at ON bookings FOR EACH ROW EXECUTE FUNCTION bookings_take_time();
CREATE TRIGGER class_students_take_time AFTER INSERT OR DELETE OR UPDATE OF attendance, student_id ON class_students FOR EACH ROW EXECUTE FUNCTION class_students_take_time();
CREATE TRIGGER classes_take_time AFTER UPDATE OF starts_at, ends_at, cancelled_at ON classes FOR EACH ROW
    WHEN (OLD.starts_at <> NEW.starts_at OR OLD.ends_at <> NEW.ends_at OR OLD.cancelled_at IS DISTINCT FROM NEW.cancelled_at) EXECUTE FUNCTION classes_take_time();
