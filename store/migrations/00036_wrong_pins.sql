-- +goose Up
-- Wrong PINs at a student's link since the last right one: each makes the next wait longer,
-- and staff see that somebody tries. Pages are not made anew by it.
CREATE TABLE pin_tries (
    workshop_id bigint NOT NULL,
    student_id  bigint NOT NULL PRIMARY KEY,
    tries       int NOT NULL DEFAULT 0 CHECK (tries >= 0),
    last_at     timestamptz NOT NULL,
    wait_until  timestamptz NOT NULL,
    FOREIGN KEY (workshop_id, student_id) REFERENCES students (workshop_id, id) ON DELETE CASCADE
);
CREATE INDEX pin_tries_by_workshop ON pin_tries (workshop_id, last_at);
