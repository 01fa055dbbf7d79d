-- Making, step by step: when a face was prepared, when glue was spread, when the parts were closed and when the clamp
-- went on; what was mixed and weighed; what went otherwise.

ALTER TABLE piece ADD COLUMN prepped_utc TEXT;
ALTER TABLE piece ADD COLUMN spread_utc TEXT;
ALTER TABLE piece ADD COLUMN clamped_utc TEXT;
ALTER TABLE piece ADD COLUMN deviation TEXT NOT NULL DEFAULT '';
UPDATE piece SET clamped_utc = closed_utc;

ALTER TABLE batch ADD COLUMN mixed_utc TEXT;
ALTER TABLE batch ADD COLUMN who TEXT NOT NULL DEFAULT '';
ALTER TABLE batch ADD COLUMN spread_g REAL CHECK (spread_g >= 0 AND spread_g < 1e6);
ALTER TABLE batch ADD COLUMN spread_typed TEXT NOT NULL DEFAULT '';

-- What was done with the earlier tables is told, but its row images no longer fit: it cannot be undone.
UPDATE change SET undoable = 0;
