-- Panels of a trial over years; how a glue was kept when it was used; the last weight that held.

ALTER TABLE piece ADD COLUMN panel INTEGER CHECK (panel > 0);
ALTER TABLE batch ADD COLUMN glue_kept TEXT NOT NULL DEFAULT '';

-- Weights put on in steps: a piece that broke at load_n had held this; NULL where the load rose evenly.
ALTER TABLE pull ADD COLUMN held_n REAL CHECK (held_n >= 0 AND held_n < 1e9);
ALTER TABLE pull ADD COLUMN held_typed TEXT NOT NULL DEFAULT '';

-- What the person concludes, checked against the numbers.
ALTER TABLE trial ADD COLUMN conclusion TEXT NOT NULL DEFAULT '';

-- What was done with the earlier tables is told, but its row images no longer fit: it cannot be undone.
UPDATE change SET undoable = 0;
