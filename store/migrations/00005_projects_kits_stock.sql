-- +goose Up
-- A project's house differences, hoopings, layers, parts, work off the
-- machine and placement are one document: they are read and kept together.
ALTER TABLE projects
    ADD COLUMN content    jsonb NOT NULL DEFAULT '{}',
    ADD COLUMN photo      bytea CHECK (octet_length(photo) <= 8388608),
    ADD COLUMN photo_type text NOT NULL DEFAULT '' CHECK (photo_type IN ('', 'image/jpeg', 'image/png', 'image/webp')),
    ADD CHECK ((photo IS NULL) = (photo_type = ''));

-- What a project was at each version. A class keeps the one it was planned with.
CREATE TABLE project_versions (
    workshop_id bigint NOT NULL,
    project_id  bigint NOT NULL,
    version     integer NOT NULL,
    snapshot    jsonb NOT NULL,
    saved_at    timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (project_id, version),
    FOREIGN KEY (workshop_id, project_id) REFERENCES projects (workshop_id, id) ON DELETE CASCADE
);
INSERT INTO project_versions (workshop_id, project_id, version, snapshot)
SELECT p.workshop_id, p.id, p.version, jsonb_build_object(
    'Name', p.name, 'DesignID', p.design_id, 'Blank', p.blank, 'BlankWidthMM', p.blank_width_mm, 'BlankHeightMM', p.blank_height_mm,
    'Fabric', p.fabric, 'Uses', to_jsonb(p.uses), 'Content', p.content,
    'Steps', (SELECT jsonb_agg(jsonb_build_object('N', s.n, 'Key', s.key, 'Title', s.title, 'Place', s.place, 'Minutes', s.minutes,
        'Instructor', s.instructor, 'Skills', to_jsonb(s.skills), 'Caution', s.caution) ORDER BY s.n)
        FROM project_steps s WHERE s.project_id = p.id))
FROM projects p;
ALTER TABLE classes ADD COLUMN project_version integer;
UPDATE classes c SET project_version = p.version FROM projects p WHERE p.id = c.project_id;
ALTER TABLE classes
    ALTER COLUMN project_version SET NOT NULL,
    ADD FOREIGN KEY (project_id, project_version) REFERENCES project_versions (project_id, version);

-- What lies on the shelf. Rolls and fabric are counted in millimetres of
-- length, thread in spools, everything else in pieces.
CREATE TABLE stock_items (
    id            bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    workshop_id   bigint NOT NULL REFERENCES workshops,
    kind          text NOT NULL CHECK (kind IN ('roll', 'sheet', 'fabric', 'thread', 'bobbin', 'needle', 'blank', 'sundry')),
    name          text NOT NULL CHECK (btrim(name) <> ''),
    -- What a recipe calls it: "medium cut-away", a bobbin style, "75/11 embroidery".
    matches       text NOT NULL DEFAULT '',
    width_mm      double precision NOT NULL DEFAULT 0 CHECK (width_mm >= 0),
    height_mm     double precision NOT NULL DEFAULT 0 CHECK (height_mm >= 0),
    color         text NOT NULL DEFAULT '' CHECK (color = '' OR color ~ '^#[0-9a-f]{6}$'),
    metres        double precision NOT NULL DEFAULT 0 CHECK (metres >= 0),
    grain         boolean NOT NULL DEFAULT false,
    remnant       boolean NOT NULL DEFAULT false,
    pack          double precision NOT NULL DEFAULT 1 CHECK (pack > 0),
    pack_cents    integer NOT NULL DEFAULT 0 CHECK (pack_cents >= 0),
    reorder_point double precision NOT NULL DEFAULT 0 CHECK (reorder_point >= 0),
    supplier      text NOT NULL DEFAULT '',
    place         text NOT NULL DEFAULT '',
    version       integer NOT NULL DEFAULT 1,
    UNIQUE (workshop_id, name),
    UNIQUE (workshop_id, id),
    CHECK ((kind = 'thread') = (color <> '')),
    CHECK (kind NOT IN ('roll', 'fabric') OR width_mm > 0),
    CHECK (kind <> 'sheet' OR (width_mm > 0 AND height_mm > 0))
);

