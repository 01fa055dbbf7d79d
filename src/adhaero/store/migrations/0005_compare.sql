-- Panels of a trial over years; how a glue was kept when it was used.

ALTER TABLE piece ADD COLUMN panel INTEGER CHECK (panel > 0);
ALTER TABLE batch ADD COLUMN glue_kept TEXT NOT NULL DEFAULT '';

-- What was done with the earlier tables is told, but its row images no longer fit: it cannot be undone.
UPDATE change SET undoable = 0;
