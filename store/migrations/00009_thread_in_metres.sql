-- +goose Up
-- Thread is counted by its length: what was counted in spools becomes the
-- millimetres on them. A spool of which nobody said how much is on it counts as
-- 1,000 m. The ledger says the same as before, in another unit.
ALTER TABLE stock_items DROP CONSTRAINT stock_items_form_check, DROP CONSTRAINT stock_items_check;
UPDATE stock_items SET metres = 1000 WHERE key LIKE 'thread;%' AND metres = 0;
ALTER TABLE stock_movements DISABLE TRIGGER USER;
UPDATE stock_movements m SET quantity = m.quantity * i.metres * 1000, reserved = m.reserved * i.metres * 1000
FROM stock_items i WHERE i.id = m.item_id AND i.key LIKE 'thread;%';
ALTER TABLE stock_movements ENABLE TRIGGER USER;
UPDATE stock_balances b SET on_hand = b.on_hand * i.metres * 1000, reserved = b.reserved * i.metres * 1000
FROM stock_items i WHERE i.id = b.item_id AND i.key LIKE 'thread;%';
UPDATE class_stock c SET reserved = c.reserved * i.metres * 1000
FROM stock_items i WHERE i.id = c.item_id AND i.key LIKE 'thread;%';
UPDATE stock_items SET form = 'spool', pack = pack * metres * 1000, reorder_point = reorder_point * metres * 1000 WHERE key LIKE 'thread;%';
-- What waits for the end of the transaction is checked now: a table of which
-- something is still to be checked cannot be altered.
SET CONSTRAINTS ALL IMMEDIATE;
ALTER TABLE stock_items
    ADD CONSTRAINT stock_items_form_check CHECK (form IN ('roll', 'sheet', 'each', 'spool')),
    ADD CONSTRAINT stock_items_widths CHECK (form IN ('each', 'spool') OR width_mm > 0),
    ADD CONSTRAINT stock_items_spools CHECK ((form = 'spool') = (key LIKE 'thread;%') AND (form <> 'spool' OR metres > 0));
