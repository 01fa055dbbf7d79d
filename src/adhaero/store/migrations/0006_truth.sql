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

-- Every column that holds one of a few words says so itself. A plan that a bad word had made unreadable is read again.

UPDATE trial SET joint = 'scarf' WHERE joint NOT IN ('lapped-block', 'edge', 'face', 'butt', 'half-lap', 'crossed',
  'scarf', 'v-joint', 'finger', 'miter', 'rabbet', 'mortise-tenon', 'mortise-tenon-edges', 'loose-tenon', 'dowels',
  'spline');
UPDATE trial SET fixture = 'bend-4' WHERE fixture NOT IN ('block-shear', 'lap-tension', 'butt-tension', 'cross-lap',
  'bend-3', 'bend-4', 'cantilever', 'racking', 'withdrawal', 'pry');
UPDATE trial SET grain_a = 'face' WHERE grain_a NOT IN ('face', 'edge', 'end');
UPDATE trial SET grain_b = 'face' WHERE grain_b NOT IN ('face', 'edge', 'end');
UPDATE factor SET kind = 'own' WHERE kind NOT IN ('glue', 'clamp_pressure', 'clamp_time', 'cure_time', 'prep',
  'spread', 'species', 'grain', 'gap', 'joint', 'slope', 'overlap', 'condition', 'own');
UPDATE glue SET family = 'aliphatic PVA' WHERE family NOT IN ('aliphatic PVA', 'cross-linking PVA', 'liquid hide',
  'hot hide', 'fish', 'casein', 'epoxy', 'polyurethane', 'cyanoacrylate thin', 'cyanoacrylate thick',
  'cyanoacrylate gel', 'powdered urea resin', 'resorcinol', 'construction adhesive', 'contact cement', 'hot melt');
UPDATE clamps SET kind = 'screw clamp' WHERE kind NOT IN ('screw clamp', 'spring clamp', 'weight', 'press',
  'band or tape');
UPDATE rig SET kind = 'press' WHERE kind NOT IN ('press', 'scale', 'weights', 'bucket', 'jack', 'lever', 'hand');
UPDATE rig SET unit = 'N' WHERE unit NOT IN ('N', 'kN', 'kgf', 'lbf', 'g', 'oz');

-- A CHECK changes nothing that is stored, so it is written into the table's own words (sqlite.org/lang_altertable.html).
PRAGMA writable_schema = ON;
UPDATE sqlite_schema SET sql = replace(sql, 'joint TEXT NOT NULL DEFAULT ''scarf'',',
  'joint TEXT NOT NULL DEFAULT ''scarf'' CHECK (joint IN (''lapped-block'', ''edge'', ''face'', ''butt'', ''half-lap'', ''crossed'', ''scarf'', ''v-joint'', ''finger'', ''miter'', ''rabbet'', ''mortise-tenon'', ''mortise-tenon-edges'', ''loose-tenon'', ''dowels'', ''spline'')),')
  WHERE name = 'trial';
UPDATE sqlite_schema SET sql = replace(sql, 'fixture TEXT NOT NULL DEFAULT ''bend-4'',',
  'fixture TEXT NOT NULL DEFAULT ''bend-4'' CHECK (fixture IN (''block-shear'', ''lap-tension'', ''butt-tension'', ''cross-lap'', ''bend-3'', ''bend-4'', ''cantilever'', ''racking'', ''withdrawal'', ''pry'')),')
  WHERE name = 'trial';
UPDATE sqlite_schema SET sql = replace(sql, 'grain_a TEXT NOT NULL DEFAULT ''face'',',
  'grain_a TEXT NOT NULL DEFAULT ''face'' CHECK (grain_a IN (''face'', ''edge'', ''end'')),')
  WHERE name = 'trial';
UPDATE sqlite_schema SET sql = replace(sql, 'grain_b TEXT NOT NULL DEFAULT ''face'',',
  'grain_b TEXT NOT NULL DEFAULT ''face'' CHECK (grain_b IN (''face'', ''edge'', ''end'')),')
  WHERE name = 'trial';
UPDATE sqlite_schema SET sql = replace(sql, 'kind TEXT NOT NULL,',
  'kind TEXT NOT NULL CHECK (kind IN (''glue'', ''clamp_pressure'', ''clamp_time'', ''cure_time'', ''prep'', ''spread'', ''species'', ''grain'', ''gap'', ''joint'', ''slope'', ''overlap'', ''condition'', ''own'')),')
  WHERE name = 'factor';
UPDATE sqlite_schema SET sql = replace(sql, 'family TEXT NOT NULL,',
  'family TEXT NOT NULL CHECK (family IN (''aliphatic PVA'', ''cross-linking PVA'', ''liquid hide'', ''hot hide'', ''fish'', ''casein'', ''epoxy'', ''polyurethane'', ''cyanoacrylate thin'', ''cyanoacrylate thick'', ''cyanoacrylate gel'', ''powdered urea resin'', ''resorcinol'', ''construction adhesive'', ''contact cement'', ''hot melt'')),')
  WHERE name = 'glue';
UPDATE sqlite_schema SET sql = replace(sql, 'glue_family TEXT NOT NULL,',
  'glue_family TEXT NOT NULL CHECK (glue_family IN ('''', ''aliphatic PVA'', ''cross-linking PVA'', ''liquid hide'', ''hot hide'', ''fish'', ''casein'', ''epoxy'', ''polyurethane'', ''cyanoacrylate thin'', ''cyanoacrylate thick'', ''cyanoacrylate gel'', ''powdered urea resin'', ''resorcinol'', ''construction adhesive'', ''contact cement'', ''hot melt'')),')
  WHERE name = 'batch';
UPDATE sqlite_schema SET sql = replace(sql, 'kind TEXT NOT NULL,',
  'kind TEXT NOT NULL CHECK (kind IN (''screw clamp'', ''spring clamp'', ''weight'', ''press'', ''band or tape'')),')
  WHERE name = 'clamps';
UPDATE sqlite_schema SET sql = replace(sql, 'kind TEXT NOT NULL DEFAULT ''press'',',
  'kind TEXT NOT NULL DEFAULT ''press'' CHECK (kind IN (''press'', ''scale'', ''weights'', ''bucket'', ''jack'', ''lever'', ''hand'')),')
  WHERE name = 'rig';
UPDATE sqlite_schema SET sql = replace(sql, 'kind TEXT NOT NULL,',
  'kind TEXT NOT NULL CHECK (kind IN (''glue'', ''clamp'', ''release'', ''cure'', ''put_in'', ''expose'', ''take_out'', ''measure'', ''break'')),')
  WHERE name = 'task';
UPDATE sqlite_schema SET sql = replace(sql, 'unit TEXT NOT NULL,',
  'unit TEXT NOT NULL CHECK (unit IN (''N'', ''kN'', ''kgf'', ''lbf'', ''g'', ''oz'')),')
  WHERE name = 'rig';
PRAGMA writable_schema = OFF;

-- What was done with the earlier tables is told, but its row images no longer fit: it cannot be undone.
UPDATE change SET undoable = 0;
