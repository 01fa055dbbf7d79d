-- One shop: its glues and rigs, its trials, their pieces and what happened to them.
-- Quantities are SI and say so in their name; beside them stands what was typed. Times are UTC, ISO 8601.

CREATE TABLE setting (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL UNIQUE,
  value TEXT NOT NULL
) STRICT;

CREATE TABLE glue (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL UNIQUE COLLATE NOCASE CHECK (length(name) BETWEEN 1 AND 80),
  family TEXT NOT NULL,
  opened_on TEXT,
  lot TEXT NOT NULL DEFAULT ''
) STRICT;

CREATE TABLE rig (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL UNIQUE COLLATE NOCASE CHECK (length(name) BETWEEN 1 AND 80),
  url TEXT NOT NULL,
  number_index INTEGER NOT NULL DEFAULT 0 CHECK (number_index BETWEEN 0 AND 20),
  unit TEXT NOT NULL,
  capacity_n REAL NOT NULL CHECK (capacity_n > 0 AND capacity_n < 1e9),
  capacity_typed TEXT NOT NULL,
  resolution_n REAL NOT NULL CHECK (resolution_n > 0 AND resolution_n < 1e9),
  resolution_typed TEXT NOT NULL
) STRICT;

CREATE TABLE calibration (
  id INTEGER PRIMARY KEY,
  rig_id INTEGER NOT NULL REFERENCES rig (id),
  offset_reading REAL NOT NULL CHECK (offset_reading > -1e9 AND offset_reading < 1e9),
  newton_per_unit REAL NOT NULL CHECK (newton_per_unit > -1e9 AND newton_per_unit < 1e9 AND newton_per_unit <> 0),
  made_utc TEXT NOT NULL
) STRICT;

CREATE TABLE trial (
  id INTEGER PRIMARY KEY,
  question TEXT NOT NULL CHECK (length(question) BETWEEN 1 AND 300),
  guess TEXT NOT NULL DEFAULT '',
  judged TEXT NOT NULL DEFAULT 'joint' CHECK (judged IN ('joint', 'glue', 'both')),
  factor TEXT NOT NULL DEFAULT 'glue',
  factor_name TEXT NOT NULL DEFAULT '',
  joint TEXT NOT NULL DEFAULT 'scarf',
  fixture TEXT NOT NULL DEFAULT 'bend-4',
  material_a TEXT NOT NULL DEFAULT '',
  material_b TEXT NOT NULL DEFAULT '',
  grain_a TEXT NOT NULL DEFAULT 'face',
  grain_b TEXT NOT NULL DEFAULT 'face',
  glue TEXT NOT NULL DEFAULT '',
  prep TEXT NOT NULL DEFAULT '',
  seed INTEGER NOT NULL CHECK (seed >= 0),
  practice INTEGER NOT NULL DEFAULT 0 CHECK (practice IN (0, 1)),
  created_utc TEXT NOT NULL,
  frozen_utc TEXT,
  removed_utc TEXT
) STRICT;

CREATE TABLE quantity (
  id INTEGER PRIMARY KEY,
  trial_id INTEGER NOT NULL REFERENCES trial (id),
  name TEXT NOT NULL,
  si REAL NOT NULL CHECK (si > -1e12 AND si < 1e12),
  typed TEXT NOT NULL,
  UNIQUE (trial_id, name)
) STRICT;

CREATE TABLE treatment (
  id INTEGER PRIMARY KEY,
  trial_id INTEGER NOT NULL REFERENCES trial (id),
  rank INTEGER NOT NULL,
  name TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 60),
  code TEXT NOT NULL,
  value_si REAL CHECK (value_si > -1e12 AND value_si < 1e12),
  glue_id INTEGER REFERENCES glue (id),
  solid INTEGER NOT NULL DEFAULT 0 CHECK (solid IN (0, 1)),
  pieces INTEGER NOT NULL CHECK (pieces BETWEEN 0 AND 1000)
) STRICT;
CREATE INDEX treatment_of_trial ON treatment (trial_id, rank);

CREATE TABLE board (
  id INTEGER PRIMARY KEY,
  trial_id INTEGER NOT NULL REFERENCES trial (id),
  rank INTEGER NOT NULL,
  name TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 60),
  species TEXT NOT NULL DEFAULT '',
  holds INTEGER NOT NULL CHECK (holds BETWEEN 1 AND 1000)
) STRICT;
CREATE INDEX board_of_trial ON board (trial_id, rank);

CREATE TABLE batch (
  id INTEGER PRIMARY KEY,
  trial_id INTEGER NOT NULL REFERENCES trial (id),
  number INTEGER NOT NULL,
  glue TEXT NOT NULL,
  glue_family TEXT NOT NULL,
  glue_opened_on TEXT,
  glue_lot TEXT NOT NULL DEFAULT '',
  shop_temperature_c REAL CHECK (shop_temperature_c > -60 AND shop_temperature_c < 80),
  shop_temperature_typed TEXT NOT NULL DEFAULT '',
  humidity_pct REAL CHECK (humidity_pct >= 0 AND humidity_pct <= 100),
  humidity_typed TEXT NOT NULL DEFAULT '',
  wood_moisture_pct REAL CHECK (wood_moisture_pct >= 0 AND wood_moisture_pct <= 100),
  wood_moisture_typed TEXT NOT NULL DEFAULT '',
  started_utc TEXT NOT NULL,
  note TEXT NOT NULL DEFAULT '',
  UNIQUE (trial_id, number)
) STRICT;

