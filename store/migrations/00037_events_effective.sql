-- +goose Up
-- An event that was taken back is as if it had not been, and so is what it left behind.
CREATE VIEW class_events_effective AS
SELECT * FROM class_events e
WHERE kind <> 'undone' AND NOT EXISTS (SELECT FROM class_events u WHERE u.class_id = e.class_id AND u.undoes = e.seq);

-- Which kinds of event there are is said by the program, in one place each; the database
-- holds to the shape that events of all kinds have.
-- +goose StatementBegin
DO $$
DECLARE found text;
BEGIN
    FOR found IN SELECT conname FROM pg_constraint WHERE conrelid = 'class_events'::regclass AND contype = 'c' LOOP
        EXECUTE format('ALTER TABLE class_events DROP CONSTRAINT %I', found);
    END LOOP;
END $$;
-- +goose StatementEnd
ALTER TABLE class_events
    ADD CONSTRAINT class_events_seq_counts CHECK (seq > 0),
    ADD CONSTRAINT class_events_kind_is_a_key CHECK (kind ~ '^[a-z]+(-[a-z]+)*$' AND char_length(kind) <= 30),
    ADD CONSTRAINT class_events_step_is_short CHECK (char_length(step) <= 60),
    ADD CONSTRAINT class_events_stop_is_of_a_step CHECK (stop = 0 OR stop > 0 AND step <> ''),
    ADD CONSTRAINT class_events_reason_is_short CHECK (char_length(reason) <= 40),
    ADD CONSTRAINT class_events_note_is_short CHECK (char_length(note) <= 500),
    ADD CONSTRAINT class_events_sender_is_short CHECK (char_length(sender) <= 40),
    ADD CONSTRAINT class_events_speed_goes_on CHECK (speed >= 0),
    ADD CONSTRAINT class_events_undo_what_came_before CHECK (undoes < seq),
    ADD CONSTRAINT class_events_undone_undoes CHECK ((kind = 'undone') = (undoes IS NOT NULL));

-- Care that was done in a class, as its log tells.
ALTER TABLE machine_cares
    ADD COLUMN class_id bigint,
    ADD COLUMN seq bigint,
    ADD CONSTRAINT machine_cares_of_an_event FOREIGN KEY (class_id, seq) REFERENCES class_events (class_id, seq),
    ADD CONSTRAINT machine_cares_of_a_class FOREIGN KEY (workshop_id, class_id) REFERENCES classes (workshop_id, id),
    ADD CONSTRAINT machine_cares_event_is_whole CHECK ((class_id IS NULL) = (seq IS NULL));
CREATE VIEW machine_cares_effective AS
SELECT * FROM machine_cares c
WHERE seq IS NULL OR EXISTS (SELECT FROM class_events_effective e WHERE e.class_id = c.class_id AND e.seq = c.seq);

CREATE OR REPLACE VIEW machine_runs AS
SELECT workshop_id, machine_id, sewn_on::timestamptz AS ran_at, CASE WHEN sewn_minutes > 0 THEN sewn_minutes ELSE minutes END AS minutes, stitches,
    coalesce(breaks, 0) AS breaks, CASE WHEN breaks IS NULL THEN 0 ELSE stitches END AS watched
FROM stitch_outs
UNION ALL
SELECT t.workshop_id, t.machine_id, t.happened_at, t.took_minutes, t.stitches, t.breaks, t.stitches
FROM step_times t JOIN class_events_effective e USING (class_id, seq)
WHERE t.machine_id <> 0 AND t.stitches > 0;

-- +goose StatementBegin
CREATE OR REPLACE FUNCTION begun_classes_stay() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF EXISTS (SELECT FROM class_events_effective WHERE class_id = NEW.id AND kind = 'started') THEN
        RAISE check_violation USING MESSAGE = 'a class that has begun is not called off', CONSTRAINT = 'begun_classes_stay';
    END IF;
    RETURN NEW;
END $$;
-- +goose StatementEnd
