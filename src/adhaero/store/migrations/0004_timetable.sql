-- What wood costs; the making as a timetable; curing, exposure and measuring with their real times.

ALTER TABLE stock_board ADD COLUMN price REAL CHECK (price >= 0 AND price < 1e9);
ALTER TABLE stock_board ADD COLUMN price_typed TEXT NOT NULL DEFAULT '';

-- A set of an earlier trial that stands beside the results, as a reference.
ALTER TABLE trial ADD COLUMN reference_id INTEGER REFERENCES treatment (id);

-- What was done with the earlier tables is told, but its row images no longer fit: it cannot be undone.
UPDATE change SET undoable = 0;
