-- +goose Up
-- More of what is found in a design, and how a workshop files it.
ALTER TABLE designs
    ADD COLUMN lettering_mm double precision NOT NULL DEFAULT 0 CHECK (lettering_mm >= 0),
    -- 1 for the first lesson to 5; 0 while nobody has said.
    ADD COLUMN level integer NOT NULL DEFAULT 0 CHECK (level BETWEEN 0 AND 5),
    ADD COLUMN tags text[] NOT NULL DEFAULT '{}',
    -- Of the stitches alone, whatever file they came in; null for designs
    -- added before it was kept.
    ADD COLUMN stitches_sha256 bytea CHECK (octet_length(stitches_sha256) = 32);
CREATE INDEX designs_by_stitches ON designs (workshop_id, stitches_sha256);

-- Where a design is placed on a machine: in which hoop, which way round, how
-- far from the middle and at what size.
CREATE TABLE placements (
    workshop_id bigint NOT NULL,
    design_id   bigint NOT NULL,
    machine_id  bigint NOT NULL,
    hoop_id     bigint NOT NULL,
    turn        integer NOT NULL CHECK (turn IN (0, 90)),
    x_mm        double precision NOT NULL,
    y_mm        double precision NOT NULL,
    percent     integer NOT NULL CHECK (percent BETWEEN 80 AND 120 AND percent % 5 = 0),
    basted      boolean NOT NULL,
    -- A lock on resizing that the owner has set aside: who, when, and why.
    overridden_by   bigint,
    overridden_at   timestamptz,
    override_reason text NOT NULL DEFAULT '',
    version     integer NOT NULL DEFAULT 1,
    PRIMARY KEY (design_id, machine_id),
    CHECK ((overridden_by IS NULL) = (overridden_at IS NULL) AND (overridden_by IS NULL) = (btrim(override_reason) = '')),
    FOREIGN KEY (workshop_id, design_id) REFERENCES designs (workshop_id, id) ON DELETE CASCADE,
    FOREIGN KEY (workshop_id, machine_id) REFERENCES machines (workshop_id, id) ON DELETE CASCADE,
    FOREIGN KEY (workshop_id, hoop_id) REFERENCES hoops (workshop_id, id) ON DELETE CASCADE,
    FOREIGN KEY (workshop_id, overridden_by) REFERENCES accounts (workshop_id, id)
);

-- Stitch-outs as they really went. Nothing is overwritten: a wrong entry is
-- removed and written again.
CREATE TABLE stitch_outs (
    id                bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    workshop_id       bigint NOT NULL,
    design_id         bigint NOT NULL,
    machine_id        bigint NOT NULL,
    logged_by         bigint NOT NULL,
    sewn_on           date NOT NULL,
    fabric            text NOT NULL,
    recipe            text NOT NULL DEFAULT '',
    minutes           double precision NOT NULL CHECK (minutes > 0 AND minutes <= 1440),
    -- Top thread used, 0 where nobody measured it.
    thread_metres     double precision NOT NULL DEFAULT 0 CHECK (thread_metres >= 0 AND thread_metres <= 10000),
    went_wrong        text NOT NULL DEFAULT '',
    -- What the workshop's figures, with nothing learned, said of it when it was logged.
    estimated_minutes double precision NOT NULL CHECK (estimated_minutes > 0),
    estimated_sewing  double precision NOT NULL CHECK (estimated_sewing > 0),
    path_mm           double precision NOT NULL CHECK (path_mm >= 0),
    ends              integer NOT NULL CHECK (ends > 0),
    photo             bytea CHECK (octet_length(photo) <= 8388608),
    photo_type        text NOT NULL DEFAULT '' CHECK (photo_type IN ('', 'image/jpeg', 'image/png', 'image/webp')),
    CHECK ((photo IS NULL) = (photo_type = '')),
    FOREIGN KEY (workshop_id, design_id) REFERENCES designs (workshop_id, id) ON DELETE CASCADE,
    FOREIGN KEY (workshop_id, machine_id) REFERENCES machines (workshop_id, id) ON DELETE CASCADE,
    FOREIGN KEY (workshop_id, logged_by) REFERENCES accounts (workshop_id, id)
);
CREATE INDEX stitch_outs_by_design ON stitch_outs (design_id, sewn_on);
