-- +goose Up
-- A design that something of the past refers to is taken off the list instead
-- of being removed: what was made of it stays readable.
ALTER TABLE designs
    ADD COLUMN retired_at timestamptz,
    DROP CONSTRAINT designs_workshop_id_name_key;
CREATE UNIQUE INDEX designs_one_of_a_name ON designs (workshop_id, name) WHERE retired_at IS NULL;

-- Which designs each kept version of a project sews, by hooping, so that none
-- of them can go while a class may still open the version.
CREATE TABLE project_version_designs (
    workshop_id bigint NOT NULL,
    project_id  bigint NOT NULL,
    version     integer NOT NULL,
    hooping     integer NOT NULL CHECK (hooping > 0),
    design_id   bigint NOT NULL,
    PRIMARY KEY (project_id, version, hooping),
    FOREIGN KEY (project_id, version) REFERENCES project_versions (project_id, version) ON DELETE CASCADE,
    FOREIGN KEY (workshop_id, design_id) REFERENCES designs (workshop_id, id)
);
CREATE INDEX project_version_designs_by_design ON project_version_designs (design_id);
-- Versions whose design went before this was held to keep what is left.
INSERT INTO project_version_designs (workshop_id, project_id, version, hooping, design_id)
SELECT v.workshop_id, v.project_id, v.version, 1, d.id
FROM project_versions v JOIN designs d ON d.workshop_id = v.workshop_id AND d.id = (v.snapshot->>'DesignID')::bigint
UNION ALL
SELECT v.workshop_id, v.project_id, v.version, h.n + 1, d.id
FROM project_versions v
CROSS JOIN LATERAL jsonb_array_elements(CASE jsonb_typeof(v.snapshot->'Content'->'Hoopings') WHEN 'array' THEN v.snapshot->'Content'->'Hoopings' ELSE '[]' END)
    WITH ORDINALITY AS h (hooping, n)
JOIN designs d ON d.workshop_id = v.workshop_id AND d.id = (h.hooping->>'DesignID')::bigint;

-- Pictures of a design, made once for the size they are seen at.
CREATE TABLE design_pictures (
    workshop_id bigint NOT NULL,
    design_id   bigint NOT NULL,
    kind        text NOT NULL CHECK (kind IN ('thumb', 'drawing')),
    media_type  text NOT NULL CHECK (media_type IN ('image/svg+xml', 'image/png')),
    picture     bytea NOT NULL CHECK (octet_length(picture) <= 153600),
    PRIMARY KEY (design_id, kind),
    FOREIGN KEY (workshop_id, design_id) REFERENCES designs (workshop_id, id) ON DELETE CASCADE
);
ALTER TABLE design_stops DROP COLUMN path;

-- Stitch-outs taught the figures: they do not go with their design.
ALTER TABLE stitch_outs
    DROP CONSTRAINT stitch_outs_workshop_id_design_id_fkey,
    ADD FOREIGN KEY (workshop_id, design_id) REFERENCES designs (workshop_id, id),
    -- What of the minutes was sewing, as it was worked out when logged.
    ADD COLUMN sewn_minutes double precision;
UPDATE stitch_outs SET sewn_minutes = greatest(0.2 * estimated_sewing, minutes - (estimated_minutes - estimated_sewing));
ALTER TABLE stitch_outs ALTER COLUMN sewn_minutes SET NOT NULL;

