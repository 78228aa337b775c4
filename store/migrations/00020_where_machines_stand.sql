-- +goose Up
-- Where a machine stands in the room: a place of a grid of four across and six deep, counted
-- from 1 at the top left; 0 for wherever there is room.
ALTER TABLE machines ADD COLUMN place smallint NOT NULL DEFAULT 0 CHECK (place BETWEEN 0 AND 24);
