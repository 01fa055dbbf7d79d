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

-- What was done with the earlier tables is told, but its row images no longer fit: it cannot be undone.
UPDATE change SET undoable = 0;
