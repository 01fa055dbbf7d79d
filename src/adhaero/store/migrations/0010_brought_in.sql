-- A table of earlier breaks becomes a trial: the file whole, how it was read, what its own arithmetic got wrong.

CREATE TABLE source_file (
  id INTEGER PRIMARY KEY,
  trial_id INTEGER NOT NULL REFERENCES trial (id),
  name TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 120),
  added_utc TEXT NOT NULL,
  sha256 TEXT NOT NULL CHECK (length(sha256) = 64),
  content BLOB NOT NULL,
  reading TEXT NOT NULL CHECK (json_valid(reading)),
  slips TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(slips))
) STRICT;
CREATE INDEX source_file_of_trial ON source_file (trial_id);

-- Where a piece stands in its file, and what it is called there.
ALTER TABLE piece ADD COLUMN source_cell TEXT NOT NULL DEFAULT '';
ALTER TABLE piece ADD COLUMN source_label TEXT NOT NULL DEFAULT '';
-- A break whose day nobody wrote down.
ALTER TABLE pull ADD COLUMN undated INTEGER NOT NULL DEFAULT 0 CHECK (undated IN (0, 1));

-- What is brought in may have a load, or a stress, and nothing else.
PRAGMA writable_schema = ON;
UPDATE sqlite_schema SET sql = replace(sql, '''withdrawal'', ''pry''))', '''withdrawal'', ''pry'', ''load'', ''stress''))')
  WHERE name = 'trial';
PRAGMA writable_schema = OFF;

-- What was done with the earlier tables is told, but its row images no longer fit: it cannot be undone.
UPDATE change SET undoable = 0;
