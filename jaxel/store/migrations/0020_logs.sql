-- Logs of runs: kept whole, read once, drawn from a pyramid; and roll-ons typed more than once.

ALTER TABLE road_test ADD COLUMN second_roll_on_rpm REAL CHECK (second_roll_on_rpm > 0 AND second_roll_on_rpm <= 30000);
ALTER TABLE road_test ADD COLUMN third_roll_on_rpm REAL CHECK (third_roll_on_rpm > 0 AND third_roll_on_rpm <= 30000);

-- A file on its way in, part by part; gone when it is read, refused or given up.
CREATE TABLE log_upload (
    id INTEGER PRIMARY KEY AUTOINCREMENT, -- a reading is known by it: none is given twice
    road_test_id INTEGER NOT NULL REFERENCES road_test (id) ON DELETE CASCADE,
    name TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 200),
    size INTEGER NOT NULL CHECK (size BETWEEN 1 AND 50000000),
    begun_at TEXT NOT NULL,
    begun_by TEXT NOT NULL
) STRICT;
CREATE INDEX log_upload_of_run ON log_upload (road_test_id);
CREATE TABLE log_upload_part (
    upload_id INTEGER NOT NULL REFERENCES log_upload (id) ON DELETE CASCADE,
    number INTEGER NOT NULL CHECK (number BETWEEN 0 AND 12),
    data BLOB NOT NULL CHECK (length(data) BETWEEN 1 AND 4194304),
    PRIMARY KEY (upload_id, number)
) STRICT;

-- A log as it was sent, by its digest once; its parts are packed (zlib) once there is time for it.
CREATE TABLE log_file (
    digest TEXT PRIMARY KEY CHECK (length(digest) = 64),
    size INTEGER NOT NULL CHECK (size BETWEEN 1 AND 50000000),
    kept_at TEXT NOT NULL
) STRICT;
CREATE TABLE log_file_part (
    digest TEXT NOT NULL REFERENCES log_file (digest),
    number INTEGER NOT NULL CHECK (number BETWEEN 0 AND 12),
    packed INTEGER NOT NULL CHECK (packed IN (0, 1)),
    data BLOB NOT NULL,
    PRIMARY KEY (digest, number)
) STRICT;

-- How a logger names its columns, as a hand said once.
CREATE TABLE logger (
    id INTEGER PRIMARY KEY,
    headings TEXT NOT NULL UNIQUE CHECK (json_valid(headings)),
    document TEXT NOT NULL CHECK (json_valid(document)),
    kept_at TEXT NOT NULL,
    kept_by TEXT NOT NULL
) STRICT;

-- The log of a run: which file, and what its even clock needs beside the traces. A run taken back keeps it and may come
-- back with it, so the run is named and not referred to.
CREATE TABLE run_log (
    road_test_id INTEGER PRIMARY KEY,
    digest TEXT NOT NULL REFERENCES log_file (digest),
    name TEXT NOT NULL CHECK (length(name) BETWEEN 1 AND 200),
    grid TEXT NOT NULL CHECK (json_valid(grid)),
    marks TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(marks)),
    counts INTEGER NOT NULL DEFAULT 1 CHECK (counts IN (0, 1)),
    kept_at TEXT NOT NULL,
    kept_by TEXT NOT NULL
) STRICT;
CREATE INDEX run_log_of_file ON run_log (digest);
CREATE TABLE run_trace (
    road_test_id INTEGER NOT NULL,
    channel TEXT NOT NULL,
    level INTEGER NOT NULL CHECK (level BETWEEN 0 AND 20),
    chunk INTEGER NOT NULL CHECK (chunk >= 0),
    data BLOB NOT NULL,
    PRIMARY KEY (road_test_id, channel, level, chunk)
) STRICT;

-- What a log says in the model's own terms, with marks as they stood and on the set-up as it was recorded.
CREATE TABLE run_counted (
    road_test_id INTEGER NOT NULL,
    revision_id INTEGER NOT NULL,
    marks TEXT NOT NULL,
    document TEXT NOT NULL CHECK (json_valid(document)),
    PRIMARY KEY (road_test_id, revision_id, marks)
) STRICT;

CREATE VIEW ridden AS
SELECT road_test.*, run_log.name AS log_name, run_log.counts AS log_counts,
    run_log.kept_at || run_log.marks AS log_state, iif(run_log.counts = 1, run_counted.document, NULL) AS counted
FROM road_test
LEFT JOIN run_log ON run_log.road_test_id = road_test.id
LEFT JOIN run_counted ON run_counted.road_test_id = road_test.id AND run_counted.marks = run_log.marks
    AND run_counted.revision_id = road_test.revision_id;
