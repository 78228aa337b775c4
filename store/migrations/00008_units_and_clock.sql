-- +goose Up
-- What people measure in, and how they read the clock. The workshop's is for
-- those who have not chosen; a student's is what their card is printed in.
ALTER TABLE workshops
    ADD COLUMN units text NOT NULL DEFAULT 'mm' CHECK (units IN ('mm', 'in')),
    ADD COLUMN clock text NOT NULL DEFAULT '24' CHECK (clock IN ('24', '12'));
ALTER TABLE accounts
    ADD COLUMN units text NOT NULL DEFAULT '' CHECK (units IN ('', 'mm', 'in')),
    ADD COLUMN clock text NOT NULL DEFAULT '' CHECK (clock IN ('', '24', '12'));
ALTER TABLE students
    ADD COLUMN units text NOT NULL DEFAULT '' CHECK (units IN ('', 'mm', 'in'));
