-- What a set-up was predicted to do, kept with its revision so that a list needs no prediction; and what lists look up.

CREATE TABLE revision_figures (
    revision_id INTEGER PRIMARY KEY REFERENCES setup_revision,
    model_version INTEGER NOT NULL CHECK (model_version >= 1),
    engagement_rpm REAL CHECK (engagement_rpm >= 0),
    shift_rpm REAL CHECK (shift_rpm >= 0),
    fault TEXT NOT NULL DEFAULT ''
) STRICT;

CREATE INDEX setup_revision_of_visit ON setup_revision (visit_id) WHERE visit_id IS NOT NULL;
CREATE INDEX road_test_of_revision ON road_test (revision_id, id);
CREATE INDEX belt_check_of_belt ON belt_check (belt_id);
