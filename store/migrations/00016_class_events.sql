-- +goose Up
-- What happened while a class ran: a log that is only added to. The state of the room
-- follows from it and the plan, and so is not kept.
CREATE TABLE class_events (
    workshop_id bigint NOT NULL,
    class_id    bigint NOT NULL,
    seq         bigint NOT NULL CHECK (seq > 0),
    kind        text NOT NULL CHECK (kind IN ('started', 'here', 'gone', 'done', 'skipped', 'hand-up', 'settled', 'undone')),
    happened_at timestamptz NOT NULL,
    student_id  bigint NOT NULL DEFAULT 0,
    step        text NOT NULL DEFAULT '' CHECK (char_length(step) <= 60),
    reason      text NOT NULL DEFAULT '' CHECK (char_length(reason) <= 40),
    undoes      bigint,
    said_by     bigint NOT NULL,
    PRIMARY KEY (class_id, seq),
    FOREIGN KEY (workshop_id, class_id) REFERENCES classes (workshop_id, id),
    -- What is taken back is an event of the class that came before.
    FOREIGN KEY (class_id, undoes) REFERENCES class_events (class_id, seq),
    CHECK (undoes < seq),
    CHECK ((kind = 'undone') = (undoes IS NOT NULL)),
    CHECK ((kind IN ('started', 'undone')) = (student_id = 0)),
    CHECK ((kind IN ('done', 'skipped')) = (step <> '')),
    CHECK ((kind = 'hand-up') = (reason <> ''))
);
SELECT revises('class_events');
CREATE UNIQUE INDEX class_events_undone_once ON class_events (class_id, undoes) WHERE undoes IS NOT NULL;

-- +goose StatementBegin
CREATE FUNCTION class_events_are_kept() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    RAISE EXCEPTION 'what happened in a class is never changed: write another event';
END $$;
-- +goose StatementEnd
CREATE TRIGGER class_events_are_kept BEFORE UPDATE OR DELETE ON class_events FOR EACH ROW EXECUTE FUNCTION class_events_are_kept();
