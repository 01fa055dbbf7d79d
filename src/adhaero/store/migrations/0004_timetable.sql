-- What wood costs; the making as a timetable; curing, exposure and measuring with their real times.

ALTER TABLE stock_board ADD COLUMN price REAL CHECK (price >= 0 AND price < 1e9);
ALTER TABLE stock_board ADD COLUMN price_typed TEXT NOT NULL DEFAULT '';

-- A set of an earlier trial that stands beside the results, as a reference.
ALTER TABLE trial ADD COLUMN reference_id INTEGER REFERENCES treatment (id);

-- How a trial's timetable was asked for and how good it is, and its tasks. A task's name says which pieces it is about
-- (the glue-up, or a line of it), so that a pinned one is known again when the rest is planned anew.
CREATE TABLE timetable (
  id INTEGER PRIMARY KEY,
  trial_id INTEGER NOT NULL UNIQUE REFERENCES trial (id),
  solved_utc TEXT NOT NULL,
  finish_utc TEXT NOT NULL,
  bound_utc TEXT,
  proved INTEGER NOT NULL CHECK (proved IN (0, 1)),
  odd_hours INTEGER NOT NULL CHECK (odd_hours IN (0, 1)),
  finish_by_utc TEXT,
  give_typed TEXT NOT NULL,
  break_typed TEXT NOT NULL
) STRICT;

CREATE TABLE task (
  id INTEGER PRIMARY KEY,
  trial_id INTEGER NOT NULL REFERENCES trial (id),
  name TEXT NOT NULL,
  kind TEXT NOT NULL,
  glue_up TEXT NOT NULL,
  begin_utc TEXT NOT NULL,
  end_utc TEXT NOT NULL,
  odd INTEGER NOT NULL CHECK (odd IN (0, 1)),
  pinned INTEGER NOT NULL DEFAULT 0 CHECK (pinned IN (0, 1)),
  pieces TEXT NOT NULL,
  clamps TEXT NOT NULL DEFAULT '',
  UNIQUE (trial_id, name)
) STRICT;
CREATE INDEX task_of_trial ON task (trial_id, begin_utc);

-- Coats that soak in before the last one; clamp force as a load cell showed it; a photo of a glue-up.
CREATE TABLE coat (
  id INTEGER PRIMARY KEY,
  piece_id INTEGER NOT NULL REFERENCES piece (id),
  number INTEGER NOT NULL CHECK (number >= 1),
  at_utc TEXT NOT NULL,
  UNIQUE (piece_id, number)
) STRICT;
ALTER TABLE piece ADD COLUMN clamp_peak_n REAL CHECK (clamp_peak_n > -1e9 AND clamp_peak_n < 1e9);
ALTER TABLE piece ADD COLUMN clamp_settled_n REAL CHECK (clamp_settled_n > -1e9 AND clamp_settled_n < 1e9);
ALTER TABLE batch ADD COLUMN photo_id INTEGER REFERENCES photo (id);

-- What a piece goes through before the test, with its real times; in which state it is tested.
CREATE TABLE stage (
  id INTEGER PRIMARY KEY,
  piece_id INTEGER NOT NULL REFERENCES piece (id),
  kind TEXT NOT NULL CHECK (kind IN ('soak', 'outdoors', 'freeze', 'oven', 'shelf', 'other')),
  planned_s REAL CHECK (planned_s >= 0 AND planned_s < 1e12),
  begun_utc TEXT NOT NULL,
  ended_utc TEXT,
  cycles INTEGER NOT NULL DEFAULT 0 CHECK (cycles >= 0 AND cycles < 100000),
  note TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX stage_of_piece ON stage (piece_id);
ALTER TABLE piece ADD COLUMN tested_as TEXT NOT NULL DEFAULT '' CHECK (tested_as IN ('', 'dry', 'wet', 'redried'));

-- What else is read off a piece (mass, moisture, gap), and what every piece must have had before the test.
CREATE TABLE reading (
  id INTEGER PRIMARY KEY,
  piece_id INTEGER NOT NULL REFERENCES piece (id),
  name TEXT NOT NULL,
  si REAL NOT NULL CHECK (si >= 0 AND si < 1e9),
  typed TEXT NOT NULL,
  UNIQUE (piece_id, name)
) STRICT;
CREATE TABLE tick (
  id INTEGER PRIMARY KEY,
  piece_id INTEGER NOT NULL REFERENCES piece (id),
  words TEXT NOT NULL CHECK (length(words) BETWEEN 1 AND 200),
  done_utc TEXT NOT NULL,
  UNIQUE (piece_id, words)
) STRICT;
ALTER TABLE measurement ADD COLUMN readings INTEGER NOT NULL DEFAULT 1 CHECK (readings >= 1);
ALTER TABLE measurement ADD COLUMN scatter_mm REAL CHECK (scatter_mm >= 0 AND scatter_mm < 1e5);

-- How the machines are set, as someone wrote it down.
ALTER TABLE trial ADD COLUMN fence TEXT NOT NULL DEFAULT '';
ALTER TABLE trial ADD COLUMN stop_block TEXT NOT NULL DEFAULT '';
ALTER TABLE trial ADD COLUMN blade TEXT NOT NULL DEFAULT '';
ALTER TABLE trial ADD COLUMN planer TEXT NOT NULL DEFAULT '';

-- The air of the shop as a logger wrote it: moments (s), temperatures (°C) and humidities (%), as JSON.
CREATE TABLE climate_log (
  id INTEGER PRIMARY KEY,
  name TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 120),
  added_utc TEXT NOT NULL,
  from_utc TEXT NOT NULL,
  to_utc TEXT NOT NULL,
  readings TEXT NOT NULL
) STRICT;

-- What was done with the earlier tables is told, but its row images no longer fit: it cannot be undone.
UPDATE change SET undoable = 0;
