-- +goose Up
-- What one press noted is taken back by one press: part_of is the first of its events, 0 for one alone.
ALTER TABLE class_events
    ADD COLUMN part_of bigint NOT NULL DEFAULT 0,
    ADD CONSTRAINT class_events_part_of_what_came_before CHECK (part_of BETWEEN 0 AND seq);

CREATE OR REPLACE VIEW class_events_effective AS
SELECT * FROM class_events e
WHERE kind <> 'undone' AND NOT EXISTS (SELECT FROM class_events u WHERE u.class_id = e.class_id AND u.undoes = e.seq);
