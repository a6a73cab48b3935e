-- What somebody states of a machine is one thing with three uses; everything that bundles merge by has an identity; the
-- hand-over of a signed visit is kept as it was signed.

-- A limit of a machine, of an item, or the tightness of a fastener. `machine_id`, the machine it was stated at, NULL
-- where that is not known.
CREATE TABLE stated (
    id INTEGER PRIMARY KEY,
    what TEXT NOT NULL CHECK (what IN ('limit', 'item', 'torque')),
    machine_id INTEGER REFERENCES machine,
    kind TEXT NOT NULL DEFAULT '' CHECK (length(kind) <= 60),
    name TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 40),
    value REAL CHECK (value >= 0),
    tightness TEXT CHECK (tightness IN
        ('torque', 'to the shoulder', 'until the washer meets the face', 'snug', 'by hand')),
    origin TEXT NOT NULL CHECK (origin IN ('manual', 'part maker''s sheet', 'common practice', 'from memory')),
    stated_at TEXT NOT NULL,
    stated_by TEXT NOT NULL CHECK (length(stated_by) BETWEEN 1 AND 120),
    withdrawn INTEGER NOT NULL DEFAULT 0 CHECK (withdrawn IN (0, 1)),
    CHECK ((what = 'torque') = (tightness IS NOT NULL)),
    CHECK ((value IS NULL) = (what = 'torque' AND tightness <> 'torque')),
    CHECK (what = 'item' OR value IS NULL OR value > 0),
    CHECK (what <> 'torque' OR value IS NULL OR value <= 5000),
    CHECK (what <> 'limit' OR machine_id IS NOT NULL)
) STRICT;
CREATE INDEX stated_of ON stated (what, kind, name);
CREATE INDEX stated_at_machine ON stated (machine_id);

-- Ids of one table follow those of the one before it.
INSERT INTO stated (id, what, machine_id, name, value, origin, stated_at, stated_by, withdrawn)
    SELECT id, 'limit', machine_id, what, value, origin, stated_at, stated_by, withdrawn FROM machine_limit;
INSERT INTO stated (id, what, machine_id, kind, name, value, origin, stated_at, stated_by, withdrawn)
    SELECT id + (SELECT coalesce(max(id), 0) FROM machine_limit), 'item', machine_id, kind, item, value, origin,
        stated_at, stated_by, withdrawn FROM item_limit;
INSERT INTO stated (id, what, machine_id, kind, name, value, tightness, origin, stated_at, stated_by, withdrawn)
    SELECT id + (SELECT coalesce(max(id), 0) FROM machine_limit) + (SELECT coalesce(max(id), 0) FROM item_limit),
        'torque', machine_id, kind, fastener, torque_nm, tightness, origin, stated_at, stated_by, withdrawn
    FROM torque_stated;

-- The statement a machine goes by where several of its own differ.
CREATE TABLE stated_choice (
    machine_id INTEGER NOT NULL REFERENCES machine,
    kind TEXT NOT NULL,
    name TEXT NOT NULL,
    stated_id INTEGER NOT NULL REFERENCES stated,
    PRIMARY KEY (machine_id, kind, name)
) STRICT, WITHOUT ROWID;
INSERT INTO stated_choice (machine_id, kind, name, stated_id)
    SELECT machine_id, kind, fastener, stated_id
        + (SELECT coalesce(max(id), 0) FROM machine_limit) + (SELECT coalesce(max(id), 0) FROM item_limit)
    FROM torque_choice;

DROP TABLE torque_choice;
DROP TABLE torque_stated;
DROP TABLE item_limit;
DROP TABLE machine_limit;

-- A random identity of 128 bits beside each key. A trigger gives one to a row that comes without.
ALTER TABLE machine ADD COLUMN identity TEXT CHECK (length(identity) = 32);
ALTER TABLE machine ADD COLUMN primary_identity TEXT CHECK (length(primary_identity) = 32);
ALTER TABLE machine ADD COLUMN secondary_identity TEXT CHECK (length(secondary_identity) = 32);
UPDATE machine SET identity = lower(hex(randomblob(16))), primary_identity = lower(hex(randomblob(16))),
    secondary_identity = lower(hex(randomblob(16)));
