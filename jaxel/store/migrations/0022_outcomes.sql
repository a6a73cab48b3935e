-- What a diagnosis came to: of a cause that was ranked, whether it was it.

CREATE TABLE cause_outcome (
    id INTEGER PRIMARY KEY,
    visit_id INTEGER NOT NULL REFERENCES visit (id) ON DELETE CASCADE,
    cause TEXT NOT NULL CHECK (length(cause) <= 40),
    rank INTEGER NOT NULL CHECK (rank BETWEEN 1 AND 40),
    outcome TEXT NOT NULL CHECK (outcome IN ('was it', 'was not')),
    said_at TEXT NOT NULL,
    UNIQUE (visit_id, cause)
) STRICT;
