-- +goose Up
-- What a machine can do beside embroidering, and how a hoop holds.
ALTER TABLE machines ADD COLUMN sews boolean NOT NULL DEFAULT false, ADD COLUMN pedal boolean NOT NULL DEFAULT false;
ALTER TABLE hoops ADD COLUMN kind text NOT NULL DEFAULT 'screw' CHECK (kind IN ('screw', 'magnetic', 'clamp'));

-- Techniques that a workshop wrote. A project keeps its own copy of each that it
-- is made by, so one that is changed or deleted changes no project.
CREATE TABLE techniques (
    id          bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    workshop_id bigint NOT NULL REFERENCES workshops (id) ON DELETE CASCADE,
    version     int NOT NULL DEFAULT 1 CHECK (version > 0),
    name        text NOT NULL CHECK (btrim(name) <> '' AND char_length(name) <= 120),
    document    jsonb NOT NULL,
    UNIQUE (workshop_id, id),
    UNIQUE (workshop_id, name)
);
SELECT revises('techniques');
