-- +goose Up
-- How long steps really took in classes, as it follows from their logs, and the factors
-- that were learned from it.
CREATE TABLE step_times (
    workshop_id     bigint NOT NULL,
    class_id        bigint NOT NULL,
    seq             bigint NOT NULL,
    student_id      bigint NOT NULL,
    machine_id      bigint NOT NULL DEFAULT 0,
    design_id       bigint NOT NULL DEFAULT 0,
    step            text NOT NULL CHECK (char_length(step) BETWEEN 1 AND 60),
    happened_at     timestamptz NOT NULL,
    said_minutes    double precision NOT NULL CHECK (said_minutes >= 0),
    planned_minutes double precision NOT NULL CHECK (planned_minutes >= 0),
    took_minutes    double precision NOT NULL CHECK (took_minutes > 0),
    breaks          int NOT NULL DEFAULT 0 CHECK (breaks >= 0),
    stitches        int NOT NULL DEFAULT 0 CHECK (stitches >= 0),
    PRIMARY KEY (class_id, seq),
    FOREIGN KEY (class_id, seq) REFERENCES class_events (class_id, seq),
    FOREIGN KEY (workshop_id, class_id) REFERENCES classes (workshop_id, id)
);
CREATE INDEX step_times_newest ON step_times (workshop_id, happened_at DESC);
ALTER TABLE workshops ADD COLUMN learned jsonb NOT NULL DEFAULT '{}';
