-- +goose Up
-- Calendars are read by secret links, signed with a key of the workshop; renewing one
-- counts its version on, and ends the link of before.
ALTER TABLE workshops ADD COLUMN feed_key bytea NOT NULL
    DEFAULT decode(replace(gen_random_uuid()::text || gen_random_uuid()::text, '-', ''), 'hex');
CREATE TABLE feeds (
    workshop_id bigint NOT NULL REFERENCES workshops (id) ON DELETE CASCADE,
    kind        text NOT NULL CHECK (kind IN ('workshop', 'machine', 'student')),
    of_id       bigint NOT NULL DEFAULT 0,
    version     int NOT NULL CHECK (version > 0),
    PRIMARY KEY (workshop_id, kind, of_id)
);
SELECT revises('feeds');
