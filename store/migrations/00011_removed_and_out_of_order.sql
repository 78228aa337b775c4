-- +goose Up
-- What is taken off the lists is kept for the past; its name is free again.
ALTER TABLE machines ADD COLUMN retired_at timestamptz, DROP CONSTRAINT machines_workshop_id_name_key;
ALTER TABLE hoops ADD COLUMN retired_at timestamptz, DROP CONSTRAINT hoops_workshop_id_name_key;
ALTER TABLE stock_items ADD COLUMN retired_at timestamptz, DROP CONSTRAINT stock_items_workshop_id_name_key;
ALTER TABLE students ADD COLUMN retired_at timestamptz, DROP CONSTRAINT students_workshop_id_name_key;
ALTER TABLE projects ADD COLUMN retired_at timestamptz, DROP CONSTRAINT projects_workshop_id_name_key;
CREATE UNIQUE INDEX machines_one_of_a_name ON machines (workshop_id, name) WHERE retired_at IS NULL;
CREATE UNIQUE INDEX hoops_one_of_a_name ON hoops (workshop_id, name) WHERE retired_at IS NULL;
CREATE UNIQUE INDEX stock_items_one_of_a_name ON stock_items (workshop_id, name) WHERE retired_at IS NULL;
CREATE UNIQUE INDEX students_one_of_a_name ON students (workshop_id, name) WHERE retired_at IS NULL;
CREATE UNIQUE INDEX projects_one_of_a_name ON projects (workshop_id, name) WHERE retired_at IS NULL;

-- Nothing that something refers to is deleted for good.
ALTER TABLE machine_hoops DROP CONSTRAINT machine_hoops_workshop_id_hoop_id_fkey,
    ADD CONSTRAINT machine_hoops_hoop FOREIGN KEY (workshop_id, hoop_id) REFERENCES hoops (workshop_id, id);
ALTER TABLE placements DROP CONSTRAINT placements_workshop_id_machine_id_fkey, DROP CONSTRAINT placements_workshop_id_hoop_id_fkey,
    ADD CONSTRAINT placements_machine FOREIGN KEY (workshop_id, machine_id) REFERENCES machines (workshop_id, id),
    ADD CONSTRAINT placements_hoop FOREIGN KEY (workshop_id, hoop_id) REFERENCES hoops (workshop_id, id);
ALTER TABLE stitch_outs DROP CONSTRAINT stitch_outs_workshop_id_machine_id_fkey,
    ADD CONSTRAINT stitch_outs_machine FOREIGN KEY (workshop_id, machine_id) REFERENCES machines (workshop_id, id);
ALTER TABLE sign_offs DROP CONSTRAINT sign_offs_workshop_id_student_id_fkey,
    ADD CONSTRAINT sign_offs_student FOREIGN KEY (workshop_id, student_id) REFERENCES students (workshop_id, id);

-- When a machine cannot be used; without an end, until somebody says so.
CREATE TABLE machine_outages (
    id          bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    workshop_id bigint NOT NULL,
    machine_id  bigint NOT NULL,
    starts_at   timestamptz NOT NULL,
    ends_at     timestamptz CHECK (ends_at > starts_at),
    reason      text NOT NULL CHECK (btrim(reason) <> '' AND char_length(reason) <= 200),
    said_by     bigint NOT NULL,
    FOREIGN KEY (workshop_id, machine_id) REFERENCES machines (workshop_id, id) ON DELETE CASCADE,
    FOREIGN KEY (workshop_id, said_by) REFERENCES accounts (workshop_id, id)
);
CREATE INDEX machine_outages_by_machine ON machine_outages (machine_id, starts_at);
SELECT revises('machine_outages');

-- A class that was called off stays in the list; its machines are free again.
ALTER TABLE classes ADD COLUMN cancelled_at timestamptz;

-- How many hoops of a kind a class's plan lets its machines have: what another
-- class at the same time does not get.
CREATE TABLE class_hoops (
    workshop_id bigint NOT NULL,
    class_id    bigint NOT NULL,
    hoop_id     bigint NOT NULL,
    count       int NOT NULL CHECK (count BETWEEN 1 AND 1000),
    PRIMARY KEY (class_id, hoop_id),
    FOREIGN KEY (workshop_id, class_id) REFERENCES classes (workshop_id, id) ON DELETE CASCADE,
    FOREIGN KEY (workshop_id, hoop_id) REFERENCES hoops (workshop_id, id) ON DELETE CASCADE
);

-- What a plan was made from, and what its class costs by it: a class that is
-- over keeps the plan and the figures of its day.
ALTER TABLE class_plans ADD COLUMN basis jsonb, ADD COLUMN cost_cents double precision, ADD COLUMN fee_cents double precision;

-- The machines chosen for a class. Those of them that can sew something of it
-- are booked; the others sit out, free for others.
CREATE TABLE class_machines (
    workshop_id bigint NOT NULL,
    class_id    bigint NOT NULL,
    machine_id  bigint NOT NULL,
    PRIMARY KEY (class_id, machine_id),
    FOREIGN KEY (workshop_id, class_id) REFERENCES classes (workshop_id, id) ON DELETE CASCADE,
    FOREIGN KEY (workshop_id, machine_id) REFERENCES machines (workshop_id, id)
);
INSERT INTO class_machines (workshop_id, class_id, machine_id) SELECT workshop_id, class_id, machine_id FROM bookings WHERE class_id IS NOT NULL;