-- What the stitch-outs of a machine come to, so that no page has to read them
-- all. The database keeps the sums.
CREATE TABLE learned (
    workshop_id  bigint NOT NULL,
    machine_id   bigint NOT NULL PRIMARY KEY,
    runs         integer NOT NULL,
    sewn_minutes double precision NOT NULL,
    said_minutes double precision NOT NULL,
    -- Of the runs whose thread was measured.
    drawn_mm     double precision NOT NULL,
    path_mm      double precision NOT NULL,
    ends         bigint NOT NULL,
    FOREIGN KEY (workshop_id, machine_id) REFERENCES machines (workshop_id, id) ON DELETE CASCADE
);
-- +goose StatementBegin
CREATE FUNCTION learn(run stitch_outs, sign integer) RETURNS void LANGUAGE sql AS $$
    INSERT INTO learned AS l (workshop_id, machine_id, runs, sewn_minutes, said_minutes, drawn_mm, path_mm, ends)
    SELECT run.workshop_id, run.machine_id, sign, sign * run.sewn_minutes, sign * run.estimated_sewing,
        sign * m.measured * run.thread_metres * 1000, sign * m.measured * run.path_mm, sign * m.measured * run.ends
    FROM (SELECT (run.thread_metres > 0 AND run.path_mm > 0)::integer AS measured) AS m
    ON CONFLICT (machine_id) DO UPDATE SET
        runs = l.runs + excluded.runs, sewn_minutes = l.sewn_minutes + excluded.sewn_minutes, said_minutes = l.said_minutes + excluded.said_minutes,
        drawn_mm = l.drawn_mm + excluded.drawn_mm, path_mm = l.path_mm + excluded.path_mm, ends = l.ends + excluded.ends;
$$;
CREATE FUNCTION stitch_outs_teach() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF TG_OP = 'INSERT' THEN
        PERFORM learn(NEW, 1);
    -- Where the machine goes, what it taught goes with it.
    ELSIF EXISTS (SELECT 1 FROM machines WHERE id = OLD.machine_id) THEN
        PERFORM learn(OLD, -1);
    END IF;
    RETURN NULL;
END $$;
CREATE FUNCTION stitch_outs_are_kept() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    RAISE EXCEPTION 'a logged stitch-out is not changed: remove it and log it again';
END $$;
-- +goose StatementEnd
SELECT learn(s, 1) FROM stitch_outs s;
CREATE TRIGGER stitch_outs_teach AFTER INSERT OR DELETE ON stitch_outs FOR EACH ROW EXECUTE FUNCTION stitch_outs_teach();
-- A photo may be made anew; what was logged may not.
CREATE TRIGGER stitch_outs_are_kept BEFORE UPDATE OF machine_id, design_id, minutes, thread_metres, estimated_minutes, estimated_sewing, sewn_minutes, path_mm, ends
    ON stitch_outs FOR EACH ROW EXECUTE FUNCTION stitch_outs_are_kept();

-- Photos are kept as they were decoded here, turned upright and without what
-- a camera writes into them; 0 is one from before, as it came.
ALTER TABLE projects ADD COLUMN photo_width integer NOT NULL DEFAULT 0, ADD COLUMN photo_height integer NOT NULL DEFAULT 0;
ALTER TABLE stitch_outs ADD COLUMN photo_width integer NOT NULL DEFAULT 0, ADD COLUMN photo_height integer NOT NULL DEFAULT 0;

