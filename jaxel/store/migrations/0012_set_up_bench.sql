-- The set-up bench: parts that change a set-up with the pieces at hand, what each set-up holds of them, and what a
-- machine's runs say of its model.

ALTER TABLE part ADD COLUMN place TEXT NOT NULL DEFAULT '' CHECK (length(place) <= 60);
-- The kind of clutch it is made for, empty for any.
ALTER TABLE part ADD COLUMN fits TEXT NOT NULL DEFAULT '' CHECK (length(fits) <= 60);
-- What it is, as in a jaxel-stock document; none for a part that changes no set-up.
ALTER TABLE part ADD COLUMN spec TEXT CHECK (spec IS NULL OR json_valid(spec));

-- Pieces that came to the shelf or left it; at hand is their sum. A part without a row was never counted.
CREATE TABLE stock_move (
    id INTEGER PRIMARY KEY,
    part_id INTEGER NOT NULL REFERENCES part ON DELETE CASCADE,
    visit_id INTEGER REFERENCES visit,
    pieces INTEGER NOT NULL CHECK (pieces BETWEEN -100000 AND 100000),
    why TEXT NOT NULL CHECK (why IN ('counted', 'fitted', 'taken off')),
    at TEXT NOT NULL,
    moved_by TEXT NOT NULL CHECK (length(moved_by) BETWEEN 1 AND 120)
) STRICT;
CREATE INDEX stock_move_of_part ON stock_move (part_id);

-- The part of the shelf in a slot of a set-up; a kit stands in every slot it fills.
CREATE TABLE revision_part (
    revision_id INTEGER NOT NULL REFERENCES setup_revision,
    slot TEXT NOT NULL CHECK (length(slot) BETWEEN 1 AND 60),
    part_id INTEGER NOT NULL REFERENCES part ON DELETE CASCADE,
    pieces INTEGER NOT NULL CHECK (pieces >= 1),
    PRIMARY KEY (revision_id, slot)
) STRICT, WITHOUT ROWID;
CREATE INDEX revision_part_of_part ON revision_part (part_id);

-- What a machine's runs said of its model on a day. Never changed: a later one stands beside it.
CREATE TABLE calibration (
    id INTEGER PRIMARY KEY,
    machine_id INTEGER NOT NULL REFERENCES machine,
    visit_id INTEGER REFERENCES visit,
    key TEXT NOT NULL CHECK (length(key) = 64),
    document TEXT NOT NULL CHECK (json_valid(document)),
    made_at TEXT NOT NULL,
    made_by TEXT NOT NULL CHECK (length(made_by) BETWEEN 1 AND 120)
) STRICT;
CREATE INDEX calibration_of_machine ON calibration (machine_id, id);

-- The calibration a visit's predictions stand on.
ALTER TABLE visit ADD COLUMN calibration_id INTEGER REFERENCES calibration;
