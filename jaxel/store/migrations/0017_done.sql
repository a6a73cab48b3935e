-- What hands did stands beside what was decided; what was only decided is no longer told as done.

-- What was done about an item decided to be replaced, said where its part goes back.
CREATE TABLE item_done (
    id INTEGER PRIMARY KEY,
    visit_id INTEGER NOT NULL REFERENCES visit,
    side TEXT NOT NULL CHECK (side IN ('primary', 'secondary')),
    item TEXT NOT NULL CHECK (length(item) BETWEEN 1 AND 40),
    how TEXT NOT NULL DEFAULT '' CHECK (how IN ('', 'new', 'used', 'dressed', 'not done')),
    number TEXT NOT NULL DEFAULT '' CHECK (length(number) <= 60),
    price REAL CHECK (price >= 0 AND price <= 1000000),
    why TEXT NOT NULL DEFAULT '' CHECK (why IN ('', 'not in stock', 'told, rider goes on', 'next time', 'other')),
    because TEXT NOT NULL DEFAULT '' CHECK (length(because) <= 500),
    pieces INTEGER CHECK (pieces BETWEEN 0 AND 999),
    found TEXT NOT NULL DEFAULT '' CHECK (found IN ('', 'all', 'not all', 'none')),
    prepared INTEGER NOT NULL DEFAULT 0 CHECK (prepared IN (0, 1)),
    old_belt TEXT NOT NULL DEFAULT '' CHECK (length(old_belt) <= 500),
    by TEXT NOT NULL DEFAULT '' CHECK (length(by) <= 120),
    at TEXT NOT NULL DEFAULT '',
    UNIQUE (visit_id, side, item)
) STRICT;

-- Until now a part was told as fitted because it was decided to be replaced: such a row begins no life and ends none.
ALTER TABLE part_event ADD COLUMN told TEXT NOT NULL DEFAULT 'done'
    CHECK (told IN ('done', 'decided; fitting not recorded'));
UPDATE part_event SET told = 'decided; fitting not recorded' WHERE side <> 'belt';
UPDATE due SET why = 'decided; fitting not recorded' || substr(why, length('renewed, usual check') + 1)
    WHERE why LIKE 'renewed, usual check%';

-- What is stated is one machine's, or of every one of a make and model by a manual that is named.
ALTER TABLE machine ADD COLUMN model TEXT NOT NULL DEFAULT '' CHECK (length(model) <= 120);
ALTER TABLE stated ADD COLUMN model TEXT NOT NULL DEFAULT '' CHECK (length(model) <= 120);
ALTER TABLE stated ADD COLUMN manual TEXT NOT NULL DEFAULT '' CHECK (length(manual) <= 120);

-- What a machine was said to go by is stated for it, wherever it was stated first.
INSERT INTO stated (what, machine_id, kind, name, value, tightness, origin, stated_at, stated_by, withdrawn)
    SELECT what, stated_choice.machine_id, stated.kind, stated.name, value, tightness, origin, stated_at, stated_by, 0
    FROM stated_choice JOIN stated ON stated.id = stated_id
    WHERE withdrawn = 0 AND (stated.machine_id IS NULL OR stated.machine_id <> stated_choice.machine_id);
UPDATE stated_choice SET stated_id = (
        SELECT max(own.id) FROM stated AS own JOIN stated AS was ON was.id = stated_choice.stated_id
        WHERE own.machine_id = stated_choice.machine_id AND own.kind = was.kind AND own.name = was.name
            AND own.value IS was.value AND own.tightness IS was.tightness AND own.withdrawn = 0)
    WHERE stated_id IN (SELECT id FROM stated WHERE withdrawn = 0 AND machine_id IS NOT stated_choice.machine_id);

-- An act's token belongs to its act, told by the address it was asked at.
ALTER TABLE act ADD COLUMN what TEXT NOT NULL DEFAULT '' CHECK (length(what) <= 400);

-- Why a run is not scored any more: what was predicted that day was of another set-up than was fitted.
ALTER TABLE road_test ADD COLUMN set_aside TEXT NOT NULL DEFAULT '' CHECK (length(set_aside) <= 60);

-- The belt that goes on, told like every part; which way round and whether it has risen; a failure's cause.
ALTER TABLE belt_check ADD COLUMN unmeasured TEXT NOT NULL DEFAULT '' CHECK (length(unmeasured) <= 500);
ALTER TABLE belt_check ADD COLUMN next_is TEXT NOT NULL DEFAULT '' CHECK (next_is IN ('', 'new', 'used'));
ALTER TABLE belt_check ADD COLUMN next_number TEXT NOT NULL DEFAULT '' CHECK (length(next_number) <= 60);
ALTER TABLE belt_check ADD COLUMN next_as_numbered INTEGER NOT NULL DEFAULT 0 CHECK (next_as_numbered IN (0, 1));
ALTER TABLE belt_check ADD COLUMN next_length_mm REAL CHECK (next_length_mm > 0 AND next_length_mm <= 5000);
ALTER TABLE belt_check ADD COLUMN next_price REAL CHECK (next_price >= 0 AND next_price <= 1000000);
ALTER TABLE belt_check ADD COLUMN waits TEXT NOT NULL DEFAULT '' CHECK (waits IN ('', 'not in stock'));
ALTER TABLE belt_check ADD COLUMN went_on TEXT NOT NULL DEFAULT ''
    CHECK (went_on IN ('', 'as it came off', 'by its arrow', 'turned round'));
