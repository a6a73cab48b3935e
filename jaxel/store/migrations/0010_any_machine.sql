-- Any machine, any visit: bare clutches and light vehicles, limits with their origins, corrections told from changes,
-- faults as found, the scope of a visit, addenda to what is signed, photos, stamps, and the units a hand reads in.

CREATE TABLE machine_new (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL CHECK (length(trim(name)) BETWEEN 1 AND 120),
    kind TEXT NOT NULL CHECK (kind IN ('sled', 'side-by-side', 'quad', 'light vehicle', 'bare clutch')),
    rider TEXT NOT NULL DEFAULT '' CHECK (length(rider) <= 120),
    created_at TEXT NOT NULL,
    primary_kind TEXT,
    secondary_kind TEXT,
    brought_in_by TEXT NOT NULL CHECK (length(brought_in_by) BETWEEN 1 AND 120),
    tyre TEXT NOT NULL DEFAULT '' CHECK (length(tyre) <= 120),
    taper TEXT NOT NULL DEFAULT '' CHECK (length(taper) <= 120),
    offset_mm REAL CHECK (offset_mm BETWEEN -500 AND 500),
    stamp TEXT NOT NULL DEFAULT '' CHECK (length(stamp) <= 120),
    archived INTEGER NOT NULL DEFAULT 0 CHECK (archived IN (0, 1)),
    merged_into INTEGER REFERENCES machine CHECK (merged_into <> id)
) STRICT;
INSERT INTO machine_new (id, name, kind, rider, created_at, primary_kind, secondary_kind, brought_in_by)
SELECT id, name, kind, rider, created_at, primary_kind, secondary_kind, brought_in_by FROM machine;

-- A limit as somebody states it; the one in force is the document's. What is withdrawn stays.
CREATE TABLE machine_limit (
    id INTEGER PRIMARY KEY,
    machine_id INTEGER NOT NULL REFERENCES machine,
    what TEXT NOT NULL CHECK (what IN ('belt_width_min_mm', 'rev_limit_rpm')),
    value REAL NOT NULL CHECK (value > 0),
    origin TEXT NOT NULL
        CHECK (origin IN ('manual', 'part maker''s sheet', 'common practice', 'from memory')),
    stated_at TEXT NOT NULL,
    stated_by TEXT NOT NULL CHECK (length(stated_by) BETWEEN 1 AND 120),
    withdrawn INTEGER NOT NULL DEFAULT 0 CHECK (withdrawn IN (0, 1))
) STRICT;
CREATE INDEX machine_limit_of_machine ON machine_limit (machine_id, id);
INSERT INTO machine_limit (machine_id, what, value, origin, stated_at, stated_by)
SELECT machine.id, 'belt_width_min_mm', json_extract(document, '$.belt.top_width_min_mm'),
    CASE limit_origin WHEN 'manual, entered by the workshop' THEN 'manual' ELSE limit_origin END,
    machine.created_at, brought_in_by
FROM machine JOIN setup_revision ON setup_revision.id
    = (SELECT max(id) FROM setup_revision WHERE machine_id = machine.id);

DROP TABLE machine;
ALTER TABLE machine_new RENAME TO machine;

CREATE TABLE belt_new (
    id INTEGER PRIMARY KEY,
    machine_id INTEGER NOT NULL REFERENCES machine,
    number INTEGER NOT NULL CHECK (number >= 1),
    state TEXT NOT NULL CHECK (state IN ('fitted', 'spare', 'discarded', 'doubled')),
    width_mm REAL NOT NULL CHECK (width_mm > 0 AND width_mm <= 200),
    fitted_at_km REAL CHECK (fitted_at_km >= 0),
    fitted_at_h REAL CHECK (fitted_at_h >= 0),
    UNIQUE (machine_id, number)
) STRICT;
INSERT INTO belt_new (id, machine_id, number, state, width_mm, fitted_at_km)
SELECT id, machine_id, number, state, width_mm, fitted_at_km FROM belt;
DROP TABLE belt;
ALTER TABLE belt_new RENAME TO belt;
CREATE UNIQUE INDEX one_fitted_belt ON belt (machine_id) WHERE state = 'fitted';

-- A correction puts a record right that was always wrong: it names the revision it corrects, and changes nothing.
ALTER TABLE setup_revision ADD COLUMN nature TEXT NOT NULL DEFAULT 'change'
    CHECK (nature IN ('brought in', 'found', 'change', 'correction'));
