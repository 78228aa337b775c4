-- +goose Up
-- How often the thread broke in a logged run, NULL where nobody counted, and how many
-- stitches it was.
ALTER TABLE stitch_outs
    ADD COLUMN breaks   integer CHECK (breaks BETWEEN 0 AND 200),
    ADD COLUMN stitches integer NOT NULL DEFAULT 0 CHECK (stitches >= 0);
DROP TRIGGER stitch_outs_are_kept ON stitch_outs;
CREATE TRIGGER stitch_outs_are_kept BEFORE UPDATE OF machine_id, design_id, minutes, thread_metres, estimated_minutes, estimated_sewing, sewn_minutes, path_mm, ends, breaks, stitches
    ON stitch_outs FOR EACH ROW EXECUTE FUNCTION stitch_outs_are_kept();

-- Of what is learned: the breaks that were counted with the stitches they came in, and
-- the sums of how far runs were from what was said, as logarithms.
ALTER TABLE learned
    ADD COLUMN breaks         integer NOT NULL DEFAULT 0,
    ADD COLUMN break_stitches bigint NOT NULL DEFAULT 0,
    ADD COLUMN off            double precision NOT NULL DEFAULT 0,
    ADD COLUMN off_squares    double precision NOT NULL DEFAULT 0;
-- +goose StatementBegin
CREATE OR REPLACE FUNCTION learn(run stitch_outs, sign integer) RETURNS void LANGUAGE sql AS $$
    INSERT INTO learned AS l (workshop_id, machine_id, runs, sewn_minutes, said_minutes, drawn_mm, path_mm, ends, breaks, break_stitches, off, off_squares)
    SELECT run.workshop_id, run.machine_id, sign, sign * run.sewn_minutes, sign * run.estimated_sewing,
        sign * m.measured * run.thread_metres * 1000, sign * m.measured * run.path_mm, sign * m.measured * run.ends,
        sign * coalesce(run.breaks, 0), sign * CASE WHEN run.breaks IS NULL THEN 0 ELSE run.stitches END, sign * m.off, sign * m.off * m.off
    FROM (SELECT (run.thread_metres > 0 AND run.path_mm > 0)::integer AS measured,
        CASE WHEN run.sewn_minutes > 0 AND run.estimated_sewing > 0 THEN ln(run.sewn_minutes / run.estimated_sewing) ELSE 0 END AS off) AS m
    ON CONFLICT (machine_id) DO UPDATE SET
        runs = l.runs + excluded.runs, sewn_minutes = l.sewn_minutes + excluded.sewn_minutes, said_minutes = l.said_minutes + excluded.said_minutes,
        drawn_mm = l.drawn_mm + excluded.drawn_mm, path_mm = l.path_mm + excluded.path_mm, ends = l.ends + excluded.ends,
        breaks = l.breaks + excluded.breaks, break_stitches = l.break_stitches + excluded.break_stitches,
        off = l.off + excluded.off, off_squares = l.off_squares + excluded.off_squares;
$$;
-- +goose StatementEnd
DELETE FROM learned;
SELECT learn(s, 1) FROM stitch_outs s;
