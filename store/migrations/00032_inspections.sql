-- +goose Up
-- What was looked at of a piece that somebody made in a class: what was good, and what was
-- to be put right.
CREATE TABLE inspections (
    workshop_id  bigint NOT NULL,
    class_id     bigint NOT NULL,
    student_id   bigint NOT NULL,
    good         text[] NOT NULL CHECK (cardinality(good) <= 40 AND array_position(good, NULL) IS NULL),
    bad          text[] NOT NULL CHECK (cardinality(bad) <= 40 AND array_position(bad, NULL) IS NULL),
    note         text NOT NULL DEFAULT '' CHECK (char_length(note) <= 500),
    inspected_at timestamptz NOT NULL,
    inspected_by bigint NOT NULL,
    version      int NOT NULL DEFAULT 1,
    PRIMARY KEY (class_id, student_id),
    CHECK (NOT (good && bad)),
    FOREIGN KEY (workshop_id, class_id) REFERENCES classes (workshop_id, id) ON DELETE CASCADE,
    FOREIGN KEY (workshop_id, student_id) REFERENCES students (workshop_id, id),
    FOREIGN KEY (workshop_id, inspected_by) REFERENCES accounts (workshop_id, id)
);
SELECT revises('inspections');
SELECT audits('inspections');

-- A photo of what a mark was given for.
ALTER TABLE marks ADD CONSTRAINT marks_of_a_workshop UNIQUE (workshop_id, id);
CREATE TABLE mark_photos (
    workshop_id  bigint NOT NULL,
    mark_id      bigint PRIMARY KEY,
    photo        bytea NOT NULL,
    photo_type   text NOT NULL CHECK (photo_type <> ''),
    photo_width  int NOT NULL,
    photo_height int NOT NULL,
    FOREIGN KEY (workshop_id, mark_id) REFERENCES marks (workshop_id, id)
);
SELECT revises('mark_photos');
