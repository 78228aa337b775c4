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

-- A stitch-out may be the test of a project: of what recipe and techniques, and
-- what was changed after it.
ALTER TABLE stitch_outs
    ADD COLUMN project_id bigint,
    ADD COLUMN made_as    text NOT NULL DEFAULT '' CHECK (char_length(made_as) <= 4000),
    ADD COLUMN changed    text NOT NULL DEFAULT '' CHECK (char_length(changed) <= 1000),
    ADD CONSTRAINT stitch_outs_project FOREIGN KEY (workshop_id, project_id) REFERENCES projects (workshop_id, id) ON DELETE SET NULL (project_id);
CREATE INDEX stitch_outs_by_project ON stitch_outs (project_id) WHERE project_id IS NOT NULL;

-- What everyone of a class does together, at the beginning and at the end.
ALTER TABLE classes
    ADD COLUMN opening_minutes int NOT NULL DEFAULT 0 CHECK (opening_minutes BETWEEN 0 AND 240),
    ADD COLUMN closing_minutes int NOT NULL DEFAULT 0 CHECK (closing_minutes BETWEEN 0 AND 240);
