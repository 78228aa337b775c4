-- +goose Up
-- More can happen while a class runs, phones beside the machines send it too, and every
-- process hears of it at once.
ALTER TABLE class_events
    DROP CONSTRAINT class_events_kind_check,
    DROP CONSTRAINT class_events_check2, -- who has a student
    DROP CONSTRAINT class_events_check3, -- what has a step
    ADD COLUMN noted_at   timestamptz NOT NULL DEFAULT now(),
    ADD COLUMN machine_id bigint NOT NULL DEFAULT 0,
    ADD COLUMN stop       int NOT NULL DEFAULT 0 CHECK (stop >= 0),
    ADD COLUMN until      timestamptz,
    ADD COLUMN note       text NOT NULL DEFAULT '' CHECK (char_length(note) <= 500),
    ADD COLUMN speed      double precision NOT NULL DEFAULT 0 CHECK (speed >= 0),
    ADD COLUMN station_id bigint NOT NULL DEFAULT 0,
    ADD COLUMN sender     text NOT NULL DEFAULT '' CHECK (char_length(sender) <= 40),
    ADD CHECK (kind IN ('started', 'here', 'late', 'gone', 'done', 'skipped', 'stop-done', 'going', 'seated', 'hand-up', 'settled',
        'noted', 'failed', 'mended', 'clocked', 'undone')),
    ADD CHECK (kind = 'noted' OR (kind IN ('started', 'undone', 'failed', 'mended', 'clocked')) = (student_id = 0)),
    ADD CHECK ((kind IN ('done', 'skipped', 'stop-done')) = (step <> '')),
    ADD CHECK ((kind = 'stop-done') = (stop > 0)),
    ADD CHECK ((kind IN ('seated', 'failed', 'mended')) = (machine_id <> 0)),
    ADD CHECK ((kind = 'late') = (until IS NOT NULL)),
    ADD CHECK ((kind = 'noted') = (note <> '')),
    ADD CHECK ((kind = 'clocked') = (speed > 0));
-- What a phone sends twice counts once.
CREATE UNIQUE INDEX class_events_sent_once ON class_events (class_id, sender) WHERE sender <> '';

-- +goose StatementBegin
CREATE FUNCTION class_events_are_told() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM pg_notify('class_events', NEW.class_id::text);
    RETURN NULL;
END $$;
-- +goose StatementEnd
CREATE TRIGGER class_events_are_told AFTER INSERT ON class_events FOR EACH ROW EXECUTE FUNCTION class_events_are_told();

-- The links of the phones beside the machines are signed with a key of the class: a new
-- key ends them all.
ALTER TABLE classes ADD COLUMN station_key bytea NOT NULL
    DEFAULT decode(replace(gen_random_uuid()::text || gen_random_uuid()::text, '-', ''), 'hex');