-- The ledger: what changed what is there and what is spoken for. Balances are
-- its sums; nothing in it is ever changed.
CREATE TABLE stock_movements (
    id          bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    workshop_id bigint NOT NULL,
    item_id     bigint NOT NULL,
    kind        text NOT NULL CHECK (kind IN ('bought', 'reserved', 'released', 'used', 'returned', 'spoiled', 'counted')),
    quantity    double precision NOT NULL DEFAULT 0,
    reserved    double precision NOT NULL DEFAULT 0,
    class_id    bigint,
    note        text NOT NULL DEFAULT '',
    moved_by    bigint NOT NULL,
    moved_at    timestamptz NOT NULL,
    CHECK (quantity <> 0 OR reserved <> 0 OR kind = 'counted'),
    CHECK (kind NOT IN ('reserved', 'released') OR (quantity = 0 AND class_id IS NOT NULL)),
    CHECK (kind <> 'reserved' OR reserved > 0),
    CHECK (kind <> 'released' OR reserved < 0),
    CHECK (kind NOT IN ('bought', 'returned') OR quantity > 0),
    CHECK (kind NOT IN ('used', 'spoiled') OR quantity < 0),
    FOREIGN KEY (workshop_id, item_id) REFERENCES stock_items (workshop_id, id),
    FOREIGN KEY (workshop_id, class_id) REFERENCES classes (workshop_id, id),
    FOREIGN KEY (workshop_id, moved_by) REFERENCES accounts (workshop_id, id)
);
CREATE INDEX stock_movements_by_item ON stock_movements (item_id, id);
CREATE INDEX stock_movements_by_class ON stock_movements (class_id) WHERE class_id IS NOT NULL;

-- +goose StatementBegin
CREATE FUNCTION stock_never_below_nothing() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
    there  double precision;
    spoken double precision;
BEGIN
    -- One at a time for each item, so that two cannot both take the last.
    PERFORM 1 FROM stock_items WHERE id = NEW.item_id FOR NO KEY UPDATE;
    SELECT coalesce(sum(quantity), 0), coalesce(sum(reserved), 0) INTO there, spoken FROM stock_movements WHERE item_id = NEW.item_id;
    IF there < -1e-6 OR spoken < -1e-6 OR spoken > there + 1e-6 THEN
        RAISE EXCEPTION 'stock of item % would be % with % spoken for', NEW.item_id, there, spoken
            USING ERRCODE = 'check_violation', CONSTRAINT = 'stock_never_below_nothing';
    END IF;
    RETURN NULL;
END $$;
-- +goose StatementEnd
CREATE TRIGGER stock_never_below_nothing AFTER INSERT ON stock_movements FOR EACH ROW EXECUTE FUNCTION stock_never_below_nothing();

-- +goose StatementBegin
CREATE FUNCTION stock_ledger_is_kept() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    RAISE EXCEPTION 'movements of stock are never changed: write another one';
END $$;
-- +goose StatementEnd
CREATE TRIGGER stock_ledger_is_kept BEFORE UPDATE OR DELETE ON stock_movements FOR EACH ROW EXECUTE FUNCTION stock_ledger_is_kept();

-- Where each stop sews, from the design's centre, y up: what its pieces are
-- cut for. All 0 for designs added before it was kept.
ALTER TABLE design_stops
    ADD COLUMN left_mm   double precision NOT NULL DEFAULT 0,
    ADD COLUMN bottom_mm double precision NOT NULL DEFAULT 0,
    ADD COLUMN right_mm  double precision NOT NULL DEFAULT 0,
    ADD COLUMN top_mm    double precision NOT NULL DEFAULT 0;

-- A student's place in a class: another project than the class's, late or
-- absent, and how far their kit is.
ALTER TABLE class_students
    -- Null makes what the class makes.
    ADD COLUMN project_id bigint,
    ADD COLUMN project_version integer,
    ADD FOREIGN KEY (workshop_id, project_id) REFERENCES projects (workshop_id, id),
    ADD FOREIGN KEY (project_id, project_version) REFERENCES project_versions (project_id, version),
    ADD CHECK ((project_id IS NULL) = (project_version IS NULL)),
    ADD COLUMN attendance text NOT NULL DEFAULT 'expected' CHECK (attendance IN ('expected', 'late', 'absent')),
    ADD COLUMN late_minutes integer NOT NULL DEFAULT 0 CHECK (late_minutes BETWEEN 0 AND 600),
    ADD COLUMN kit_state text NOT NULL DEFAULT 'to cut' CHECK (kit_state IN ('to cut', 'cut', 'packed', 'handed out', 'returned')),
    -- The lines of the kit's list that are in the bag.
    ADD COLUMN kit_packed text[] NOT NULL DEFAULT '{}',
    ADD COLUMN kit_version integer NOT NULL DEFAULT 1,
    ADD CHECK ((attendance = 'late') = (late_minutes > 0));
