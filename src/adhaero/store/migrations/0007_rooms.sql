-- The clamps of a task are rows; its pieces a list. What a piece goes through before the test is an exposure.

CREATE TABLE task_clamps (
  id INTEGER PRIMARY KEY,
  task_id INTEGER NOT NULL REFERENCES task (id) ON DELETE CASCADE,
  name TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 60),
  number INTEGER NOT NULL CHECK (number BETWEEN 1 AND 100000)
) STRICT;
CREATE INDEX task_clamps_of_task ON task_clamps (task_id);

-- A task took one kind of clamps so far, written as “3 × Bar clamps”.
INSERT INTO task_clamps (task_id, name, number)
  SELECT id, substr(clamps, instr(clamps, ' × ') + 3), CAST(clamps AS INTEGER) FROM task
  WHERE instr(clamps, ' × ') > 1 AND CAST(clamps AS INTEGER) >= 1
    AND length(substr(clamps, instr(clamps, ' × ') + 3)) BETWEEN 1 AND 60;
ALTER TABLE task DROP COLUMN clamps;
UPDATE task SET pieces = '[' || replace(trim(pieces), ' ', ', ') || ']';
UPDATE change_row SET
    before = CASE WHEN before IS NULL THEN NULL ELSE json_set(json_remove(before, '$.clamps'), '$.pieces',
      '[' || replace(trim(json_extract(before, '$.pieces')), ' ', ', ') || ']') END,
    after = CASE WHEN after IS NULL THEN NULL ELSE json_set(json_remove(after, '$.clamps'), '$.pieces',
      '[' || replace(trim(json_extract(after, '$.pieces')), ' ', ', ') || ']') END
  WHERE table_name = 'task';

ALTER TABLE task RENAME COLUMN glue_up TO batch;
UPDATE change_row SET before = replace(before, '"glue_up":', '"batch":'), after = replace(after, '"glue_up":', '"batch":')
  WHERE table_name = 'task';

ALTER TABLE stage RENAME TO exposure;
UPDATE change_row SET table_name = 'exposure' WHERE table_name = 'stage';
