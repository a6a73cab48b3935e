-- What runs tell: who rode where, what a rider says of a set-up, the odds an answer was taken up at, and the same pull
-- simulated with and without slip.

ALTER TABLE road_test ADD COLUMN rider TEXT NOT NULL DEFAULT '' CHECK (length(rider) <= 120);
ALTER TABLE road_test ADD COLUMN strip TEXT NOT NULL DEFAULT '' CHECK (length(strip) <= 120);

CREATE TABLE rider_word (
    id INTEGER PRIMARY KEY,
    visit_id INTEGER NOT NULL REFERENCES visit (id) ON DELETE CASCADE,
    revision_id INTEGER NOT NULL REFERENCES setup_revision (id),
    place TEXT NOT NULL CHECK (place IN ('take-up', 'mid', 'top', 'back-shift')),
    word TEXT NOT NULL CHECK (word IN ('better', 'no change', 'worse')),
    note TEXT NOT NULL DEFAULT '' CHECK (length(note) <= 200),
    said_at TEXT NOT NULL
) STRICT;
CREATE INDEX rider_word_of_visit ON rider_word (visit_id);

-- The answer that lies on the tray, with the odds it was shown with; and of a set-up recorded as one, for good, with
-- what was predicted of the change.
ALTER TABLE set_up ADD COLUMN offered TEXT NOT NULL DEFAULT '{}' CHECK (json_valid(offered));
CREATE TABLE accepted_answer (
    revision_id INTEGER PRIMARY KEY REFERENCES setup_revision (id),
    document TEXT NOT NULL CHECK (json_valid(document)),
    foretold TEXT NOT NULL CHECK (json_valid(foretold))
) STRICT;

-- The pull of a log simulated on its set-up as it was recorded, sound and with slip.
CREATE TABLE run_twins (
    road_test_id INTEGER NOT NULL,
    revision_id INTEGER NOT NULL,
    document TEXT NOT NULL CHECK (json_valid(document)),
    PRIMARY KEY (road_test_id, revision_id)
) STRICT;
