-- +goose Up
-- What staff say of a student after a class: a note, a photo of the piece, that the kit of
-- unfinished work waits on the shelf, and, of a class that was not run here, how far they
-- came.
CREATE TABLE class_outcomes (
    workshop_id  bigint NOT NULL,
    class_id     bigint NOT NULL,
    student_id   bigint NOT NULL,
    reached      text NOT NULL DEFAULT '' CHECK (reached IN ('', 'finished', 'to-finish', 'not-started', 'missing')),
    note         text NOT NULL DEFAULT '' CHECK (char_length(note) <= 500),
    kit_kept     boolean NOT NULL DEFAULT false,
    photo        bytea,
    photo_type   text NOT NULL DEFAULT '',
    photo_width  int NOT NULL DEFAULT 0,
    photo_height int NOT NULL DEFAULT 0,
    version      int NOT NULL DEFAULT 1,
    PRIMARY KEY (class_id, student_id),
    FOREIGN KEY (workshop_id, class_id) REFERENCES classes (workshop_id, id) ON DELETE CASCADE,
    FOREIGN KEY (workshop_id, student_id) REFERENCES students (workshop_id, id),
    CHECK ((photo IS NULL) = (photo_type = ''))
);
SELECT revises('class_outcomes');
