-- Benches that devices send to, what they sent and nobody took yet, with which device a change was read, and which
-- machines are made up: those of the demo, whose truth stand-ins can read.

CREATE TABLE bench (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL UNIQUE CHECK (length(name) BETWEEN 1 AND 60),
    token_digest TEXT NOT NULL CHECK (length(token_digest) = 64),
    made_at TEXT NOT NULL,
    made_by TEXT NOT NULL CHECK (length(made_by) BETWEEN 1 AND 120)
) STRICT;

CREATE TABLE device_reading (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    bench_id INTEGER NOT NULL REFERENCES bench ON DELETE CASCADE,
    instrument TEXT NOT NULL CHECK (length(instrument) BETWEEN 1 AND 40),
    value REAL NOT NULL,
    unit TEXT NOT NULL CHECK (length(unit) BETWEEN 1 AND 12),
    sent_at TEXT NOT NULL
) STRICT;
CREATE INDEX device_reading_of_bench ON device_reading (bench_id, id);

ALTER TABLE visit_log ADD COLUMN instrument TEXT CHECK (length(instrument) BETWEEN 1 AND 40);
ALTER TABLE machine ADD COLUMN made_up INTEGER NOT NULL DEFAULT 0 CHECK (made_up IN (0, 1));

INSERT INTO model_version (version, told) VALUES
    (4, 'bands from stamps of their own, a part''s doubt told by its factor, the study''s shares anew');
