-- +goose Up
-- A bundle's other files: the same design in the formats of other machines.
CREATE TABLE design_files (
    workshop_id bigint NOT NULL,
    design_id   bigint NOT NULL,
    format      text NOT NULL,
    file_name   text NOT NULL,
    original    bytea NOT NULL,
    PRIMARY KEY (design_id, format),
    FOREIGN KEY (workshop_id, design_id) REFERENCES designs (workshop_id, id) ON DELETE CASCADE
);

-- A bundle's colour charts, as they came.
CREATE TABLE design_charts (
    workshop_id bigint NOT NULL,
    design_id   bigint NOT NULL,
    n           integer NOT NULL CHECK (n > 0),
    file_name   text NOT NULL,
    original    bytea NOT NULL,
    PRIMARY KEY (design_id, n),
    FOREIGN KEY (workshop_id, design_id) REFERENCES designs (workshop_id, id) ON DELETE CASCADE
);