ALTER TABLE belt_check ADD COLUMN risen INTEGER NOT NULL DEFAULT 0 CHECK (risen IN (0, 1));
ALTER TABLE belt_check ADD COLUMN cause TEXT NOT NULL DEFAULT ''
    CHECK (cause IN ('', 'found', 'not found', 'not looked for'));
ALTER TABLE belt_check ADD COLUMN cause_words TEXT NOT NULL DEFAULT '' CHECK (length(cause_words) <= 500);
ALTER TABLE belt_check ADD COLUMN clutches TEXT NOT NULL DEFAULT ''
    CHECK (clutches IN ('', 'clear', 'found', 'not reached'));
ALTER TABLE road_test ADD COLUMN belt_length_mm REAL CHECK (belt_length_mm > 0);

-- The belt a machine came in with ran before anybody here knew it: its life is not the odometer's.
ALTER TABLE belt ADD COLUMN unknown_before INTEGER NOT NULL DEFAULT 0 CHECK (unknown_before IN (0, 1));
UPDATE belt SET unknown_before = 1 WHERE number = 1;
-- It was counted from the meter's zero until now; from here on it is counted from where it was first seen.
CREATE TEMP TABLE first_seen AS
    SELECT belt_id, min(use_km) AS km, min(use_h) AS h FROM belt_check JOIN belt ON belt.id = belt_id
    WHERE unknown_before = 1 AND (use_km IS NOT NULL OR use_h IS NOT NULL) GROUP BY belt_id;
UPDATE belt_check SET
    use_km = use_km - (SELECT km FROM first_seen WHERE first_seen.belt_id = belt_check.belt_id),
    use_h = use_h - (SELECT h FROM first_seen WHERE first_seen.belt_id = belt_check.belt_id)
    WHERE belt_id IN (SELECT belt_id FROM first_seen);
UPDATE belt SET
    used_km = max(0, used_km - coalesce((SELECT km FROM first_seen WHERE belt_id = belt.id), 0)),
    used_h = max(0, used_h - coalesce((SELECT h FROM first_seen WHERE belt_id = belt.id), 0))
    WHERE id IN (SELECT belt_id FROM first_seen);
UPDATE belt SET
    fitted_at_km = (SELECT km FROM first_seen WHERE belt_id = belt.id),
    fitted_at_h = (SELECT h FROM first_seen WHERE belt_id = belt.id)
    WHERE state = 'fitted' AND fitted_at_km IS NULL AND fitted_at_h IS NULL
        AND id IN (SELECT belt_id FROM first_seen);
DROP TABLE first_seen;

-- What a visit may leave out, said once and in the same words on the page.
ALTER TABLE intake ADD COLUMN no_odometer TEXT NOT NULL DEFAULT ''
    CHECK (no_odometer IN ('', 'cannot be read', 'has none'));
ALTER TABLE line_up ADD COLUMN unmeasured TEXT NOT NULL DEFAULT '' CHECK (length(unmeasured) <= 500);

-- Looked over, and nothing seen: of what a depth reaches, never as measured.
CREATE TABLE item_look_new (
    id INTEGER PRIMARY KEY,
    visit_id INTEGER NOT NULL REFERENCES visit,
    side TEXT NOT NULL CHECK (side IN ('primary', 'secondary')),
    item TEXT NOT NULL CHECK (length(item) BETWEEN 1 AND 40),
    looked TEXT NOT NULL DEFAULT ''
        CHECK (looked IN ('', 'assembled', 'removed', 'looked over', 'not reached', 'left alone')),
    because TEXT NOT NULL DEFAULT '' CHECK (length(because) <= 500),
    readings TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(readings)),
    rings TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(rings)),
    grade TEXT NOT NULL DEFAULT '' CHECK (length(grade) <= 60),
    compared TEXT NOT NULL DEFAULT '' CHECK (compared IN ('', 'as new', 'worn beside new')),
    note TEXT NOT NULL DEFAULT '' CHECK (length(note) <= 500),
    overruled TEXT CHECK (overruled IN ('keep', 'watch', 'replace')),
    reason TEXT NOT NULL DEFAULT '' CHECK (length(reason) <= 500),
    remedy TEXT NOT NULL DEFAULT '' CHECK (length(remedy) <= 40),
    UNIQUE (visit_id, side, item)
) STRICT;
INSERT INTO item_look_new SELECT id, visit_id, side, item, looked, because, readings, rings, grade, compared, note,
    overruled, reason, remedy FROM item_look;
DROP TABLE item_look;
ALTER TABLE item_look_new RENAME TO item_look;

-- Break-in by the rider is an ordinary end.
CREATE TABLE break_in_new (
    visit_id INTEGER PRIMARY KEY REFERENCES visit,
    released TEXT NOT NULL DEFAULT '' CHECK (released IN ('', 'by the rider', 'released', 'overruled')),
    asked INTEGER CHECK (asked BETWEEN 1 AND 12),
    reason TEXT NOT NULL DEFAULT '' CHECK (length(reason) <= 500)
) STRICT;
INSERT INTO break_in_new SELECT visit_id, released, asked, reason FROM break_in;
DROP TABLE break_in;
ALTER TABLE break_in_new RENAME TO break_in;

-- Who did it, where another hand wrote it down.
ALTER TABLE tightened ADD COLUMN did TEXT NOT NULL DEFAULT '' CHECK (length(did) <= 120);

-- Clutches that came off their shaft to be worked on.
ALTER TABLE rebuild ADD COLUMN off_shaft TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(off_shaft));
