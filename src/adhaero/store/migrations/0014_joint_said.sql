-- Of a table that was brought in nobody said the joint, nor how its pieces were made: it had what a new plan begins with.

ALTER TABLE trial ADD COLUMN joint_said INTEGER NOT NULL DEFAULT 1 CHECK (joint_said IN (0, 1));
UPDATE trial SET joint_said = 0 WHERE id IN (SELECT trial_id FROM source_file);
UPDATE trial SET prep = '' WHERE joint_said = 0 AND prep = 'planed the same day, wiped'
  AND id NOT IN (SELECT trial_id FROM amendment WHERE field = 'prep');
UPDATE trial SET spread = '' WHERE joint_said = 0 AND spread = 'one coat'
  AND id NOT IN (SELECT trial_id FROM amendment WHERE field = 'spread');
UPDATE trial SET condition = '' WHERE joint_said = 0 AND condition = 'kept dry in the shop'
  AND id NOT IN (SELECT trial_id FROM amendment WHERE field = 'condition');
DELETE FROM quantity WHERE trial_id IN (SELECT id FROM trial WHERE joint_said = 0)
  AND (name, typed) IN (VALUES ('clamp_pressure_mpa', '0.7 MPa'), ('clamp_time_s', '12 h'), ('cure_time_s', '48 h'))
  AND NOT EXISTS (SELECT 1 FROM amendment WHERE amendment.trial_id = quantity.trial_id AND field = quantity.name);

-- What was done with the earlier table is told, but its row images no longer fit: it cannot be undone.
UPDATE change SET undoable = 0;
