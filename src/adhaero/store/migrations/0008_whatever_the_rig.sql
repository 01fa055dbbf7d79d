-- Whatever the rig: plates, gauges and levers, versions and check weights; what was typed, and what was corrected.

CREATE TABLE plate (
  id INTEGER PRIMARY KEY,
  weight_n REAL NOT NULL CHECK (weight_n > 0 AND weight_n < 1e6),
  weight_typed TEXT NOT NULL,
  number INTEGER NOT NULL CHECK (number BETWEEN 1 AND 1000)
) STRICT;

ALTER TABLE rig ADD COLUMN gauge_unit TEXT NOT NULL DEFAULT '' CHECK (gauge_unit IN ('', 'bar', 'psi', 'MPa', 'kPa'));
ALTER TABLE rig ADD COLUMN arm_piece_mm REAL CHECK (arm_piece_mm > 0 AND arm_piece_mm < 1e5);
ALTER TABLE rig ADD COLUMN arm_piece_typed TEXT NOT NULL DEFAULT '';
ALTER TABLE rig ADD COLUMN arm_hung_mm REAL CHECK (arm_hung_mm > 0 AND arm_hung_mm < 1e5);
ALTER TABLE rig ADD COLUMN arm_hung_typed TEXT NOT NULL DEFAULT '';
ALTER TABLE rig ADD COLUMN lever_n REAL CHECK (lever_n >= 0 AND lever_n < 1e6);
ALTER TABLE rig ADD COLUMN lever_typed TEXT NOT NULL DEFAULT '';
ALTER TABLE rig ADD COLUMN balance_mm REAL CHECK (balance_mm >= 0 AND balance_mm < 1e5);
ALTER TABLE rig ADD COLUMN balance_typed TEXT NOT NULL DEFAULT '';
-- The most that may hang on its handle or hanger, and what keeps a piece from twisting or jumping.
ALTER TABLE rig ADD COLUMN handle_n REAL CHECK (handle_n > 0 AND handle_n < 1e7);
ALTER TABLE rig ADD COLUMN handle_typed TEXT NOT NULL DEFAULT '';
ALTER TABLE rig ADD COLUMN guide TEXT NOT NULL DEFAULT '';

-- What made a load of a reading, from when on; `meaning` is the card as JSON, in SI and as typed.
CREATE TABLE rig_version (
  id INTEGER PRIMARY KEY,
  rig_id INTEGER NOT NULL REFERENCES rig (id),
  number INTEGER NOT NULL CHECK (number >= 1),
  from_utc TEXT NOT NULL,
  meaning TEXT NOT NULL,
  UNIQUE (rig_id, number)
) STRICT;

-- Known weights read on a rig: to calibrate it, or to see on a day of breaking that it still tells the truth.
CREATE TABLE check_weight (
  id INTEGER PRIMARY KEY,
  rig_id INTEGER NOT NULL REFERENCES rig (id),
  calibration_id INTEGER REFERENCES calibration (id),
  at_utc TEXT NOT NULL,
  load_n REAL NOT NULL CHECK (load_n >= 0 AND load_n < 1e9),
  load_typed TEXT NOT NULL,
  reading REAL NOT NULL CHECK (reading > -1e9 AND reading < 1e9),
  reading_typed TEXT NOT NULL,
  rising INTEGER NOT NULL DEFAULT 1 CHECK (rising IN (0, 1))
) STRICT;
CREATE INDEX check_weight_of_rig ON check_weight (rig_id, at_utc);
ALTER TABLE rig ADD COLUMN check_n REAL CHECK (check_n > 0 AND check_n < 1e9);
ALTER TABLE rig ADD COLUMN check_typed TEXT NOT NULL DEFAULT '';
ALTER TABLE rig ADD COLUMN check_give_n REAL CHECK (check_give_n > 0 AND check_give_n < 1e9);
ALTER TABLE rig ADD COLUMN check_give_typed TEXT NOT NULL DEFAULT '';

ALTER TABLE pull ADD COLUMN version_id INTEGER REFERENCES rig_version (id);
ALTER TABLE pull ADD COLUMN resolution_n REAL CHECK (resolution_n >= 0 AND resolution_n < 1e9);
ALTER TABLE pull ADD COLUMN hold_s REAL CHECK (hold_s >= 0 AND hold_s < 1e9);
ALTER TABLE pull ADD COLUMN hold_typed TEXT NOT NULL DEFAULT '';
ALTER TABLE pull ADD COLUMN pried_with TEXT NOT NULL DEFAULT '' CHECK (pried_with IN ('', 'hammer', 'lever', 'jump', 'hand'));

-- What was changed of a kept break, and why; the row itself holds the new value.
CREATE TABLE correction (
  id INTEGER PRIMARY KEY,
  piece_id INTEGER NOT NULL REFERENCES piece (id),
  pull_id INTEGER REFERENCES pull (id),
  field TEXT NOT NULL,
  before TEXT NOT NULL,
  after TEXT NOT NULL,
  reason TEXT NOT NULL,
  at_utc TEXT NOT NULL
) STRICT;
CREATE INDEX correction_of_piece ON correction (piece_id);

-- A log that other software recorded, whole as it came; the displacement beside the readings of a pull.
CREATE TABLE log_file (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 120),
  added_utc TEXT NOT NULL,
  sha256 TEXT NOT NULL,
  content BLOB NOT NULL
) STRICT;
-- How fast the load rose, from a fifth to four fifths of the peak; NULL where it was not recorded.
ALTER TABLE pull ADD COLUMN rate_n_per_s REAL CHECK (rate_n_per_s > -1e9 AND rate_n_per_s < 1e9);
ALTER TABLE pull ADD COLUMN log_id INTEGER REFERENCES log_file (id);
ALTER TABLE pull_chunk ADD COLUMN displacements BLOB;

-- Sets stay hidden at the bench until every piece is broken.
ALTER TABLE trial ADD COLUMN blind TEXT NOT NULL DEFAULT '0' CHECK (blind IN ('0', '1'));

INSERT INTO rig_version (rig_id, number, from_utc, meaning)
  SELECT id, 1, coalesce((SELECT min(made_utc) FROM calibration WHERE rig_id = rig.id), '1970-01-01T00:00:00+00:00'),
    json_object('kind', kind, 'unit', unit, 'capacity_n', capacity_n, 'capacity_typed', capacity_typed,
      'resolution_n', resolution_n, 'resolution_typed', resolution_typed, 'gauge_unit', '', 'bore_mm', bore_mm,
      'bore_typed', bore_typed, 'lever_ratio', lever_ratio, 'tare_n', tare_n, 'tare_typed', tare_typed,
      'fixtures', fixtures, 'guide', '')
  FROM rig;
UPDATE pull SET version_id = (SELECT id FROM rig_version WHERE rig_id = pull.rig_id) WHERE rig_id IS NOT NULL;

-- What was done with the earlier tables is told, but its row images no longer fit: it cannot be undone.
UPDATE change SET undoable = 0;
