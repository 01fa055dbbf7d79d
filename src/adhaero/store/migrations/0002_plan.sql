-- The whole of planning: several factors, controls, boards and clamps of the shop, cards of glues, amendments.

CREATE TABLE factor (
  id INTEGER PRIMARY KEY,
  trial_id INTEGER NOT NULL REFERENCES trial (id),
  rank INTEGER NOT NULL,
  kind TEXT NOT NULL,
  name TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX factor_of_trial ON factor (trial_id, rank);

CREATE TABLE level (
  id INTEGER PRIMARY KEY,
  factor_id INTEGER NOT NULL REFERENCES factor (id),
  rank INTEGER NOT NULL,
  name TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 60),
  code TEXT NOT NULL,
  value_si REAL CHECK (value_si > -1e12 AND value_si < 1e12),
  glue_id INTEGER REFERENCES glue (id)
) STRICT;
CREATE INDEX level_of_factor ON level (factor_id, rank);

-- A factor that goes with some values of an earlier one only.
CREATE TABLE factor_scope (
  id INTEGER PRIMARY KEY,
  factor_id INTEGER NOT NULL REFERENCES factor (id),
  level_id INTEGER NOT NULL REFERENCES level (id),
  UNIQUE (factor_id, level_id)
) STRICT;

-- What each set is made of.
CREATE TABLE treatment_level (
  id INTEGER PRIMARY KEY,
  treatment_id INTEGER NOT NULL REFERENCES treatment (id),
  level_id INTEGER NOT NULL REFERENCES level (id),
  UNIQUE (treatment_id, level_id)
) STRICT;
CREATE INDEX treatment_level_of_level ON treatment_level (level_id);

INSERT INTO factor (id, trial_id, rank, kind, name) SELECT id, id, 1, factor, factor_name FROM trial;
INSERT INTO level (id, factor_id, rank, name, code, value_si, glue_id)
  SELECT id, trial_id, rank, name, code, value_si, glue_id FROM treatment WHERE solid = 0;
INSERT INTO treatment_level (treatment_id, level_id) SELECT id, id FROM treatment WHERE solid = 0;

ALTER TABLE treatment ADD COLUMN kind TEXT NOT NULL DEFAULT 'made'
  CHECK (kind IN ('made', 'solid', 'untreated', 'standard'));
ALTER TABLE treatment ADD COLUMN recipe TEXT NOT NULL DEFAULT '';
ALTER TABLE treatment ADD COLUMN left_out INTEGER NOT NULL DEFAULT 0 CHECK (left_out IN (0, 1));
ALTER TABLE treatment ADD COLUMN pieces_own INTEGER NOT NULL DEFAULT 0 CHECK (pieces_own IN (0, 1));
UPDATE treatment SET kind = 'solid' WHERE solid = 1;
UPDATE treatment SET glue_id = NULL;
ALTER TABLE treatment DROP COLUMN solid;
ALTER TABLE treatment DROP COLUMN value_si;

ALTER TABLE trial ADD COLUMN answer TEXT NOT NULL DEFAULT 'compare'
  CHECK (answer IN ('compare', 'curve', 'retention', 'trend', 'pass_fail'));
ALTER TABLE trial ADD COLUMN spread TEXT NOT NULL DEFAULT '';
ALTER TABLE trial ADD COLUMN condition TEXT NOT NULL DEFAULT '';
ALTER TABLE trial ADD COLUMN faces TEXT NOT NULL DEFAULT 'both' CHECK (faces IN ('one', 'both'));
ALTER TABLE trial ADD COLUMN matched TEXT NOT NULL DEFAULT '' CHECK (matched IN ('', 'halves', 'neighbours'));
ALTER TABLE trial ADD COLUMN together TEXT NOT NULL DEFAULT '0' CHECK (together IN ('0', '1'));
ALTER TABLE trial ADD COLUMN label_scheme TEXT NOT NULL DEFAULT '{set}-{no}';
ALTER TABLE trial ADD COLUMN pieces_each INTEGER NOT NULL DEFAULT 5 CHECK (pieces_each BETWEEN 0 AND 1000);
ALTER TABLE trial ADD COLUMN pilot INTEGER NOT NULL DEFAULT 0 CHECK (pilot BETWEEN 0 AND 100);
ALTER TABLE trial ADD COLUMN spares TEXT NOT NULL DEFAULT '';
ALTER TABLE trial ADD COLUMN rig_id INTEGER REFERENCES rig (id);
ALTER TABLE trial ADD COLUMN guess_utc TEXT;
ALTER TABLE trial ADD COLUMN copied_from INTEGER REFERENCES trial (id);
UPDATE trial SET pieces_each = coalesce((SELECT pieces FROM treatment WHERE trial_id = trial.id ORDER BY rank), 5);
UPDATE trial SET guess_utc = created_utc WHERE guess <> '';
ALTER TABLE trial DROP COLUMN factor;
ALTER TABLE trial DROP COLUMN factor_name;

ALTER TABLE piece ADD COLUMN pair INTEGER;
ALTER TABLE piece ADD COLUMN pilot INTEGER NOT NULL DEFAULT 0 CHECK (pilot IN (0, 1));

