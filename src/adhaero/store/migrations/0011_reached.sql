-- How far a piece had moved at its highest load; what was pulled before keeps none.

ALTER TABLE pull ADD COLUMN reached_mm REAL CHECK (reached_mm > -1e6 AND reached_mm < 1e6);

-- What was done with the earlier table is told, but its row images no longer fit: it cannot be undone.
UPDATE change SET undoable = 0;