-- Balances of the shelf, kept by the ledger: of each item, and of what each
-- class has spoken for. The checks are what no two people can overdraw.
CREATE TABLE stock_balances (
    workshop_id bigint NOT NULL,
    item_id     bigint NOT NULL PRIMARY KEY,
    on_hand     double precision NOT NULL,
    reserved    double precision NOT NULL,
    FOREIGN KEY (workshop_id, item_id) REFERENCES stock_items (workshop_id, id) ON DELETE CASCADE,
    CONSTRAINT stock_never_below_nothing CHECK (on_hand >= -1e-6 AND reserved >= -1e-6 AND reserved <= on_hand + 1e-6)
);
CREATE TABLE class_stock (
    workshop_id bigint NOT NULL,
    class_id    bigint NOT NULL,
    item_id     bigint NOT NULL,
    reserved    double precision NOT NULL,
    PRIMARY KEY (class_id, item_id),
    FOREIGN KEY (workshop_id, class_id) REFERENCES classes (workshop_id, id) ON DELETE CASCADE,
    FOREIGN KEY (workshop_id, item_id) REFERENCES stock_items (workshop_id, id) ON DELETE CASCADE,
    -- No class gives back or uses up what another has spoken for.
    CONSTRAINT class_stock_never_below_nothing CHECK (reserved >= -1e-6)
);
-- Before this was held to, two at once could use up what a third class had
-- spoken for. Such sums are made to agree: a class has spoken for no less than
-- nothing, and all together for no more than is there.
INSERT INTO class_stock (workshop_id, class_id, item_id, reserved)
SELECT workshop_id, class_id, item_id, greatest(0, sum(reserved)) FROM stock_movements WHERE class_id IS NOT NULL GROUP BY workshop_id, class_id, item_id;
INSERT INTO stock_balances (workshop_id, item_id, on_hand, reserved)
SELECT i.workshop_id, i.id, greatest(0, coalesce(sum(m.quantity), 0)), 0
FROM stock_items i LEFT JOIN stock_movements m ON m.item_id = i.id GROUP BY i.id;
UPDATE class_stock c SET reserved = c.reserved * least(1, b.on_hand / s.reserved)
FROM stock_balances b, (SELECT item_id, sum(reserved) AS reserved FROM class_stock GROUP BY item_id HAVING sum(reserved) > 0) AS s
WHERE b.item_id = c.item_id AND s.item_id = c.item_id;
UPDATE stock_balances b SET reserved = s.reserved
FROM (SELECT item_id, sum(reserved) AS reserved FROM class_stock GROUP BY item_id) AS s WHERE s.item_id = b.item_id;

DROP TRIGGER stock_never_below_nothing ON stock_movements;
DROP FUNCTION stock_never_below_nothing;
-- +goose StatementBegin
CREATE FUNCTION stock_items_begin_at_nothing() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    INSERT INTO stock_balances (workshop_id, item_id, on_hand, reserved) VALUES (NEW.workshop_id, NEW.id, 0, 0);
    RETURN NULL;
END $$;
CREATE FUNCTION stock_movements_add_up() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    -- The row of the balance lets one at a time through, so that two cannot
    -- both take the last.
    UPDATE stock_balances SET on_hand = on_hand + NEW.quantity, reserved = reserved + NEW.reserved WHERE item_id = NEW.item_id;
    IF NEW.class_id IS NOT NULL AND NEW.reserved <> 0 THEN
        UPDATE class_stock SET reserved = reserved + NEW.reserved WHERE class_id = NEW.class_id AND item_id = NEW.item_id;
        IF NOT FOUND THEN
            INSERT INTO class_stock AS c (workshop_id, class_id, item_id, reserved) VALUES (NEW.workshop_id, NEW.class_id, NEW.item_id, NEW.reserved)
            ON CONFLICT (class_id, item_id) DO UPDATE SET reserved = c.reserved + excluded.reserved;
        END IF;
    ELSIF NEW.class_id IS NULL AND NEW.reserved <> 0 THEN
        RAISE EXCEPTION 'what is spoken for is spoken for by a class' USING ERRCODE = 'check_violation', CONSTRAINT = 'class_stock_never_below_nothing';
    END IF;
    RETURN NULL;
END $$;
-- +goose StatementEnd
CREATE TRIGGER stock_items_begin_at_nothing AFTER INSERT ON stock_items FOR EACH ROW EXECUTE FUNCTION stock_items_begin_at_nothing();
CREATE TRIGGER stock_movements_add_up AFTER INSERT ON stock_movements FOR EACH ROW EXECUTE FUNCTION stock_movements_add_up();

-- People: one who has left signs in no more, but what they signed stays theirs.
ALTER TABLE accounts
    ADD COLUMN removed_at timestamptz,
    DROP CONSTRAINT accounts_email_key;
CREATE UNIQUE INDEX accounts_one_of_an_email ON accounts (email) WHERE removed_at IS NULL;

