-- +goose Up
-- What a roster says of a student beside their name: notes and access needs that staff alone
-- see, their size, and whether they may be photographed.
ALTER TABLE students
    ADD COLUMN notes  text NOT NULL DEFAULT '' CHECK (char_length(notes) <= 500),
    ADD COLUMN size   text NOT NULL DEFAULT '' CHECK (char_length(size) <= 20),
    ADD COLUMN photos boolean NOT NULL DEFAULT false;
