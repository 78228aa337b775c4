-- +goose Up
-- The top thread that classes really used of what was weighed or measured after them, with
-- the path and the ends it went into: what thread draws is learned from it.
CREATE TABLE class_threads (
    workshop_id bigint NOT NULL,
    class_id    bigint NOT NULL PRIMARY KEY,
    real_mm     double precision NOT NULL CHECK (real_mm > 0),
    path_mm     double precision NOT NULL CHECK (path_mm > 0),
    ends        int NOT NULL CHECK (ends >= 0),
    FOREIGN KEY (workshop_id, class_id) REFERENCES classes (workshop_id, id) ON DELETE CASCADE
);
CREATE INDEX class_threads_by_workshop ON class_threads (workshop_id);
SELECT revises('class_threads');
