-- Predictions by what they depend on: model version, mechanism and air. A prediction is a fact; it is never changed.

CREATE TABLE prediction (
    key TEXT PRIMARY KEY CHECK (length(key) = 64),
    figures TEXT NOT NULL CHECK (json_valid(figures)),
    document TEXT NOT NULL CHECK (json_valid(document)),
    created_at TEXT NOT NULL
) STRICT, WITHOUT ROWID;
CREATE TRIGGER prediction_kept BEFORE UPDATE ON prediction
BEGIN SELECT RAISE(ABORT, 'a prediction is never changed'); END;
