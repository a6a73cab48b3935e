-- Acts that a browser has asked for, by the token it made: one sent twice, its answer lost, is done once.

CREATE TABLE act (
    token TEXT PRIMARY KEY CHECK (length(token) BETWEEN 8 AND 64),
    made INTEGER,
    at TEXT NOT NULL
) STRICT, WITHOUT ROWID;