ALTER TABLE setup_revision ADD COLUMN corrects INTEGER REFERENCES setup_revision;
-- Merging two records of one machine moves its set-ups; what they say is never overwritten.
DROP TRIGGER setup_revision_kept;
CREATE TRIGGER setup_revision_kept BEFORE UPDATE OF
    id, parent_id, visit_id, reason, document, created_at, made_by, nature, corrects ON setup_revision
BEGIN SELECT RAISE(ABORT, 'a set-up revision is never overwritten'); END;

ALTER TABLE visit ADD COLUMN scope TEXT NOT NULL DEFAULT 'tune'
    CHECK (scope IN ('belt', 'service', 'tune', 'rebuild', 'bench'));
ALTER TABLE visit ADD COLUMN unrepaired TEXT NOT NULL DEFAULT '' CHECK (length(unrepaired) <= 500);

ALTER TABLE intake ADD COLUMN odometer_h REAL CHECK (odometer_h BETWEEN 0 AND 100000);
ALTER TABLE intake ADD COLUMN no_tachometer INTEGER NOT NULL DEFAULT 0 CHECK (no_tachometer IN (0, 1));
ALTER TABLE set_up ADD COLUMN found_origins TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(found_origins));
ALTER TABLE hand_over ADD COLUMN next_service_h REAL CHECK (next_service_h BETWEEN 0 AND 100000);

CREATE TABLE fault (
    id INTEGER PRIMARY KEY,
    visit_id INTEGER NOT NULL REFERENCES visit,
    kind TEXT NOT NULL CHECK (length(kind) BETWEEN 1 AND 60),
    figures TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(figures)),
    note TEXT NOT NULL DEFAULT '' CHECK (length(note) <= 500),
    put_right TEXT NOT NULL DEFAULT '' CHECK (length(put_right) <= 500),
    found_at TEXT NOT NULL
) STRICT;
CREATE INDEX fault_of_visit ON fault (visit_id, id);

CREATE TABLE addendum (
    id INTEGER PRIMARY KEY,
    visit_id INTEGER NOT NULL REFERENCES visit,
    text TEXT NOT NULL CHECK (length(trim(text)) BETWEEN 1 AND 2000),
    added_at TEXT NOT NULL,
    added_by TEXT NOT NULL CHECK (length(added_by) BETWEEN 1 AND 120)
) STRICT;
CREATE INDEX addendum_of_visit ON addendum (visit_id, id);
CREATE TRIGGER addendum_kept BEFORE UPDATE OF id, text, added_at, added_by ON addendum
BEGIN SELECT RAISE(ABORT, 'an addendum is never overwritten'); END;
CREATE TRIGGER addendum_stays BEFORE DELETE ON addendum
BEGIN SELECT RAISE(ABORT, 'an addendum is never deleted'); END;

CREATE TABLE photo (
    id INTEGER PRIMARY KEY,
    machine_id INTEGER NOT NULL REFERENCES machine,
    caption TEXT NOT NULL DEFAULT '' CHECK (length(caption) <= 200),
    width INTEGER NOT NULL CHECK (width > 0),
    height INTEGER NOT NULL CHECK (height > 0),
    image BLOB NOT NULL,
    small BLOB NOT NULL,
    taken_at TEXT NOT NULL,
    taken_by TEXT NOT NULL CHECK (length(taken_by) BETWEEN 1 AND 120),
    removed INTEGER NOT NULL DEFAULT 0 CHECK (removed IN (0, 1))
) STRICT;
CREATE INDEX photo_of_machine ON photo (machine_id, id);

CREATE TABLE stamp (
    id INTEGER PRIMARY KEY,
    stamp TEXT NOT NULL UNIQUE CHECK (length(trim(stamp)) BETWEEN 1 AND 20),
    mass_g REAL NOT NULL CHECK (mass_g > 0 AND mass_g <= 1000),
    noted_at TEXT NOT NULL,
    noted_by TEXT NOT NULL CHECK (length(noted_by) BETWEEN 1 AND 120)
) STRICT;

-- Units by quantity; empty for the application's own. A person's win over the workshop's.
ALTER TABLE workshop ADD COLUMN units TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(units));
ALTER TABLE person ADD COLUMN units TEXT CHECK (units IS NULL OR json_valid(units));
