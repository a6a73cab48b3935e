-- Machines, their set-ups through time, their belts, and the visits that change them.

CREATE TABLE machine (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL CHECK (length(trim(name)) BETWEEN 1 AND 120),
    kind TEXT NOT NULL CHECK (kind IN ('sled', 'side-by-side', 'quad')),
    rider TEXT NOT NULL DEFAULT '' CHECK (length(rider) <= 120),
    limit_origin TEXT NOT NULL CHECK (limit_origin IN ('manual, entered by the workshop', 'common practice', 'from memory')),
    created_at TEXT NOT NULL
) STRICT;

-- A change is a new row with its parent, its visit and its reason; a row is never updated or deleted.
CREATE TABLE setup_revision (
    id INTEGER PRIMARY KEY,
    machine_id INTEGER NOT NULL REFERENCES machine,
    parent_id INTEGER REFERENCES setup_revision,
    visit_id INTEGER REFERENCES visit,
    reason TEXT NOT NULL CHECK (length(trim(reason)) BETWEEN 1 AND 500),
    document TEXT NOT NULL CHECK (json_valid(document)),
    created_at TEXT NOT NULL,
    CHECK (json_extract(document, '$.format') = 'jaxel-setup'),
    CHECK (json_extract(document, '$.primary.weights.base_mass_g') > 0),
    CHECK (json_extract(document, '$.primary.weights.count') BETWEEN 2 AND 16),
    CHECK (json_extract(document, '$.belt.top_width_mm') > 0),
    CHECK (json_extract(document, '$.belt.top_width_mm') <= json_extract(document, '$.belt.top_width_new_mm') + 1.0)
) STRICT;
CREATE INDEX setup_revision_of_machine ON setup_revision (machine_id, id);
CREATE TRIGGER setup_revision_kept BEFORE UPDATE ON setup_revision
BEGIN SELECT RAISE(ABORT, 'a set-up revision is never overwritten'); END;
CREATE TRIGGER setup_revision_stays BEFORE DELETE ON setup_revision
BEGIN SELECT RAISE(ABORT, 'a set-up revision is never deleted'); END;

CREATE TABLE belt (
    id INTEGER PRIMARY KEY,
    machine_id INTEGER NOT NULL REFERENCES machine,
    number INTEGER NOT NULL CHECK (number >= 1),
    state TEXT NOT NULL CHECK (state IN ('fitted', 'spare', 'discarded')),
    width_mm REAL NOT NULL CHECK (width_mm > 0 AND width_mm <= 200),
    fitted_at_km REAL CHECK (fitted_at_km >= 0),
    UNIQUE (machine_id, number)
) STRICT;
CREATE UNIQUE INDEX one_fitted_belt ON belt (machine_id) WHERE state = 'fitted';

-- One visit, its stations' fields in the order of the work. `edit` counts its changes.
CREATE TABLE visit (
    id INTEGER PRIMARY KEY,
    machine_id INTEGER NOT NULL REFERENCES machine,
    edit INTEGER NOT NULL DEFAULT 1,
    opened_at TEXT NOT NULL,
    signed_off_at TEXT,
    signed_off_by TEXT NOT NULL DEFAULT '' CHECK (length(signed_off_by) <= 120),

    odometer_km REAL CHECK (odometer_km BETWEEN 0 AND 1000000),
    complaint TEXT NOT NULL DEFAULT '' CHECK (length(complaint) <= 2000),
    riding TEXT NOT NULL DEFAULT '' CHECK (riding IN ('', 'trail', 'mud', 'dune', 'mountain', 'towing')),
    elevation_m REAL NOT NULL CHECK (elevation_m BETWEEN -430 AND 6000),
    temperature_c REAL NOT NULL CHECK (temperature_c BETWEEN -50 AND 60),
    humidity_pct REAL NOT NULL CHECK (humidity_pct BETWEEN 0 AND 100),
    fitted_confirmed INTEGER NOT NULL DEFAULT 0 CHECK (fitted_confirmed IN (0, 1)),
    target_engagement_rpm REAL NOT NULL CHECK (target_engagement_rpm > 0 AND target_engagement_rpm <= 30000),
    target_engagement_tolerance_rpm REAL NOT NULL CHECK (target_engagement_tolerance_rpm > 0 AND target_engagement_tolerance_rpm <= 30000),
    target_shift_rpm REAL NOT NULL CHECK (target_shift_rpm > 0 AND target_shift_rpm <= 30000),
    target_shift_tolerance_rpm REAL NOT NULL CHECK (target_shift_tolerance_rpm > 0 AND target_shift_tolerance_rpm <= 30000),
    baseline_engagement_rpm REAL CHECK (baseline_engagement_rpm > 0 AND baseline_engagement_rpm <= 30000),
    baseline_shift_rpm REAL CHECK (baseline_shift_rpm > 0 AND baseline_shift_rpm <= 30000),

    belt_id INTEGER NOT NULL REFERENCES belt,
    belt_decision TEXT CHECK (belt_decision IN ('run on', 'spare', 'discard')),
    belt_reason TEXT NOT NULL DEFAULT '' CHECK (length(belt_reason) <= 500),
    next_belt_id INTEGER REFERENCES belt,
    next_belt_width_mm REAL CHECK (next_belt_width_mm > 0 AND next_belt_width_mm <= 200),

    found_revision_id INTEGER NOT NULL REFERENCES setup_revision,
    left_revision_id INTEGER NOT NULL REFERENCES setup_revision,
    found_draft TEXT CHECK (found_draft IS NULL OR json_valid(found_draft)),
    left_draft TEXT CHECK (left_draft IS NULL OR json_valid(left_draft)),
    change_reason TEXT NOT NULL DEFAULT '' CHECK (length(change_reason) <= 500),

    watch TEXT NOT NULL DEFAULT '' CHECK (length(watch) <= 2000),
    next_service_km REAL CHECK (next_service_km BETWEEN 0 AND 1000000)
) STRICT;
CREATE UNIQUE INDEX one_open_visit ON visit (machine_id) WHERE signed_off_at IS NULL;
CREATE INDEX visit_of_machine ON visit (machine_id, id);

CREATE TABLE belt_reading (
    visit_id INTEGER NOT NULL REFERENCES visit,
    place INTEGER NOT NULL CHECK (place BETWEEN 1 AND 3),
    width_mm REAL NOT NULL CHECK (width_mm > 0 AND width_mm <= 200),
    taken_at TEXT NOT NULL,
    PRIMARY KEY (visit_id, place)
) STRICT, WITHOUT ROWID;

CREATE TABLE road_test (
    id INTEGER PRIMARY KEY,
    visit_id INTEGER NOT NULL REFERENCES visit,
    revision_id INTEGER NOT NULL REFERENCES setup_revision,
    belt_width_mm REAL NOT NULL CHECK (belt_width_mm > 0),
    engagement_rpm REAL CHECK (engagement_rpm > 0 AND engagement_rpm <= 30000),
    shift_rpm REAL CHECK (shift_rpm > 0 AND shift_rpm <= 30000),
    note TEXT NOT NULL DEFAULT '' CHECK (length(note) <= 1000),
    taken_at TEXT NOT NULL
) STRICT;
CREATE INDEX road_test_of_visit ON road_test (visit_id, id);
