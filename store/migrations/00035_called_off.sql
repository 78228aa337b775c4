-- +goose Up
-- A class that is called off keeps its slots for a minute, in which that can be taken back:
-- off_at is when somebody called it off, cancelled_at when its slots were freed.
ALTER TABLE classes
    ADD COLUMN off_at timestamptz,
    ADD COLUMN off_by bigint,
    ADD CONSTRAINT classes_off_by FOREIGN KEY (workshop_id, off_by) REFERENCES accounts (workshop_id, id);
UPDATE classes SET off_at = cancelled_at WHERE cancelled_at IS NOT NULL;
SET CONSTRAINTS ALL IMMEDIATE; -- what the change set off is done before the table is altered again
ALTER TABLE classes
    ADD CONSTRAINT classes_off_before_freed CHECK (cancelled_at IS NULL OR off_at IS NOT NULL),
    -- Earlier versions called off what was over: those rows stay as they are.
    ADD CONSTRAINT classes_off_before_over CHECK (off_at < ends_at) NOT VALID;
CREATE INDEX classes_held ON classes (off_at) WHERE off_at IS NOT NULL AND cancelled_at IS NULL;

-- +goose StatementBegin
CREATE FUNCTION begun_classes_stay() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF EXISTS (SELECT FROM class_events e WHERE e.class_id = NEW.id AND e.kind = 'started'
            AND NOT EXISTS (SELECT FROM class_events u WHERE u.class_id = e.class_id AND u.undoes = e.seq)) THEN
        RAISE check_violation USING MESSAGE = 'a class that has begun is not called off', CONSTRAINT = 'begun_classes_stay';
    END IF;
    RETURN NEW;
END $$;
-- +goose StatementEnd
CREATE TRIGGER begun_classes_stay BEFORE UPDATE OF off_at ON classes FOR EACH ROW
    WHEN (OLD.off_at IS NULL AND NEW.off_at IS NOT NULL) EXECUTE FUNCTION begun_classes_stay();

-- What is known of a class keeps it from being deleted.
ALTER TABLE class_outcomes
    DROP CONSTRAINT class_outcomes_workshop_id_class_id_fkey,
    ADD CONSTRAINT class_outcomes_of_a_class FOREIGN KEY (workshop_id, class_id) REFERENCES classes (workshop_id, id);
ALTER TABLE inspections
    DROP CONSTRAINT inspections_workshop_id_class_id_fkey,
    ADD CONSTRAINT inspections_of_a_class FOREIGN KEY (workshop_id, class_id) REFERENCES classes (workshop_id, id);
