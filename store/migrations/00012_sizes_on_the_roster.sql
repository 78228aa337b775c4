-- +goose Up
-- The size of a student's blank, where it comes in sizes; empty for the
-- project's own.
ALTER TABLE class_students ADD COLUMN size text NOT NULL DEFAULT '' CHECK (char_length(size) <= 20);