-- Who is signed in. The token itself is with the browser alone. A session that
-- has ended is gone, and nothing brings it back.
DROP TABLE IF EXISTS sessions;
CREATE TABLE sessions (
    id          bigint GENERATED ALWAYS AS IDENTITY UNIQUE,
    token_hash  bytea PRIMARY KEY CHECK (octet_length(token_hash) = 32),
    workshop_id bigint NOT NULL,
    account_id  bigint NOT NULL,
    began_at    timestamptz NOT NULL,
    seen_at     timestamptz NOT NULL,
    -- Where it is, in words: the browser's own.
    agent       text NOT NULL DEFAULT '' CHECK (char_length(agent) <= 200),
    FOREIGN KEY (workshop_id, account_id) REFERENCES accounts (workshop_id, id) ON DELETE CASCADE
);
CREATE INDEX sessions_by_account ON sessions (account_id);
CREATE INDEX sessions_by_time ON sessions (seen_at);

-- Failed sign-ins, by the hash of who tried.
CREATE TABLE sign_in_tries (
    key   bytea PRIMARY KEY CHECK (octet_length(key) = 32),
    tries integer NOT NULL,
    until timestamptz NOT NULL
);
CREATE INDEX sign_in_tries_by_time ON sign_in_tries (until);

-- Forms that have done their work, so that one sent again does not do it again.
CREATE TABLE sent_forms (
    workshop_id bigint NOT NULL REFERENCES workshops,
    key         bytea NOT NULL CHECK (octet_length(key) = 32),
    -- What the form made, for the answer to the second.
    made_id     bigint NOT NULL,
    sent_at     timestamptz NOT NULL,
    PRIMARY KEY (workshop_id, key)
);
CREATE INDEX sent_forms_by_time ON sent_forms (sent_at);

-- Ways that lists are read.
CREATE INDEX classes_by_time ON classes (workshop_id, starts_at);
CREATE INDEX class_students_by_student ON class_students (student_id);
CREATE INDEX bookings_by_student ON bookings (student_id) WHERE student_id IS NOT NULL;
CREATE INDEX stitch_outs_by_machine ON stitch_outs (machine_id);

-- No text is without end. Longer ones from before stay until they are changed.
ALTER TABLE workshops ADD CONSTRAINT workshops_texts CHECK (char_length(name) <= 120 AND char_length(time_zone) <= 60) NOT VALID;
ALTER TABLE accounts ADD CONSTRAINT accounts_texts CHECK (char_length(email) <= 254 AND char_length(name) <= 120 AND char_length(password_hash) <= 300) NOT VALID;
ALTER TABLE machines ADD CONSTRAINT machines_texts CHECK (char_length(name) <= 120 AND char_length(bobbin_style) <= 120 AND cardinality(formats) <= 20) NOT VALID;
ALTER TABLE hoops ADD CONSTRAINT hoops_texts CHECK (char_length(name) <= 120) NOT VALID;
ALTER TABLE designs ADD CONSTRAINT designs_texts CHECK (char_length(name) <= 120 AND char_length(file_name) <= 200 AND cardinality(tags) <= 12 AND cardinality(warnings) <= 100) NOT VALID;
ALTER TABLE design_stops ADD CONSTRAINT design_stops_texts CHECK (char_length(sews) <= 60 AND char_length(role) <= 20) NOT VALID;
ALTER TABLE design_files ADD CONSTRAINT design_files_texts CHECK (char_length(file_name) <= 200 AND char_length(format) <= 20) NOT VALID;
ALTER TABLE design_charts ADD CONSTRAINT design_charts_texts CHECK (char_length(file_name) <= 200) NOT VALID;
ALTER TABLE projects ADD CONSTRAINT projects_texts
    CHECK (char_length(name) <= 120 AND char_length(blank) <= 120 AND char_length(fabric) <= 40 AND cardinality(uses) <= 20 AND octet_length(content::text) <= 200000) NOT VALID;
