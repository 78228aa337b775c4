-- +goose Up
-- A class's day: who helps, where people work, when all stop, and who sits where by
-- the instructor's wish.
ALTER TABLE classes
    ADD COLUMN assistants    int NOT NULL DEFAULT 0 CHECK (assistants BETWEEN 0 AND 10),
    ADD COLUMN assistant_minutes int NOT NULL DEFAULT 0 CHECK (assistant_minutes BETWEEN 0 AND 1440),
    ADD COLUMN benches       int NOT NULL DEFAULT 0 CHECK (benches BETWEEN 0 AND 60),
    ADD COLUMN break_at      int NOT NULL DEFAULT 0 CHECK (break_at BETWEEN 0 AND 1440),
    ADD COLUMN break_minutes int NOT NULL DEFAULT 0 CHECK (break_minutes BETWEEN 0 AND 240),
    -- What of the levers was adopted, in order.
    ADD COLUMN adopted       text[] NOT NULL DEFAULT '{}' CHECK (cardinality(adopted) <= 50);

-- Staff may hoop somebody's first blank before class. A pin says at which machine somebody sews a hooping, from which minute of the
-- class, or both.
ALTER TABLE class_students
    ADD COLUMN hooped_ahead boolean NOT NULL DEFAULT false,
    ADD COLUMN pins jsonb NOT NULL DEFAULT '[]' CHECK (jsonb_typeof(pins) = 'array' AND jsonb_array_length(pins) <= 20);
