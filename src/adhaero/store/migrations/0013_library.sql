-- The shop's book of all trials: what things are called in it, and which tables a person joined. Looks while breaking.

CREATE TABLE library_call (
  id INTEGER PRIMARY KEY,
  subject TEXT NOT NULL CHECK (length(subject) BETWEEN 1 AND 80),
  trial_id INTEGER REFERENCES trial (id),
  name TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 80),
  called TEXT NOT NULL CHECK (length(called) BETWEEN 1 AND 80)
) STRICT;

CREATE UNIQUE INDEX library_call_once ON library_call (subject, coalesce(trial_id, 0), name);

CREATE TABLE library_join (
  id INTEGER PRIMARY KEY,
  subject TEXT NOT NULL CHECK (length(subject) BETWEEN 1 AND 80),
  place TEXT NOT NULL CHECK (length(place) BETWEEN 1 AND 400),
  with_place TEXT NOT NULL CHECK (length(with_place) BETWEEN 1 AND 400),
  UNIQUE (subject, place, with_place)
) STRICT;

ALTER TABLE trial ADD COLUMN looks TEXT NOT NULL DEFAULT '0' CHECK (looks IN ('0', '1'));

-- What was done with the earlier table is told, but its row images no longer fit: it cannot be undone.
UPDATE change SET undoable = 0;