CREATE TABLE piece (
  id INTEGER PRIMARY KEY,
  trial_id INTEGER NOT NULL REFERENCES trial (id),
  treatment_id INTEGER NOT NULL REFERENCES treatment (id),
  board_id INTEGER NOT NULL REFERENCES board (id),
  position INTEGER NOT NULL,
  glue_turn INTEGER NOT NULL,
  break_turn INTEGER NOT NULL,
  label TEXT NOT NULL CHECK (length(label) BETWEEN 1 AND 20),
  sawn_utc TEXT,
  batch_id INTEGER REFERENCES batch (id),
  closed_utc TEXT,
  released_utc TEXT,
  void_reason TEXT,
  excluded_reason TEXT,
  odd_reason TEXT,
  odd_utc TEXT,
  note TEXT NOT NULL DEFAULT '',
  UNIQUE (trial_id, label)
) STRICT;
CREATE INDEX piece_of_batch ON piece (batch_id);

CREATE TABLE measurement (
  id INTEGER PRIMARY KEY,
  piece_id INTEGER NOT NULL REFERENCES piece (id),
  name TEXT NOT NULL,
  mm REAL NOT NULL CHECK (mm > 0 AND mm < 1e5),
  typed TEXT NOT NULL,
  UNIQUE (piece_id, name)
) STRICT;

CREATE TABLE pull (
  id INTEGER PRIMARY KEY,
  piece_id INTEGER NOT NULL REFERENCES piece (id),
  attempt INTEGER NOT NULL CHECK (attempt >= 1),
  source TEXT NOT NULL CHECK (source IN ('hand', 'rig')),
  state TEXT NOT NULL CHECK (state IN ('running', 'stopped', 'kept', 'retried')),
  rig_id INTEGER REFERENCES rig (id),
  calibration_id INTEGER REFERENCES calibration (id),
  zero_n REAL CHECK (zero_n > -1e9 AND zero_n < 1e9),
  zero_noise_n REAL CHECK (zero_noise_n >= 0 AND zero_noise_n < 1e9),
  started_utc TEXT NOT NULL,
  ended_utc TEXT,
  outcome TEXT CHECK (outcome IN ('broke', 'held', 'fell_apart')),
  load_n REAL CHECK (load_n >= 0 AND load_n < 1e9),
  load_typed TEXT NOT NULL DEFAULT '',
  wood_failure_pct REAL CHECK (wood_failure_pct >= 0 AND wood_failure_pct <= 100),
  failure TEXT CHECK (failure IN ('glue_line', 'wood', 'both', 'fixture')),
  note TEXT NOT NULL DEFAULT '',
  flags TEXT NOT NULL DEFAULT '[]',
  practice INTEGER NOT NULL DEFAULT 0 CHECK (practice IN (0, 1)),
  UNIQUE (piece_id, attempt)
) STRICT;

-- Raw readings as they came, never touched again.
CREATE TABLE pull_chunk (
  id INTEGER PRIMARY KEY,
  pull_id INTEGER NOT NULL REFERENCES pull (id),
  seq INTEGER NOT NULL,
  samples BLOB NOT NULL,
  unreadable INTEGER NOT NULL DEFAULT 0,
  UNIQUE (pull_id, seq)
) STRICT;
CREATE TRIGGER pull_chunk_stays BEFORE UPDATE ON pull_chunk BEGIN SELECT RAISE(ABORT, 'raw readings never change'); END;
CREATE TRIGGER pull_chunk_kept BEFORE DELETE ON pull_chunk BEGIN SELECT RAISE(ABORT, 'raw readings are never deleted'); END;

-- What changed, in words, and every row before and after: the history, the undo, and what other screens hear.
CREATE TABLE change (
  id INTEGER PRIMARY KEY,
  trial_id INTEGER REFERENCES trial (id),
  at_utc TEXT NOT NULL,
  what TEXT NOT NULL,
  undoable INTEGER NOT NULL CHECK (undoable IN (0, 1)),
  undoes INTEGER REFERENCES change (id),
  undone_by INTEGER REFERENCES change (id)
) STRICT;
CREATE INDEX change_of_trial ON change (trial_id, id);

CREATE TABLE change_row (
  id INTEGER PRIMARY KEY,
  change_id INTEGER NOT NULL REFERENCES change (id),
  table_name TEXT NOT NULL,
  row_id INTEGER NOT NULL,
  before TEXT,
  after TEXT
) STRICT;
CREATE INDEX change_row_of_change ON change_row (change_id);

-- Holds the change that the running transaction belongs to; empty outside one.
CREATE TABLE open_change (change_id INTEGER NOT NULL) STRICT;
