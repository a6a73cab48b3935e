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

-- Clutches that came off their shaft to be worked on.
ALTER TABLE rebuild ADD COLUMN off_shaft TEXT NOT NULL DEFAULT '[]' CHECK (json_valid(off_shaft));
