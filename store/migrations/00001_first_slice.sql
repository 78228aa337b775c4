-- +goose Up
CREATE EXTENSION IF NOT EXISTS btree_gist;

CREATE TABLE workshops (
    id         bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    name       text NOT NULL CHECK (btrim(name) <> ''),
    time_zone  text NOT NULL CHECK (time_zone <> ''),
    -- Figures and house rules the workshop has changed from their defaults.
    figures    jsonb NOT NULL DEFAULT '{}',
    house      jsonb NOT NULL DEFAULT '{}',
    version    integer NOT NULL DEFAULT 1
);

CREATE TABLE accounts (
    id            bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    workshop_id   bigint NOT NULL REFERENCES workshops,
    email         text NOT NULL CHECK (email = lower(email) AND email LIKE '%_@_%'),
    name          text NOT NULL CHECK (btrim(name) <> ''),
    role          text NOT NULL CHECK (role IN ('owner', 'instructor', 'assistant')),
    password_hash text NOT NULL,
    UNIQUE (email),
    UNIQUE (workshop_id, id)
);

CREATE TABLE machines (
    id             bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    workshop_id    bigint NOT NULL REFERENCES workshops,
    name           text NOT NULL CHECK (btrim(name) <> ''),
    formats        text[] NOT NULL CHECK (cardinality(formats) > 0),
    top_speed_spm  integer NOT NULL CHECK (top_speed_spm BETWEEN 100 AND 2000),
    change_seconds integer NOT NULL CHECK (change_seconds BETWEEN 0 AND 900),
    needles        integer NOT NULL CHECK (needles BETWEEN 1 AND 24),
    auto_trim      boolean NOT NULL,
    bobbin_style   text NOT NULL CHECK (btrim(bobbin_style) <> ''),
    bobbin_metres  double precision NOT NULL CHECK (bobbin_metres > 0),
    version        integer NOT NULL DEFAULT 1,
    UNIQUE (workshop_id, name),
    UNIQUE (workshop_id, id)
);

CREATE TABLE hoops (
    id          bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    workshop_id bigint NOT NULL REFERENCES workshops,
    name        text NOT NULL CHECK (btrim(name) <> ''),
    width_mm    double precision NOT NULL CHECK (width_mm BETWEEN 20 AND 1000),
    height_mm   double precision NOT NULL CHECK (height_mm BETWEEN 20 AND 1000),
    count       integer NOT NULL CHECK (count BETWEEN 0 AND 100),
    version     integer NOT NULL DEFAULT 1,
    UNIQUE (workshop_id, name),
    UNIQUE (workshop_id, id)
);

-- Which machine takes which hoop, and by how much the marks on the frame miss
-- the true needle start there.
CREATE TABLE machine_hoops (
    workshop_id bigint NOT NULL,
    machine_id  bigint NOT NULL,
    hoop_id     bigint NOT NULL,
    dx_mm       double precision NOT NULL DEFAULT 0 CHECK (abs(dx_mm) <= 50),
    dy_mm       double precision NOT NULL DEFAULT 0 CHECK (abs(dy_mm) <= 50),
    PRIMARY KEY (machine_id, hoop_id),
    FOREIGN KEY (workshop_id, machine_id) REFERENCES machines (workshop_id, id) ON DELETE CASCADE,
    FOREIGN KEY (workshop_id, hoop_id) REFERENCES hoops (workshop_id, id) ON DELETE CASCADE
);

CREATE TABLE designs (
    id            bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    workshop_id   bigint NOT NULL REFERENCES workshops,
    name          text NOT NULL CHECK (btrim(name) <> ''),
    file_name     text NOT NULL,
    format        text NOT NULL,
    -- The bytes as they came, never rewritten.
    original      bytea NOT NULL,
    sha256        bytea NOT NULL CHECK (octet_length(sha256) = 32),
    width_mm      double precision NOT NULL CHECK (width_mm >= 0),
    height_mm     double precision NOT NULL CHECK (height_mm >= 0),
    stitches      integer NOT NULL CHECK (stitches > 0),
    jumps         integer NOT NULL CHECK (jumps >= 0),
    trims         integer NOT NULL CHECK (trims >= 0),
    color_changes integer NOT NULL CHECK (color_changes >= 0),
    warnings      text[] NOT NULL DEFAULT '{}',
    added_at      timestamptz NOT NULL,
    version       integer NOT NULL DEFAULT 1,
    UNIQUE (workshop_id, name),
    UNIQUE (workshop_id, sha256),
    UNIQUE (workshop_id, id)
);

CREATE TABLE design_stops (
    workshop_id bigint NOT NULL,
    design_id   bigint NOT NULL,
    n           integer NOT NULL CHECK (n > 0),
    color       text NOT NULL CHECK (color ~ '^#[0-9a-f]{6}$'),
    role        text NOT NULL,
    sews        text NOT NULL DEFAULT '',
    stitches    integer NOT NULL CHECK (stitches > 0),
    jumps       integer NOT NULL CHECK (jumps >= 0),
    trims       integer NOT NULL CHECK (trims >= 0),
    snips       integer NOT NULL CHECK (snips >= 0),
    thread_mm   double precision NOT NULL CHECK (thread_mm >= 0),
    -- The stop as SVG path data in tenths of a millimetre from the design's
    -- centre, y down: made once, drawn on many pages.
    path        text NOT NULL,
    PRIMARY KEY (design_id, n),
    FOREIGN KEY (workshop_id, design_id) REFERENCES designs (workshop_id, id) ON DELETE CASCADE
);

