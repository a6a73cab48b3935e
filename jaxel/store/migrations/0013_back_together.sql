-- Back together: putting back with its torques, the line-up, the break-in of a new belt, and the close; the workshop's
-- wrenches, and what its manuals say of fasteners.

-- How far each clutch was opened for the changes recorded.
ALTER TABLE set_up ADD COLUMN opened TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(opened));

ALTER TABLE hand_over ADD COLUMN guard_on INTEGER NOT NULL DEFAULT 0 CHECK (guard_on IN (0, 1));

CREATE TABLE rebuild (
    visit_id INTEGER PRIMARY KEY REFERENCES visit,
    seen TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(seen)),
    left_on TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(left_on)),
    closes TEXT NOT NULL DEFAULT '' CHECK (closes IN ('', 'clockwise', 'anticlockwise')),
    wound TEXT NOT NULL DEFAULT '' CHECK (wound IN ('', 'clockwise', 'anticlockwise')),
    wound_deg REAL CHECK (wound_deg BETWEEN 0 AND 720),
    sheave_hole TEXT NOT NULL DEFAULT '' CHECK (length(sheave_hole) <= 12),
    helix_hole TEXT NOT NULL DEFAULT '' CHECK (length(helix_hole) <= 12),
    weighed TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(weighed)),
    radius_mm TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(radius_mm)),
    accepted TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(accepted)),
    helper TEXT NOT NULL DEFAULT '' CHECK (length(helper) <= 120)
) STRICT;
INSERT INTO rebuild (visit_id) SELECT id FROM visit;

-- What was done about a fastener; one that nothing was done about has no row.
CREATE TABLE tightened (
    id INTEGER PRIMARY KEY,
    visit_id INTEGER NOT NULL REFERENCES visit,
    side TEXT NOT NULL CHECK (side IN ('primary', 'secondary')),
    fastener TEXT NOT NULL CHECK (length(fastener) BETWEEN 1 AND 40),
    state TEXT NOT NULL DEFAULT '' CHECK (state IN ('', 'done', 'owed')),
    torque_nm REAL CHECK (torque_nm > 0 AND torque_nm <= 5000),
    means TEXT NOT NULL DEFAULT ''
        CHECK (means IN ('', 'wrench', 'multiplier', 'borrowed', 'index mark', 'by hand')),
    wrench TEXT NOT NULL DEFAULT '' CHECK (length(wrench) <= 60),
    note TEXT NOT NULL DEFAULT '' CHECK (length(note) <= 500),
    by TEXT NOT NULL DEFAULT '' CHECK (length(by) <= 120),
    at TEXT NOT NULL DEFAULT '',
    first_at TEXT NOT NULL DEFAULT '',
    compound_at TEXT NOT NULL DEFAULT '',
    UNIQUE (visit_id, side, fastener)
) STRICT;

CREATE TABLE line_up (
    visit_id INTEGER PRIMARY KEY REFERENCES visit,
    way TEXT NOT NULL DEFAULT '' CHECK (way IN ('', 'gaps', 'points')),
    front_mm REAL CHECK (front_mm BETWEEN 0 AND 500),
    rear_mm REAL CHECK (rear_mm BETWEEN 0 AND 500),
    base_mm REAL CHECK (base_mm > 0 AND base_mm <= 2000),
    near_mm REAL CHECK (near_mm BETWEEN -500 AND 500),
    near_at_mm REAL CHECK (near_at_mm BETWEEN 0 AND 2000),
    far_mm REAL CHECK (far_mm BETWEEN -500 AND 500),
    far_at_mm REAL CHECK (far_at_mm BETWEEN 0 AND 2000),
    nominal_mm REAL CHECK (nominal_mm BETWEEN -500 AND 500),
    offset_tolerance_mm REAL CHECK (offset_tolerance_mm > 0 AND offset_tolerance_mm <= 50),
    toe_tolerance_deg REAL CHECK (toe_tolerance_deg > 0 AND toe_tolerance_deg <= 10),
    origin TEXT NOT NULL DEFAULT ''
        CHECK (origin IN ('', 'manual', 'part maker''s sheet', 'common practice', 'from memory')),
    behind TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(behind)),
    deflection_mm REAL CHECK (deflection_mm BETWEEN 0 AND 500),
    ride_mm REAL CHECK (ride_mm BETWEEN -100 AND 100),
    wanted_deflection_mm REAL CHECK (wanted_deflection_mm BETWEEN 0 AND 500),
    per_turn_mm REAL CHECK (per_turn_mm > 0 AND per_turn_mm <= 20),
    turned INTEGER CHECK (turned BETWEEN 0 AND 200),
    seated INTEGER NOT NULL DEFAULT 0 CHECK (seated IN (0, 1)),
    reason TEXT NOT NULL DEFAULT '' CHECK (length(reason) <= 500)
) STRICT;
INSERT INTO line_up (visit_id) SELECT id FROM visit;

