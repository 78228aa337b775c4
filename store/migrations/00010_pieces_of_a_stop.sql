-- +goose Up
-- How many pieces a placement is for; of what came before, nobody has counted.
ALTER TABLE design_stops ADD COLUMN pieces int NOT NULL DEFAULT 0 CHECK (pieces BETWEEN 0 AND 10000);