CREATE TABLE projects (
    id              bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    workshop_id     bigint NOT NULL REFERENCES workshops,
    name            text NOT NULL CHECK (btrim(name) <> ''),
    design_id       bigint NOT NULL,
    blank           text NOT NULL CHECK (btrim(blank) <> ''),
    blank_width_mm  double precision NOT NULL CHECK (blank_width_mm BETWEEN 10 AND 5000),
    blank_height_mm double precision NOT NULL CHECK (blank_height_mm BETWEEN 10 AND 5000),
    fabric          text NOT NULL,
    uses            text[] NOT NULL DEFAULT '{}',
    version         integer NOT NULL DEFAULT 1,
    UNIQUE (workshop_id, name),
    UNIQUE (workshop_id, id),
    FOREIGN KEY (workshop_id, design_id) REFERENCES designs (workshop_id, id)
);

CREATE TABLE project_steps (
    workshop_id bigint NOT NULL,
    project_id  bigint NOT NULL,
    n           integer NOT NULL CHECK (n > 0),
    key         text NOT NULL,
    title       text NOT NULL CHECK (btrim(title) <> ''),
    place       text NOT NULL CHECK (place IN ('bench', 'machine')),
    minutes     double precision NOT NULL CHECK (minutes BETWEEN 0 AND 600),
    instructor  boolean NOT NULL,
    skills      text[] NOT NULL DEFAULT '{}',
    caution     text NOT NULL DEFAULT '',
    PRIMARY KEY (project_id, n),
    UNIQUE (project_id, key),
    FOREIGN KEY (workshop_id, project_id) REFERENCES projects (workshop_id, id) ON DELETE CASCADE
);

CREATE TABLE students (
    id          bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    workshop_id bigint NOT NULL REFERENCES workshops,
    name        text NOT NULL CHECK (btrim(name) <> ''),
    first_timer boolean NOT NULL,
    version     integer NOT NULL DEFAULT 1,
    UNIQUE (workshop_id, name),
    UNIQUE (workshop_id, id)
);

CREATE TABLE sign_offs (
    workshop_id  bigint NOT NULL,
    student_id   bigint NOT NULL,
    skill        text NOT NULL,
    -- Shown on this kind of machine.
    machine_kind text NOT NULL CHECK (machine_kind IN ('single-needle', 'multi-needle')),
    signed_on    date NOT NULL,
    assessor_id  bigint NOT NULL,
    PRIMARY KEY (student_id, skill, machine_kind),
    FOREIGN KEY (workshop_id, student_id) REFERENCES students (workshop_id, id) ON DELETE CASCADE,
    FOREIGN KEY (workshop_id, assessor_id) REFERENCES accounts (workshop_id, id)
);

CREATE TABLE classes (
    id          bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    workshop_id bigint NOT NULL REFERENCES workshops,
    name        text NOT NULL CHECK (btrim(name) <> ''),
    project_id  bigint NOT NULL,
    starts_at   timestamptz NOT NULL,
    ends_at     timestamptz NOT NULL,
    instructors integer NOT NULL CHECK (instructors BETWEEN 1 AND 10),
    irons       integer NOT NULL CHECK (irons BETWEEN 1 AND 20),
    version     integer NOT NULL DEFAULT 1,
    CHECK (ends_at > starts_at AND ends_at <= starts_at + interval '12 hours'),
    UNIQUE (workshop_id, id),
    FOREIGN KEY (workshop_id, project_id) REFERENCES projects (workshop_id, id)
);

CREATE TABLE class_students (
    workshop_id bigint NOT NULL,
    class_id    bigint NOT NULL,
    student_id  bigint NOT NULL,
    PRIMARY KEY (class_id, student_id),
    FOREIGN KEY (workshop_id, class_id) REFERENCES classes (workshop_id, id) ON DELETE CASCADE,
    FOREIGN KEY (workshop_id, student_id) REFERENCES students (workshop_id, id)
);

-- The plan of a class, kept as long as what it was made from stays the same.
CREATE TABLE class_plans (
    workshop_id bigint NOT NULL,
    class_id    bigint NOT NULL PRIMARY KEY,
    input_hash  bytea NOT NULL,
    result      jsonb NOT NULL,
    FOREIGN KEY (workshop_id, class_id) REFERENCES classes (workshop_id, id) ON DELETE CASCADE
);

-- Who has a machine when: a student, or a class with all who sit in it.
CREATE TABLE bookings (
    id          bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    workshop_id bigint NOT NULL,
    machine_id  bigint NOT NULL,
    student_id  bigint,
    class_id    bigint,
    starts_at   timestamptz NOT NULL,
    ends_at     timestamptz NOT NULL,
    -- An instructor stays beside a student who may not book alone.
    accompanied boolean NOT NULL DEFAULT false,
    CHECK ((student_id IS NULL) <> (class_id IS NULL)),
    CHECK (ends_at > starts_at AND ends_at <= starts_at + interval '12 hours'),
    FOREIGN KEY (workshop_id, machine_id) REFERENCES machines (workshop_id, id),
    FOREIGN KEY (workshop_id, student_id) REFERENCES students (workshop_id, id),
    FOREIGN KEY (workshop_id, class_id) REFERENCES classes (workshop_id, id) ON DELETE CASCADE,
    UNIQUE (class_id, machine_id),
    CONSTRAINT one_booking_at_a_time EXCLUDE USING gist (machine_id WITH =, tstzrange(starts_at, ends_at) WITH &&)
);
CREATE INDEX bookings_by_time ON bookings (workshop_id, starts_at);
