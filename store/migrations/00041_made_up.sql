-- +goose Up
-- Whether somebody did a step so that nobody had to be called, as the log of a class shows.
ALTER TABLE marks ADD COLUMN clean boolean NOT NULL DEFAULT false,
    ADD CONSTRAINT marks_clean_as_a_class_shows CHECK (NOT clean OR class_id IS NOT NULL);

-- A booking in which what was begun in a class, or missed, is finished.
ALTER TABLE bookings ADD COLUMN makes_up bigint,
    ADD CONSTRAINT bookings_make_up_for_a_class FOREIGN KEY (workshop_id, makes_up) REFERENCES classes (workshop_id, id),
    ADD CONSTRAINT bookings_make_up_of_a_student CHECK (makes_up IS NULL OR student_id IS NOT NULL);

-- A time to finish is told too.
ALTER TABLE messages DROP CONSTRAINT messages_kind_check,
    ADD CONSTRAINT messages_kind_is_known CHECK (kind IN ('filled', 'given-up', 'moved', 'dropped', 'cancelled', 'make-up'));
