-- What a rig prints and how; where on a trace the load was read; words for what a typed load went through.

ALTER TABLE rig ADD COLUMN decimal_mark TEXT NOT NULL DEFAULT 'auto' CHECK (decimal_mark IN ('auto', 'point', 'comma'));
-- The unit printed behind the numbers where it means the unit of the card all the same.
ALTER TABLE rig ADD COLUMN prints TEXT NOT NULL DEFAULT '';
ALTER TABLE rig ADD COLUMN baud INTEGER NOT NULL DEFAULT 115200 CHECK (baud BETWEEN 50 AND 4000000);
ALTER TABLE rig ADD COLUMN parity TEXT NOT NULL DEFAULT 'none' CHECK (parity IN ('none', 'even', 'odd'));
ALTER TABLE rig ADD COLUMN stop_bits INTEGER NOT NULL DEFAULT 1 CHECK (stop_bits IN (1, 2));
-- A host outside this network whose lines a person allowed.
ALTER TABLE rig ADD COLUMN far_host TEXT NOT NULL DEFAULT '';
ALTER TABLE rig ADD COLUMN simulated INTEGER NOT NULL DEFAULT 0 CHECK (simulated IN (0, 1));
UPDATE rig SET simulated = 1 WHERE url LIKE 'socket://127.0.0.1:%' OR url LIKE 'socket://localhost:%';

ALTER TABLE pull ADD COLUMN flag_codes TEXT NOT NULL DEFAULT '[]';
ALTER TABLE pull ADD COLUMN expected_low_n REAL CHECK (expected_low_n >= 0 AND expected_low_n < 1e9);
ALTER TABLE pull ADD COLUMN load_point TEXT NOT NULL DEFAULT 'highest'
  CHECK (load_point IN ('highest', 'first_drop', 'point'));
ALTER TABLE pull ADD COLUMN load_point_s REAL CHECK (load_point_s > -1e12 AND load_point_s < 1e12);
ALTER TABLE pull ADD COLUMN load_point_reason TEXT NOT NULL DEFAULT '';
ALTER TABLE pull ADD COLUMN load_through TEXT NOT NULL DEFAULT '';

-- What was done with the earlier tables is told, but its row images no longer fit: it cannot be undone.
UPDATE change SET undoable = 0;
