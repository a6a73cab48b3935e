-- The workshop itself: its name, and its people, who are archived and never deleted.

CREATE TABLE workshop (
    id INTEGER PRIMARY KEY CHECK (id = 1),
    name TEXT NOT NULL DEFAULT '' CHECK (length(name) <= 120)
) STRICT;
INSERT INTO workshop (id) VALUES (1);

CREATE TABLE person (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL UNIQUE COLLATE NOCASE CHECK (length(trim(name)) BETWEEN 1 AND 120),
    archived INTEGER NOT NULL DEFAULT 0 CHECK (archived IN (0, 1)),
    added_at TEXT NOT NULL,
    added_by TEXT NOT NULL CHECK (length(added_by) BETWEEN 1 AND 120)
) STRICT;