CREATE UNIQUE INDEX machine_by_identity ON machine (identity);
CREATE TRIGGER machine_identity AFTER INSERT ON machine WHEN new.identity IS NULL BEGIN
    UPDATE machine SET identity = lower(hex(randomblob(16))), primary_identity = lower(hex(randomblob(16))),
        secondary_identity = lower(hex(randomblob(16))) WHERE id = new.id;
END;

ALTER TABLE visit ADD COLUMN identity TEXT CHECK (length(identity) = 32);
UPDATE visit SET identity = lower(hex(randomblob(16)));
CREATE UNIQUE INDEX visit_by_identity ON visit (identity);
CREATE TRIGGER visit_identity AFTER INSERT ON visit WHEN new.identity IS NULL BEGIN
    UPDATE visit SET identity = lower(hex(randomblob(16))) WHERE id = new.id;
END;

ALTER TABLE belt ADD COLUMN identity TEXT CHECK (length(identity) = 32);
UPDATE belt SET identity = lower(hex(randomblob(16)));
CREATE UNIQUE INDEX belt_by_identity ON belt (identity);
CREATE TRIGGER belt_identity AFTER INSERT ON belt WHEN new.identity IS NULL BEGIN
    UPDATE belt SET identity = lower(hex(randomblob(16))) WHERE id = new.id;
END;

ALTER TABLE person ADD COLUMN identity TEXT CHECK (length(identity) = 32);
UPDATE person SET identity = lower(hex(randomblob(16)));
CREATE UNIQUE INDEX person_by_identity ON person (identity);
CREATE TRIGGER person_identity AFTER INSERT ON person WHEN new.identity IS NULL BEGIN
    UPDATE person SET identity = lower(hex(randomblob(16))) WHERE id = new.id;
END;

ALTER TABLE setup_revision ADD COLUMN identity TEXT CHECK (length(identity) = 32);
UPDATE setup_revision SET identity = lower(hex(randomblob(16)));
CREATE UNIQUE INDEX setup_revision_by_identity ON setup_revision (identity);
CREATE TRIGGER setup_revision_identity AFTER INSERT ON setup_revision WHEN new.identity IS NULL BEGIN
    UPDATE setup_revision SET identity = lower(hex(randomblob(16))) WHERE id = new.id;
END;

ALTER TABLE part ADD COLUMN identity TEXT CHECK (length(identity) = 32);
UPDATE part SET identity = lower(hex(randomblob(16)));
CREATE UNIQUE INDEX part_by_identity ON part (identity);
CREATE TRIGGER part_identity AFTER INSERT ON part WHEN new.identity IS NULL BEGIN
    UPDATE part SET identity = lower(hex(randomblob(16))) WHERE id = new.id;
END;

ALTER TABLE photo ADD COLUMN identity TEXT CHECK (length(identity) = 32);
UPDATE photo SET identity = lower(hex(randomblob(16)));
CREATE UNIQUE INDEX photo_by_identity ON photo (identity);
CREATE TRIGGER photo_identity AFTER INSERT ON photo WHEN new.identity IS NULL BEGIN
    UPDATE photo SET identity = lower(hex(randomblob(16))) WHERE id = new.id;
END;

ALTER TABLE road_test ADD COLUMN identity TEXT CHECK (length(identity) = 32);
UPDATE road_test SET identity = lower(hex(randomblob(16)));
CREATE UNIQUE INDEX road_test_by_identity ON road_test (identity);
CREATE TRIGGER road_test_identity AFTER INSERT ON road_test WHEN new.identity IS NULL BEGIN
    UPDATE road_test SET identity = lower(hex(randomblob(16))) WHERE id = new.id;
END;

-- The hand-over page of a signed visit, as data; what is on it is read from here and from nowhere else.
CREATE TABLE hand_over_page (
    visit_id INTEGER PRIMARY KEY REFERENCES visit,
    document TEXT NOT NULL CHECK (json_valid(document)),
    made_at TEXT NOT NULL
) STRICT;
