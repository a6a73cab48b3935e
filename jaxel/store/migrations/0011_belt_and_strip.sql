-- Belt, strip and inspect: a belt with an identity and a life, marks on it, a belt with no width; what was looked at of
-- each clutch and what was decided; limits of the workshop's own manual, parts with their lives, and what is due.

ALTER TABLE belt ADD COLUMN make_number TEXT NOT NULL DEFAULT '' CHECK (length(make_number) <= 60);
ALTER TABLE belt ADD COLUMN batch TEXT NOT NULL DEFAULT '' CHECK (length(batch) <= 60);
ALTER TABLE belt ADD COLUMN bought_on TEXT NOT NULL DEFAULT '' CHECK (bought_on = '' OR date(bought_on) IS bought_on);
ALTER TABLE belt ADD COLUMN direction TEXT NOT NULL DEFAULT '' CHECK (length(direction) <= 120);
ALTER TABLE belt ADD COLUMN place TEXT NOT NULL DEFAULT '' CHECK (length(place) <= 60);
ALTER TABLE belt ADD COLUMN new_width_mm REAL CHECK (new_width_mm > 0 AND new_width_mm <= 200);
ALTER TABLE belt ADD COLUMN length_mm REAL CHECK (length_mm > 0 AND length_mm <= 5000);
ALTER TABLE belt ADD COLUMN fitted_width_mm REAL CHECK (fitted_width_mm > 0 AND fitted_width_mm <= 200);
-- Distance and hours on it from before it was fitted last.
ALTER TABLE belt ADD COLUMN used_km REAL NOT NULL DEFAULT 0 CHECK (used_km >= 0);
ALTER TABLE belt ADD COLUMN used_h REAL NOT NULL DEFAULT 0 CHECK (used_h >= 0);
ALTER TABLE belt ADD COLUMN removed_at_km REAL CHECK (removed_at_km >= 0);
ALTER TABLE belt ADD COLUMN removed_at_h REAL CHECK (removed_at_h >= 0);
ALTER TABLE belt ADD COLUMN removed_on TEXT NOT NULL DEFAULT '';

ALTER TABLE belt_check ADD COLUMN direction TEXT NOT NULL DEFAULT '' CHECK (length(direction) <= 120);
-- What was on the belt at this visit, kept when it was signed off.
ALTER TABLE belt_check ADD COLUMN use_km REAL CHECK (use_km >= 0);
ALTER TABLE belt_check ADD COLUMN use_h REAL CHECK (use_h >= 0);
ALTER TABLE belt_check ADD COLUMN no_width TEXT
    CHECK (no_width IN ('broke', 'lost cord', 'in pieces', 'missing'));
ALTER TABLE belt_check ADD COLUMN failure TEXT NOT NULL DEFAULT ''
    CHECK (failure IN ('', 'snapped', 'shredded', 'cogs', 'cord', 'burnt', 'unknown'));
ALTER TABLE belt_check ADD COLUMN pieces TEXT NOT NULL DEFAULT '' CHECK (pieces IN ('', 'clear', 'found', 'not reached'));
ALTER TABLE belt_check ADD COLUMN ducts TEXT NOT NULL DEFAULT '' CHECK (ducts IN ('', 'clear', 'found', 'not reached'));
ALTER TABLE belt_check ADD COLUMN seals TEXT NOT NULL DEFAULT '' CHECK (seals IN ('', 'clear', 'found', 'not reached'));
ALTER TABLE belt_check ADD COLUMN faces TEXT NOT NULL DEFAULT '' CHECK (faces IN ('', 'clear', 'found', 'not reached'));
ALTER TABLE belt_check ADD COLUMN side_gap_mm REAL CHECK (side_gap_mm BETWEEN 0 AND 200);
ALTER TABLE belt_check ADD COLUMN deflection_mm REAL CHECK (deflection_mm BETWEEN 0 AND 500);
ALTER TABLE belt_check ADD COLUMN ride_mm REAL CHECK (ride_mm BETWEEN -100 AND 100);

CREATE TABLE belt_reading_new (
    id INTEGER PRIMARY KEY,
    visit_id INTEGER NOT NULL REFERENCES visit,
    place INTEGER NOT NULL CHECK (place BETWEEN 1 AND 12),
    width_mm REAL NOT NULL CHECK (width_mm > 0 AND width_mm <= 200),
    taken_at TEXT NOT NULL,
    UNIQUE (visit_id, place)
) STRICT;
INSERT INTO belt_reading_new SELECT id, visit_id, place, width_mm, taken_at FROM belt_reading;
DROP TABLE belt_reading;
ALTER TABLE belt_reading_new RENAME TO belt_reading;

CREATE TABLE belt_mark (
    id INTEGER PRIMARY KEY,
    visit_id INTEGER NOT NULL REFERENCES visit,
    kind TEXT NOT NULL CHECK (length(kind) BETWEEN 1 AND 40),
    place REAL NOT NULL CHECK (place >= 0 AND place < 1),
    flank TEXT NOT NULL CHECK (flank IN ('inner', 'outer', 'both', 'back')),
    length_mm REAL CHECK (length_mm > 0 AND length_mm <= 5000),
    found_at TEXT NOT NULL
) STRICT;
CREATE INDEX belt_mark_of_visit ON belt_mark (visit_id, id);

ALTER TABLE intake ADD COLUMN walking_range TEXT NOT NULL DEFAULT ''
    CHECK (walking_range IN ('', 'low', 'high', 'one range'));
ALTER TABLE intake ADD COLUMN symptoms TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(symptoms));

