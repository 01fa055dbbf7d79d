-- A photo of the broken face of a pull.

ALTER TABLE pull ADD COLUMN photo_id INTEGER REFERENCES photo (id);

-- What was done with the earlier table is told, but its row images no longer fit: it cannot be undone.
UPDATE change SET undoable = 0;
