-- A second number in the lines of a rig is how far the piece moves; what that says is kept beside the load.

ALTER TABLE rig ADD COLUMN displacement_index INTEGER CHECK (displacement_index BETWEEN 0 AND 20);
ALTER TABLE rig ADD COLUMN displacement_unit TEXT NOT NULL DEFAULT 'mm' CHECK (displacement_unit IN ('mm', 'in', 'µm'));

ALTER TABLE pull ADD COLUMN stiffness_n_per_mm REAL CHECK (stiffness_n_per_mm > 0 AND stiffness_n_per_mm < 1e12);
ALTER TABLE pull ADD COLUMN bend_starts_n REAL CHECK (bend_starts_n >= 0 AND bend_starts_n < 1e9);
ALTER TABLE pull ADD COLUMN bend_by_span_n REAL CHECK (bend_by_span_n > -1e9 AND bend_by_span_n < 1e9);
ALTER TABLE pull ADD COLUMN energy_j REAL CHECK (energy_j > -1e9 AND energy_j < 1e9);
ALTER TABLE pull ADD COLUMN stayed_bent_mm REAL CHECK (stayed_bent_mm > -1e6 AND stayed_bent_mm < 1e6);
-- A dial that a person read at loads: pairs of N and mm as JSON, and as typed.
ALTER TABLE pull ADD COLUMN dial TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(dial));
ALTER TABLE pull ADD COLUMN dial_typed TEXT NOT NULL DEFAULT '';
-- The longest time that the trace stood at one load, and how far it sagged then.
ALTER TABLE pull ADD COLUMN stood_s REAL CHECK (stood_s >= 0 AND stood_s < 1e9);
ALTER TABLE pull ADD COLUMN sagged_n REAL CHECK (sagged_n > -1e9 AND sagged_n < 1e9);

-- What was done with the earlier tables is told, but its row images no longer fit: it cannot be undone.
UPDATE change SET undoable = 0;
UPDATE rig_version SET meaning = json_set(meaning, '$.displacement_unit', 'mm');