CREATE TABLE break_in (
    visit_id INTEGER PRIMARY KEY REFERENCES visit,
    released TEXT NOT NULL DEFAULT '' CHECK (released IN ('', 'released', 'overruled')),
    -- Heat cycles the workshop's school asked for when it was released.
    asked INTEGER CHECK (asked BETWEEN 1 AND 12),
    reason TEXT NOT NULL DEFAULT '' CHECK (length(reason) <= 500)
) STRICT;
INSERT INTO break_in (visit_id) SELECT id FROM visit;

CREATE TABLE heat_cycle (
    id INTEGER PRIMARY KEY,
    visit_id INTEGER NOT NULL REFERENCES visit,
    began_at TEXT NOT NULL,
    warm_at TEXT NOT NULL DEFAULT '',
    warm_c REAL CHECK (warm_c BETWEEN -60 AND 300),
    cool_at TEXT NOT NULL DEFAULT '',
    cool_c REAL CHECK (cool_c BETWEEN -60 AND 300)
) STRICT;
CREATE INDEX heat_cycle_of_visit ON heat_cycle (visit_id, id);

-- What a hand counted out and in; what the work itself takes off has no row until somebody counts it.
CREATE TABLE counted (
    id INTEGER PRIMARY KEY,
    visit_id INTEGER NOT NULL REFERENCES visit,
    key TEXT NOT NULL CHECK (length(key) BETWEEN 1 AND 80),
    name TEXT NOT NULL CHECK (length(trim(name)) BETWEEN 1 AND 80),
    sort TEXT NOT NULL CHECK (sort IN ('fastener', 'small part', 'tool', 'access')),
    "out" INTEGER NOT NULL CHECK ("out" BETWEEN 1 AND 999),
    back INTEGER CHECK (back BETWEEN 0 AND 999),
    note TEXT NOT NULL DEFAULT '' CHECK (length(note) <= 200),
    UNIQUE (visit_id, key)
) STRICT;

-- A torque wrench or a multiplier of the workshop; one that is gone stays, retired.
CREATE TABLE wrench (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL COLLATE NOCASE UNIQUE CHECK (length(trim(name)) BETWEEN 1 AND 60),
    kind TEXT NOT NULL CHECK (kind IN ('wrench', 'multiplier')),
    low_nm REAL NOT NULL DEFAULT 0 CHECK (low_nm >= 0 AND low_nm <= 5000),
    high_nm REAL NOT NULL CHECK (high_nm > 0 AND high_nm <= 5000),
    step_nm REAL NOT NULL DEFAULT 0 CHECK (step_nm >= 0 AND step_nm <= 1000),
    length_mm REAL CHECK (length_mm > 0 AND length_mm <= 3000),
    ratio REAL CHECK (ratio > 1 AND ratio <= 100),
    due_on TEXT NOT NULL DEFAULT '' CHECK (due_on = '' OR date(due_on) IS due_on),
    retired INTEGER NOT NULL DEFAULT 0 CHECK (retired IN (0, 1))
) STRICT;

-- How tight a source says a fastener is: of every clutch of a kind, or of one machine's. What is withdrawn stays.
CREATE TABLE torque_stated (
    id INTEGER PRIMARY KEY,
    kind TEXT NOT NULL CHECK (length(kind) BETWEEN 1 AND 60),
    machine_id INTEGER REFERENCES machine,
    fastener TEXT NOT NULL CHECK (length(fastener) BETWEEN 1 AND 40),
    tightness TEXT NOT NULL CHECK (tightness IN
        ('torque', 'to the shoulder', 'until the washer meets the face', 'snug', 'by hand')),
    torque_nm REAL CHECK (torque_nm > 0 AND torque_nm <= 5000),
    origin TEXT NOT NULL CHECK (origin IN ('manual', 'part maker''s sheet', 'common practice', 'from memory')),
    stated_at TEXT NOT NULL,
    stated_by TEXT NOT NULL CHECK (length(stated_by) BETWEEN 1 AND 120),
    withdrawn INTEGER NOT NULL DEFAULT 0 CHECK (withdrawn IN (0, 1)),
    CHECK ((tightness = 'torque') = (torque_nm IS NOT NULL))
) STRICT;
CREATE INDEX torque_stated_of_kind ON torque_stated (kind, fastener);

-- Where sources conflict: the one the workshop goes by on a machine.
CREATE TABLE torque_choice (
    machine_id INTEGER NOT NULL REFERENCES machine,
    kind TEXT NOT NULL,
    fastener TEXT NOT NULL,
    stated_id INTEGER NOT NULL REFERENCES torque_stated,
    PRIMARY KEY (machine_id, kind, fastener)
) STRICT, WITHOUT ROWID;
