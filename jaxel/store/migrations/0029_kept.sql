-- What was backed up, what was changed outside a visit, and complaints as they are searched.
CREATE TABLE backup (
    id INTEGER PRIMARY KEY,
    at TEXT NOT NULL,
    name TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 300),
    size INTEGER NOT NULL CHECK (size > 0),
    machines INTEGER NOT NULL CHECK (machines >= 0),
    visits INTEGER NOT NULL CHECK (visits >= 0)
) STRICT;

-- `row` is the row's key as text, for some tables have names for keys; `name`, what it was called on that day.
CREATE TABLE workshop_log (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    at TEXT NOT NULL,
    by TEXT NOT NULL CHECK (length(by) BETWEEN 1 AND 120),
    place TEXT NOT NULL CHECK (length(place) BETWEEN 1 AND 40),
    row TEXT NOT NULL CHECK (length(row) BETWEEN 1 AND 120),
    name TEXT NOT NULL CHECK (length(name) <= 300),
    field TEXT NOT NULL CHECK (length(field) BETWEEN 1 AND 60),
    was TEXT CHECK (was IS NULL OR json_valid(was)),
    now TEXT CHECK (now IS NULL OR json_valid(now))
) STRICT;
CREATE INDEX workshop_log_of_row ON workshop_log (place, row, id);
CREATE TRIGGER workshop_log_kept BEFORE UPDATE ON workshop_log
BEGIN SELECT RAISE(ABORT, 'the log is never overwritten'); END;
CREATE TRIGGER workshop_log_stays BEFORE DELETE ON workshop_log
BEGIN SELECT RAISE(ABORT, 'the log is never deleted'); END;

CREATE VIRTUAL TABLE complaint_words USING fts5 (complaint, odometer, tokenize = 'trigram');
INSERT INTO complaint_words (rowid, complaint, odometer)
    SELECT visit_id, complaint, coalesce(CAST(CAST(odometer_km AS INTEGER) AS TEXT), '') FROM intake;
CREATE TRIGGER intake_words_begun AFTER INSERT ON intake BEGIN
    INSERT INTO complaint_words (rowid, complaint, odometer)
    VALUES (new.visit_id, new.complaint, coalesce(CAST(CAST(new.odometer_km AS INTEGER) AS TEXT), ''));
END;
CREATE TRIGGER intake_words_changed AFTER UPDATE OF complaint, odometer_km ON intake BEGIN
    UPDATE complaint_words SET complaint = new.complaint,
        odometer = coalesce(CAST(CAST(new.odometer_km AS INTEGER) AS TEXT), '') WHERE rowid = new.visit_id;
END;
CREATE TRIGGER intake_words_gone AFTER DELETE ON intake BEGIN
    DELETE FROM complaint_words WHERE rowid = old.visit_id;
END;

CREATE INDEX strip_with_variants ON strip (visit_id) WHERE variants <> '{}';
