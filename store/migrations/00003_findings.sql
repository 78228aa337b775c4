-- +goose Up
-- What is found in the stitches: how densely thread lies (its area over the
-- sewn area; 0 for designs added before this was measured), and lengths that
-- are hard to sew.
ALTER TABLE designs
    ADD COLUMN coverage           double precision NOT NULL DEFAULT 0 CHECK (coverage >= 0),
    ADD COLUMN short_stitches     integer NOT NULL DEFAULT 0 CHECK (short_stitches >= 0),
    ADD COLUMN long_stitches      integer NOT NULL DEFAULT 0 CHECK (long_stitches >= 0),
    ADD COLUMN narrowest_satin_mm double precision NOT NULL DEFAULT 0 CHECK (narrowest_satin_mm >= 0);
ALTER TABLE design_stops
    ADD COLUMN coverage double precision NOT NULL DEFAULT 0 CHECK (coverage >= 0);
