-- +goose Up
-- A student opens their own pages by a personal link, signed with a key of the workshop,
-- and a PIN that they choose; a new link forgets the PIN and ends what was open.
CREATE TABLE student_access (
    workshop_id bigint NOT NULL,
    student_id  bigint NOT NULL PRIMARY KEY,
    version     int NOT NULL DEFAULT 1 CHECK (version > 0),
    pin_hash    text NOT NULL DEFAULT '',
    FOREIGN KEY (workshop_id, student_id) REFERENCES students (workshop_id, id)
);
SELECT revises('student_access');
CREATE TABLE student_sessions (
    token_hash  bytea PRIMARY KEY,
    workshop_id bigint NOT NULL,
    student_id  bigint NOT NULL,
    began_at    timestamptz NOT NULL,
    FOREIGN KEY (workshop_id, student_id) REFERENCES students (workshop_id, id)
);
CREATE INDEX student_sessions_by_student ON student_sessions (student_id);