CREATE TABLE strip (
    visit_id INTEGER PRIMARY KEY REFERENCES visit,
    depth TEXT CHECK (depth IN ('on machine', 'cover off', 'full strip')),
    marked TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(marked)),
    spring_note TEXT NOT NULL DEFAULT '' CHECK (length(spring_note) <= 200)
) STRICT;
INSERT INTO strip (visit_id) SELECT id FROM visit;

-- One item of one clutch as it was looked at; an item not looked at has no row.
CREATE TABLE item_look (
    id INTEGER PRIMARY KEY,
    visit_id INTEGER NOT NULL REFERENCES visit,
    side TEXT NOT NULL CHECK (side IN ('primary', 'secondary')),
    item TEXT NOT NULL CHECK (length(item) BETWEEN 1 AND 40),
    looked TEXT NOT NULL DEFAULT '' CHECK (looked IN ('', 'assembled', 'removed', 'not reached', 'left alone')),
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

-- A limit from the workshop's own manual, of a kind or of one machine; what is withdrawn stays.
CREATE TABLE item_limit (
    id INTEGER PRIMARY KEY,
    kind TEXT NOT NULL CHECK (length(kind) BETWEEN 1 AND 60),
    machine_id INTEGER REFERENCES machine,
    item TEXT NOT NULL CHECK (length(item) BETWEEN 1 AND 40),
    value REAL NOT NULL CHECK (value >= 0),
    origin TEXT NOT NULL CHECK (origin IN ('manual', 'part maker''s sheet', 'common practice', 'from memory')),
    stated_at TEXT NOT NULL,
    stated_by TEXT NOT NULL CHECK (length(stated_by) BETWEEN 1 AND 120),
    withdrawn INTEGER NOT NULL DEFAULT 0 CHECK (withdrawn IN (0, 1))
) STRICT;
CREATE INDEX item_limit_of_kind ON item_limit (kind, item);

CREATE TABLE part (
    id INTEGER PRIMARY KEY,
    number TEXT NOT NULL UNIQUE COLLATE NOCASE CHECK (length(trim(number)) BETWEEN 1 AND 60),
    kind TEXT NOT NULL CHECK (length(trim(kind)) BETWEEN 1 AND 60),
    make TEXT NOT NULL DEFAULT '' CHECK (length(make) <= 60),
    price REAL CHECK (price >= 0 AND price <= 1000000),
    pack INTEGER NOT NULL DEFAULT 1 CHECK (pack BETWEEN 1 AND 1000),
    life_km REAL CHECK (life_km > 0 AND life_km <= 1000000),
    life_h REAL CHECK (life_h > 0 AND life_h <= 100000),
    superseded_by TEXT NOT NULL DEFAULT '' CHECK (length(superseded_by) <= 60),
    supplier_note TEXT NOT NULL DEFAULT '' CHECK (length(supplier_note) <= 500),
    noted_at TEXT NOT NULL,
    noted_by TEXT NOT NULL CHECK (length(noted_by) BETWEEN 1 AND 120)
) STRICT;

-- A tool bought once: its price, and whether the workshop has it.
CREATE TABLE tool (
    name TEXT PRIMARY KEY CHECK (length(trim(name)) BETWEEN 1 AND 60),
    price REAL CHECK (price >= 0 AND price <= 1000000),
    owned INTEGER NOT NULL DEFAULT 0 CHECK (owned IN (0, 1))
) STRICT, WITHOUT ROWID;

-- A part put in or taken out, with the odometer of that day: what lives of parts are told from. Never changed.
CREATE TABLE part_event (
    id INTEGER PRIMARY KEY,
    visit_id INTEGER NOT NULL REFERENCES visit,
    machine_id INTEGER NOT NULL REFERENCES machine,
    side TEXT NOT NULL CHECK (side IN ('primary', 'secondary', 'belt')),
    kind TEXT NOT NULL,
    number TEXT NOT NULL DEFAULT '',
    pieces INTEGER NOT NULL CHECK (pieces >= 1),
    way TEXT NOT NULL CHECK (way IN ('in', 'out')),
    odometer_km REAL CHECK (odometer_km >= 0),
    odometer_h REAL CHECK (odometer_h >= 0),
    at TEXT NOT NULL
) STRICT;
CREATE INDEX part_event_of_machine ON part_event (machine_id, kind, id);

-- What a signed visit said is due, by what it is of: the latest saying holds.
CREATE TABLE due (
    machine_id INTEGER NOT NULL REFERENCES machine,
    key TEXT NOT NULL,
    visit_id INTEGER NOT NULL REFERENCES visit,
    what TEXT NOT NULL CHECK (what IN ('belt', 'item', 'service')),
    name TEXT NOT NULL,
    why TEXT NOT NULL,
    km REAL CHECK (km >= 0),
    h REAL CHECK (h >= 0),
    season INTEGER NOT NULL CHECK (season IN (0, 1)),
    said_on TEXT NOT NULL,
    PRIMARY KEY (machine_id, key)
) STRICT, WITHOUT ROWID;

CREATE TABLE school_choice (
    question TEXT PRIMARY KEY CHECK (length(question) BETWEEN 1 AND 40),
    school TEXT NOT NULL CHECK (length(school) BETWEEN 1 AND 40),
    chosen_at TEXT NOT NULL,
    chosen_by TEXT NOT NULL CHECK (length(chosen_by) BETWEEN 1 AND 120)
) STRICT, WITHOUT ROWID;

-- A photo may be of one item at one visit.
ALTER TABLE photo ADD COLUMN visit_id INTEGER REFERENCES visit;
ALTER TABLE photo ADD COLUMN subject TEXT NOT NULL DEFAULT '' CHECK (length(subject) <= 80);
CREATE INDEX photo_of_visit ON photo (visit_id) WHERE visit_id IS NOT NULL;
