-- A table for each station in place of the wide visit, an actor on every write, and the visit's log.

CREATE TABLE visit_new (
    id INTEGER PRIMARY KEY,
    machine_id INTEGER NOT NULL REFERENCES machine,
    edit INTEGER NOT NULL DEFAULT 1,
    opened_at TEXT NOT NULL,
    opened_by TEXT NOT NULL DEFAULT 'bench' CHECK (length(opened_by) BETWEEN 1 AND 120),
    signed_off_at TEXT,
    signed_off_by TEXT NOT NULL DEFAULT '' CHECK (length(signed_off_by) <= 120)
) STRICT;
INSERT INTO visit_new (id, machine_id, edit, opened_at, signed_off_at, signed_off_by)
SELECT id, machine_id, edit, opened_at, signed_off_at, signed_off_by FROM visit;

CREATE TABLE intake (
    visit_id INTEGER PRIMARY KEY REFERENCES visit,
    odometer_km REAL CHECK (odometer_km BETWEEN 0 AND 1000000),
    complaint TEXT NOT NULL DEFAULT '' CHECK (length(complaint) <= 2000),
    riding TEXT NOT NULL DEFAULT '' CHECK (riding IN ('', 'trail', 'mud', 'dune', 'mountain', 'towing')),
    elevation_m REAL NOT NULL CHECK (elevation_m BETWEEN -430 AND 6000),
    temperature_c REAL NOT NULL CHECK (temperature_c BETWEEN -50 AND 60),
    humidity_pct REAL NOT NULL CHECK (humidity_pct BETWEEN 0 AND 100),
    fitted_confirmed INTEGER NOT NULL DEFAULT 0 CHECK (fitted_confirmed IN (0, 1)),
    target_engagement_rpm REAL NOT NULL CHECK (target_engagement_rpm > 0 AND target_engagement_rpm <= 30000),
    target_engagement_tolerance_rpm REAL NOT NULL
        CHECK (target_engagement_tolerance_rpm > 0 AND target_engagement_tolerance_rpm <= 30000),
    target_shift_rpm REAL NOT NULL CHECK (target_shift_rpm > 0 AND target_shift_rpm <= 30000),
    target_shift_tolerance_rpm REAL NOT NULL
        CHECK (target_shift_tolerance_rpm > 0 AND target_shift_tolerance_rpm <= 30000),
    baseline_engagement_rpm REAL CHECK (baseline_engagement_rpm > 0 AND baseline_engagement_rpm <= 30000),
    baseline_shift_rpm REAL CHECK (baseline_shift_rpm > 0 AND baseline_shift_rpm <= 30000)
) STRICT;
INSERT INTO intake
SELECT id, odometer_km, complaint, riding, elevation_m, temperature_c, humidity_pct, fitted_confirmed,
    target_engagement_rpm, target_engagement_tolerance_rpm, target_shift_rpm, target_shift_tolerance_rpm,
    baseline_engagement_rpm, baseline_shift_rpm
FROM visit;

CREATE TABLE belt_check (
    visit_id INTEGER PRIMARY KEY REFERENCES visit,
    belt_id INTEGER NOT NULL REFERENCES belt,
    decision TEXT CHECK (decision IN ('run on', 'spare', 'discard')),
    reason TEXT NOT NULL DEFAULT '' CHECK (length(reason) <= 500),
    next_belt_id INTEGER REFERENCES belt,
    next_width_mm REAL CHECK (next_width_mm > 0 AND next_width_mm <= 200)
) STRICT;
INSERT INTO belt_check
SELECT id, belt_id, belt_decision, belt_reason, next_belt_id, next_belt_width_mm FROM visit;

CREATE TABLE belt_reading_new (
    id INTEGER PRIMARY KEY,
    visit_id INTEGER NOT NULL REFERENCES visit,
    place INTEGER NOT NULL CHECK (place BETWEEN 1 AND 3),
    width_mm REAL NOT NULL CHECK (width_mm > 0 AND width_mm <= 200),
    taken_at TEXT NOT NULL,
    UNIQUE (visit_id, place)
) STRICT;
INSERT INTO belt_reading_new (visit_id, place, width_mm, taken_at)
SELECT visit_id, place, width_mm, taken_at FROM belt_reading ORDER BY visit_id, place;
DROP TABLE belt_reading;
ALTER TABLE belt_reading_new RENAME TO belt_reading;

CREATE TABLE set_up (
    visit_id INTEGER PRIMARY KEY REFERENCES visit,
    found_revision_id INTEGER NOT NULL REFERENCES setup_revision,
    left_revision_id INTEGER NOT NULL REFERENCES setup_revision,
    found_draft TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(found_draft)),
    left_draft TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(left_draft)),
    reason TEXT NOT NULL DEFAULT '' CHECK (length(reason) <= 500)
) STRICT;
INSERT INTO set_up
SELECT id, found_revision_id, left_revision_id, coalesce(found_draft, '{}'), coalesce(left_draft, '{}'), change_reason
FROM visit;

CREATE TABLE hand_over (
    visit_id INTEGER PRIMARY KEY REFERENCES visit,
    watch TEXT NOT NULL DEFAULT '' CHECK (length(watch) <= 2000),
    next_service_km REAL CHECK (next_service_km BETWEEN 0 AND 1000000)
) STRICT;
INSERT INTO hand_over SELECT id, watch, next_service_km FROM visit;

DROP TABLE visit;
ALTER TABLE visit_new RENAME TO visit;
CREATE UNIQUE INDEX one_open_visit ON visit (machine_id) WHERE signed_off_at IS NULL;
CREATE INDEX visit_of_machine ON visit (machine_id, id);

ALTER TABLE machine ADD COLUMN brought_in_by TEXT NOT NULL DEFAULT 'bench' CHECK (length(brought_in_by) BETWEEN 1 AND 120);
ALTER TABLE setup_revision ADD COLUMN made_by TEXT NOT NULL DEFAULT 'bench' CHECK (length(made_by) BETWEEN 1 AND 120);

-- One row for each field that an acknowledged change replaced; a whole row written or taken away has the field '*'.
-- Rows of one change share its number; a change that undoes another names it.
CREATE TABLE visit_log (
    id INTEGER PRIMARY KEY,
    visit_id INTEGER NOT NULL REFERENCES visit,
    change INTEGER NOT NULL CHECK (change >= 1),
    at TEXT NOT NULL,
    by TEXT NOT NULL CHECK (length(by) BETWEEN 1 AND 120),
    place TEXT NOT NULL,
    row INTEGER NOT NULL,
    field TEXT NOT NULL,
    was TEXT CHECK (was IS NULL OR json_valid(was)),
    now TEXT CHECK (now IS NULL OR json_valid(now)),
    undoes INTEGER CHECK (undoes < change)
) STRICT;
CREATE INDEX visit_log_of_visit ON visit_log (visit_id, change);
CREATE TRIGGER visit_log_kept BEFORE UPDATE ON visit_log
BEGIN SELECT RAISE(ABORT, 'the log is never overwritten'); END;
CREATE TRIGGER visit_log_stays BEFORE DELETE ON visit_log
BEGIN SELECT RAISE(ABORT, 'the log is never deleted'); END;
