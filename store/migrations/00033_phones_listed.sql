-- +goose Up
-- The phones on which a student's own pages are open are listed, and closed one by one.
ALTER TABLE student_sessions
    ADD COLUMN id bigint GENERATED ALWAYS AS IDENTITY UNIQUE,
    ADD COLUMN agent text NOT NULL DEFAULT '' CHECK (char_length(agent) <= 200);
SELECT revises('student_sessions');
