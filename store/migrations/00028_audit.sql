-- +goose Up
-- Who changed what, when: written by the database itself, read by staff, and changed by
-- nobody. A transaction says who is at work in chalkstep.by: an account, or -student.
CREATE TABLE audit (
    id          bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    workshop_id bigint NOT NULL REFERENCES workshops (id) ON DELETE CASCADE,
    at          timestamptz NOT NULL DEFAULT now(),
    -- account_id or by_student is who did it; neither where the program did.
    account_id  bigint,
    by_student  bigint,
    what        text NOT NULL,
    action      text NOT NULL CHECK (action IN ('added', 'changed', 'removed')),
    row_id      bigint NOT NULL DEFAULT 0,
    name        text NOT NULL DEFAULT '',
    -- Of whom and of which machine and class the row is, where it says so.
    student_id  bigint,
    machine_id  bigint,
    class_id    bigint,
    -- By column: what it was, and what it is.
    changes     jsonb NOT NULL
);
CREATE INDEX audit_newest ON audit (workshop_id, id DESC);

-- +goose StatementBegin
CREATE FUNCTION audit_is_kept() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    RAISE EXCEPTION 'what was written down of changes is never changed';
END $$;

CREATE FUNCTION audit_row() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
    -- What is secret, or follows from something else.
    hidden  text[] := ARRAY['password_hash', 'pin_hash', 'station_key', 'feed_key', 'version', 'learned', 'figures', 'workshop_id', 'seen_single_needle', 'seen_multi_needle', 'noted_at'];
    old_row jsonb := CASE TG_OP WHEN 'INSERT' THEN '{}' ELSE to_jsonb(OLD) END;
    new_row jsonb := CASE TG_OP WHEN 'DELETE' THEN '{}' ELSE to_jsonb(NEW) END;
    whole   jsonb := old_row || new_row;
    before  jsonb := old_row - hidden;
    after   jsonb := new_row - hidden;
    changed jsonb;
    acting  text := coalesce(current_setting('chalkstep.by', true), '');
    by_id   bigint := CASE WHEN acting ~ '^-?[0-9]+$' THEN acting::bigint END;
BEGIN
    SELECT coalesce(jsonb_object_agg(k, jsonb_build_array(left(before ->> k, 200), left(after ->> k, 200))), '{}') INTO changed
    FROM jsonb_object_keys(before || after) AS k WHERE before -> k IS DISTINCT FROM after -> k AND (before ->> k IS NOT NULL OR after ->> k IS NOT NULL);
    IF TG_OP = 'UPDATE' AND old_row ->> 'password_hash' <> new_row ->> 'password_hash' THEN
        changed := changed || '{"password": [null, "another"]}';
    END IF;
    IF TG_OP = 'UPDATE' AND old_row -> 'figures' <> new_row -> 'figures' THEN
        changed := changed || '{"figures": [null, "others"]}';
    END IF;
    IF changed = '{}' THEN
        RETURN NULL;
    END IF;
    INSERT INTO audit (workshop_id, account_id, by_student, what, action, row_id, name, student_id, machine_id, class_id, changes)
    VALUES (coalesce((whole ->> 'workshop_id')::bigint, (whole ->> 'id')::bigint),
        CASE WHEN by_id > 0 THEN by_id END, CASE WHEN by_id < 0 THEN -by_id END, TG_TABLE_NAME,
        CASE TG_OP WHEN 'INSERT' THEN 'added' WHEN 'UPDATE' THEN 'changed' ELSE 'removed' END, coalesce((whole ->> 'id')::bigint, (whole ->> 'student_id')::bigint, 0),
        left(coalesce(whole ->> 'name', ''), 120), (whole ->> 'student_id')::bigint, (whole ->> 'machine_id')::bigint, (whole ->> 'class_id')::bigint, changed);
    RETURN NULL;
END $$;

CREATE FUNCTION audits(table_name text) RETURNS void LANGUAGE plpgsql AS $$
BEGIN
    EXECUTE format('CREATE TRIGGER audit AFTER INSERT OR UPDATE OR DELETE ON %I FOR EACH ROW EXECUTE FUNCTION audit_row()', table_name);
END $$;
-- +goose StatementEnd
CREATE TRIGGER audit_is_kept BEFORE UPDATE OR DELETE ON audit FOR EACH ROW EXECUTE FUNCTION audit_is_kept();
SELECT audits(t) FROM unnest(ARRAY['accounts', 'students', 'marks', 'machines', 'hoops', 'machine_outages', 'classes', 'workshops', 'student_access', 'feeds', 'stock_items']) AS t;
-- Machines of a class are booked with it: the class says so.
CREATE TRIGGER audit AFTER INSERT OR UPDATE ON bookings FOR EACH ROW WHEN (NEW.class_id IS NULL) EXECUTE FUNCTION audit_row();
CREATE TRIGGER audit_removed AFTER DELETE ON bookings FOR EACH ROW WHEN (OLD.class_id IS NULL) EXECUTE FUNCTION audit_row();
