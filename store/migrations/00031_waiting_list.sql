-- +goose Up
-- When somebody sat down at what they had booked: where nobody did, it is given up.
ALTER TABLE bookings ADD COLUMN sat_at timestamptz;
-- Who sits there while this runs, sits there.
UPDATE bookings SET sat_at = starts_at WHERE student_id IS NOT NULL AND starts_at <= now() AND ends_at > now();

-- Who waits for a machine that others have, in the order in which they asked.
CREATE TABLE waits (
    id          bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    workshop_id bigint NOT NULL,
    student_id  bigint NOT NULL,
    machine_id  bigint NOT NULL,
    starts_at   timestamptz NOT NULL,
    ends_at     timestamptz NOT NULL CHECK (ends_at > starts_at),
    accompanied boolean NOT NULL DEFAULT false,
    asked_at    timestamptz NOT NULL,
    asked_by    bigint,
    ended_at    timestamptz,
    FOREIGN KEY (workshop_id, student_id) REFERENCES students (workshop_id, id),
    FOREIGN KEY (workshop_id, machine_id) REFERENCES machines (workshop_id, id),
    FOREIGN KEY (workshop_id, asked_by) REFERENCES accounts (workshop_id, id)
);
CREATE UNIQUE INDEX waits_once ON waits (student_id, machine_id, starts_at, ends_at) WHERE ended_at IS NULL;
CREATE INDEX waits_open ON waits (workshop_id, asked_at, id) WHERE ended_at IS NULL;
SELECT revises('waits');
SELECT audits('waits');

-- What students were told of their bookings, until they have read it.
CREATE TABLE messages (
    id          bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    workshop_id bigint NOT NULL,
    student_id  bigint NOT NULL,
    kind        text NOT NULL CHECK (kind IN ('filled', 'given-up', 'moved', 'dropped', 'cancelled')),
    machine_id  bigint NOT NULL,
    starts_at   timestamptz NOT NULL,
    ends_at     timestamptz NOT NULL,
    -- Of what was moved: where it was moved to.
    to_machine  bigint,
    to_start    timestamptz,
    to_end      timestamptz,
    CHECK ((kind = 'moved') = (num_nonnulls(to_machine, to_start, to_end) = 3)),
    told_at     timestamptz NOT NULL,
    read_at     timestamptz,
    FOREIGN KEY (workshop_id, student_id) REFERENCES students (workshop_id, id),
    FOREIGN KEY (workshop_id, machine_id) REFERENCES machines (workshop_id, id),
    FOREIGN KEY (workshop_id, to_machine) REFERENCES machines (workshop_id, id)
);
CREATE INDEX messages_newest ON messages (workshop_id, id DESC);
CREATE INDEX messages_unread ON messages (student_id, id DESC);
SELECT revises('messages');
