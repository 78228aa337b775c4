-- +goose Up
-- What else machines differ in; none where nobody has said.
ALTER TABLE machines ADD COLUMN features text[] NOT NULL DEFAULT '{}' CHECK (array_position(features, NULL) IS NULL AND features <@ ARRAY[
    'traces', 'steps-back', 'skips-stops', 'monochrome', 'light', 'projector', 'thread-sensor', 'bobbin-sensor', 'calibrates']);
-- When a cross was sewn to measure how far the marks are off, nothing where it was not.
ALTER TABLE machine_hoops ADD COLUMN measured_on date;

-- What was done to a machine.
CREATE TABLE machine_cares (
    id          bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    workshop_id bigint NOT NULL,
    machine_id  bigint NOT NULL,
    kind        text NOT NULL CHECK (kind IN ('needle', 'lint', 'service')),
    done_at     timestamptz NOT NULL,
    done_by     bigint NOT NULL,
    note        text NOT NULL DEFAULT '' CHECK (char_length(note) <= 200),
    FOREIGN KEY (workshop_id, machine_id) REFERENCES machines (workshop_id, id),
    FOREIGN KEY (workshop_id, done_by) REFERENCES accounts (workshop_id, id)
);
CREATE INDEX machine_cares_newest ON machine_cares (machine_id, kind, done_at DESC);
SELECT revises('machine_cares');
SELECT audits('machine_cares');

-- Every run of a machine that is known of: logged stitch-outs, and stops sewn in classes.
CREATE VIEW machine_runs AS
SELECT workshop_id, machine_id, sewn_on::timestamptz AS ran_at, CASE WHEN sewn_minutes > 0 THEN sewn_minutes ELSE minutes END AS minutes, stitches,
    coalesce(breaks, 0) AS breaks, CASE WHEN breaks IS NULL THEN 0 ELSE stitches END AS watched
FROM stitch_outs
UNION ALL
SELECT workshop_id, machine_id, happened_at, took_minutes, stitches, breaks, stitches
FROM step_times t
WHERE machine_id <> 0 AND stitches > 0 AND NOT EXISTS (SELECT 1 FROM class_events u WHERE u.class_id = t.class_id AND u.undoes = t.seq);

-- A needle that struck on a machine in a class, as its log tells.
CREATE TABLE machine_strikes (
    workshop_id bigint NOT NULL,
    class_id    bigint NOT NULL,
    seq         bigint NOT NULL,
    machine_id  bigint NOT NULL,
    struck_at   timestamptz NOT NULL,
    PRIMARY KEY (class_id, seq),
    FOREIGN KEY (class_id, seq) REFERENCES class_events (class_id, seq),
    FOREIGN KEY (workshop_id, machine_id) REFERENCES machines (workshop_id, id)
);
CREATE INDEX machine_strikes_newest ON machine_strikes (machine_id, struck_at DESC);
SELECT revises('machine_strikes');