ALTER TABLE project_steps ADD CONSTRAINT project_steps_texts CHECK (char_length(title) <= 200 AND char_length(caution) <= 1000 AND char_length(key) <= 60 AND cardinality(skills) <= 40) NOT VALID;
ALTER TABLE students ADD CONSTRAINT students_texts CHECK (char_length(name) <= 120) NOT VALID;
ALTER TABLE sign_offs ADD CONSTRAINT sign_offs_texts CHECK (char_length(skill) <= 60) NOT VALID;
ALTER TABLE classes ADD CONSTRAINT classes_texts CHECK (char_length(name) <= 120) NOT VALID;
ALTER TABLE class_students ADD CONSTRAINT class_students_texts CHECK (cardinality(kit_packed) <= 500) NOT VALID;
ALTER TABLE placements ADD CONSTRAINT placements_texts CHECK (char_length(override_reason) <= 300) NOT VALID;
ALTER TABLE stitch_outs ADD CONSTRAINT stitch_outs_texts CHECK (char_length(fabric) <= 40 AND char_length(recipe) <= 300 AND char_length(went_wrong) <= 1000) NOT VALID;
ALTER TABLE stock_items ADD CONSTRAINT stock_items_texts CHECK (char_length(name) <= 120 AND char_length(matches) <= 120 AND char_length(supplier) <= 120 AND char_length(place) <= 120) NOT VALID;
ALTER TABLE stock_movements ADD CONSTRAINT stock_movements_texts CHECK (char_length(note) <= 300) NOT VALID;

-- A number that every change of a workshop moves on, so that a page that was
-- made since the last change need not be made again. It moves once for each
-- transaction, at its end, so that nobody waits for it while they work.
CREATE TABLE revisions (
    workshop_id bigint PRIMARY KEY REFERENCES workshops ON DELETE CASCADE,
    revision    bigint NOT NULL
);
INSERT INTO revisions (workshop_id, revision) SELECT id, 1 FROM workshops;
-- +goose StatementBegin
CREATE FUNCTION revise(workshop bigint) RETURNS void LANGUAGE plpgsql AS $$
DECLARE
    this text := pg_current_xact_id()::text || '/' || workshop;
BEGIN
    IF current_setting('chalkstep.revised', true) IS NOT DISTINCT FROM this THEN
        RETURN;
    END IF;
    PERFORM set_config('chalkstep.revised', this, true);
    INSERT INTO revisions AS r (workshop_id, revision) VALUES (workshop, 1) ON CONFLICT (workshop_id) DO UPDATE SET revision = r.revision + 1;
END $$;
CREATE FUNCTION revise_by_row() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM revise(CASE TG_OP WHEN 'DELETE' THEN OLD.workshop_id ELSE NEW.workshop_id END);
    RETURN NULL;
END $$;
CREATE FUNCTION revise_by_workshop() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM revise(NEW.id);
    RETURN NULL;
END $$;
-- revises makes the changes of a table move the number on.
CREATE FUNCTION revises(table_name text) RETURNS void LANGUAGE plpgsql AS $$
BEGIN
    EXECUTE format('CREATE CONSTRAINT TRIGGER revise AFTER INSERT OR UPDATE OR DELETE ON %I DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION revise_by_row()', table_name);
END $$;
-- +goose StatementEnd
CREATE CONSTRAINT TRIGGER revise AFTER INSERT OR UPDATE ON workshops DEFERRABLE INITIALLY DEFERRED FOR EACH ROW EXECUTE FUNCTION revise_by_workshop();
-- Not those whose rows follow from others, or are about no page: plans,
-- pictures, sums, sessions and sent forms.
SELECT revises(t) FROM unnest(ARRAY['accounts', 'machines', 'hoops', 'machine_hoops', 'designs', 'design_stops', 'design_files', 'design_charts', 'placements', 'stitch_outs',
    'projects', 'project_steps', 'project_versions', 'project_version_designs', 'students', 'sign_offs', 'classes', 'class_students', 'bookings', 'stock_items', 'stock_movements']) AS t;