CREATE TABLE photo (
  id INTEGER PRIMARY KEY,
  jpeg BLOB NOT NULL,
  added_utc TEXT NOT NULL
) STRICT;

CREATE TABLE stock_board (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL UNIQUE COLLATE NOCASE CHECK (length(name) BETWEEN 1 AND 60),
  species TEXT NOT NULL DEFAULT '',
  length_mm REAL NOT NULL CHECK (length_mm > 0 AND length_mm < 1e5),
  length_typed TEXT NOT NULL,
  width_mm REAL NOT NULL CHECK (width_mm > 0 AND width_mm < 1e4),
  width_typed TEXT NOT NULL,
  thickness_mm REAL NOT NULL CHECK (thickness_mm > 0 AND thickness_mm < 1e3),
  thickness_typed TEXT NOT NULL,
  moisture_pct REAL CHECK (moisture_pct >= 0 AND moisture_pct <= 100),
  moisture_typed TEXT NOT NULL DEFAULT '',
  rings TEXT NOT NULL DEFAULT '' CHECK (rings IN ('', 'flat', 'rift', 'quarter')),
  source TEXT NOT NULL DEFAULT '',
  photo_id INTEGER REFERENCES photo (id)
) STRICT;

CREATE TABLE defect (
  id INTEGER PRIMARY KEY,
  stock_board_id INTEGER NOT NULL REFERENCES stock_board (id),
  from_mm REAL NOT NULL CHECK (from_mm >= 0 AND from_mm < 1e5),
  to_mm REAL NOT NULL CHECK (to_mm > 0 AND to_mm < 1e5),
  typed TEXT NOT NULL,
  words TEXT NOT NULL DEFAULT '',
  CHECK (from_mm < to_mm)
) STRICT;

ALTER TABLE board ADD COLUMN stock_board_id INTEGER REFERENCES stock_board (id);

ALTER TABLE glue ADD COLUMN kept TEXT NOT NULL DEFAULT '';
CREATE TABLE glue_figure (
  id INTEGER PRIMARY KEY,
  glue_id INTEGER NOT NULL REFERENCES glue (id),
  name TEXT NOT NULL,
  si REAL NOT NULL CHECK (si > -1e12 AND si < 1e12),
  typed TEXT NOT NULL,
  UNIQUE (glue_id, name)
) STRICT;

CREATE TABLE clamps (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL UNIQUE COLLATE NOCASE CHECK (length(name) BETWEEN 1 AND 60),
  kind TEXT NOT NULL,
  number INTEGER NOT NULL CHECK (number BETWEEN 1 AND 1000),
  force_n REAL NOT NULL CHECK (force_n > 0 AND force_n < 1e7),
  force_typed TEXT NOT NULL,
  force_known TEXT NOT NULL DEFAULT 'guessed' CHECK (force_known IN ('guessed', 'measured')),
  in_line INTEGER NOT NULL DEFAULT 1 CHECK (in_line BETWEEN 1 AND 100),
  side_by_side INTEGER NOT NULL DEFAULT 1 CHECK (side_by_side BETWEEN 1 AND 100)
) STRICT;

ALTER TABLE rig ADD COLUMN kind TEXT NOT NULL DEFAULT 'press';
ALTER TABLE rig ADD COLUMN bore_mm REAL CHECK (bore_mm > 0 AND bore_mm < 1e4);
ALTER TABLE rig ADD COLUMN bore_typed TEXT NOT NULL DEFAULT '';
ALTER TABLE rig ADD COLUMN lever_ratio REAL CHECK (lever_ratio > 0 AND lever_ratio < 1e4);
ALTER TABLE rig ADD COLUMN tare_n REAL CHECK (tare_n >= 0 AND tare_n < 1e6);
ALTER TABLE rig ADD COLUMN tare_typed TEXT NOT NULL DEFAULT '';
ALTER TABLE rig ADD COLUMN fixtures TEXT NOT NULL DEFAULT '';

-- What was changed after the plan was settled, and why.
CREATE TABLE amendment (
  id INTEGER PRIMARY KEY,
  trial_id INTEGER NOT NULL REFERENCES trial (id),
  at_utc TEXT NOT NULL,
  field TEXT NOT NULL,
  words TEXT NOT NULL,
  before TEXT NOT NULL,
  after TEXT NOT NULL,
  reason TEXT NOT NULL CHECK (length(reason) BETWEEN 1 AND 300)
) STRICT;
CREATE INDEX amendment_of_trial ON amendment (trial_id, id);

-- Work on the parts besides the joint: a hole or groove before glue-up, sawing apart after it.
CREATE TABLE step (
  id INTEGER PRIMARY KEY,
  trial_id INTEGER NOT NULL REFERENCES trial (id),
  rank INTEGER NOT NULL,
  words TEXT NOT NULL CHECK (length(words) BETWEEN 1 AND 120),
  turn TEXT NOT NULL CHECK (turn IN ('before', 'after')),
  done_utc TEXT
) STRICT;
CREATE INDEX step_of_trial ON step (trial_id, rank);

-- What was done with the earlier tables is told, but its row images no longer fit: it cannot be undone.
UPDATE change SET undoable = 0;
