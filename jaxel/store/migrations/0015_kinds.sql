-- The kinds of clutch as hands take them apart: how a clutch is made, the way the belt came off, sizes of fasteners.

-- `variants`, what was seen of how the clutches are made: the answer by `side.question`.
CREATE TABLE strip_new (
    visit_id INTEGER PRIMARY KEY REFERENCES visit,
    depth TEXT CHECK (depth IN ('on machine', 'off the machine', 'cover off', 'full strip')),
    marked TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(marked)),
    spring_note TEXT NOT NULL DEFAULT '' CHECK (length(spring_note) <= 200),
    variants TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(variants))
) STRICT;
INSERT INTO strip_new (visit_id, depth, marked, spring_note) SELECT visit_id, depth, marked, spring_note FROM strip;
DROP TABLE strip;
ALTER TABLE strip_new RENAME TO strip;

ALTER TABLE belt_check ADD COLUMN way TEXT NOT NULL DEFAULT '' CHECK (way IN ('', 'A', 'B', 'C', 'D'));

-- The slots of which a change was recorded; what came off for it follows from the kinds. 0016 fills it.
ALTER TABLE set_up ADD COLUMN changed TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(changed));

-- A bracket of a brake line that was moved for access is counted by itself: the brake is tried before any engine run.
CREATE TABLE counted_new (
    id INTEGER PRIMARY KEY,
    visit_id INTEGER NOT NULL REFERENCES visit,
    key TEXT NOT NULL CHECK (length(key) BETWEEN 1 AND 80),
    name TEXT NOT NULL CHECK (length(trim(name)) BETWEEN 1 AND 300),
    sort TEXT NOT NULL CHECK (sort IN ('fastener', 'small part', 'tool', 'access', 'brake line')),
    "out" INTEGER NOT NULL CHECK ("out" BETWEEN 0 AND 999),
    back INTEGER CHECK (back BETWEEN 0 AND 999),
    note TEXT NOT NULL DEFAULT '' CHECK (length(note) <= 200),
    UNIQUE (visit_id, key)
) STRICT;
INSERT INTO counted_new SELECT id, visit_id, key, name, sort, "out", back, note FROM counted;
DROP TABLE counted;
ALTER TABLE counted_new RENAME TO counted;
UPDATE counted SET key = 'tool.belt_spreader_or_jack_bolts' WHERE key = 'spreader';

ALTER TABLE hand_over ADD COLUMN brake_held INTEGER NOT NULL DEFAULT 0 CHECK (brake_held IN (0, 1));

-- Sizes belong to the machine: typed once, read from its latest visit that says them.
ALTER TABLE tightened ADD COLUMN size TEXT NOT NULL DEFAULT '' CHECK (length(size) <= 60);
ALTER TABLE tightened ADD COLUMN thread TEXT NOT NULL DEFAULT '' CHECK (thread IN ('', 'right-hand', 'left-hand'));
ALTER TABLE tightened ADD COLUMN used_instead TEXT NOT NULL DEFAULT '' CHECK (length(used_instead) <= 60);
